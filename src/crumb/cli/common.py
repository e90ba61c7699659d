"""Shared by the verbs: reading files, writing numbers, refusing wrong calls."""

import argparse
import json
import sys
from collections.abc import Callable
from datetime import date
from fractions import Fraction
from pathlib import Path

from crumb.core.errors import CrumbError, UnreadableFile
from crumb.core.instruments.table import instrument_named
from crumb.core.score.glance import goal_of, main_beat
from crumb.core.score.model import Part, Score
from crumb.core.survey.load import survey
from crumb.core.survey.model import Survey
from crumb.formats.reading import read_music

Row = dict[str, object]


def number(value: Fraction) -> int | float:
    """An exact number as JSON writes numbers."""
    return int(value) if value.denominator == 1 else float(value)


def exact(text: str) -> Fraction:
    """An exact number from the command line.

    Raises:
        ArgumentTypeError: it is no number.
    """
    try:
        if len(text) > 12:
            raise ValueError(text)
        value = Fraction(text)
    except (ValueError, ZeroDivisionError) as error:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is not a number") from error
    return value


def day(text: str) -> date:
    """A day from the command line.

    Raises:
        ArgumentTypeError: it is no day.
    """
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise argparse.ArgumentTypeError(f"“{text[:20]}” is no day such as 2026-09-30") from error


def load_score(path: str) -> Score:
    """The music in a file.

    Raises:
        UnreadableFile: says what and where.
    """
    try:
        data = Path(path).read_bytes()
    except OSError as error:
        raise UnreadableFile(f"{path}: {error.strerror or 'cannot be read'}.") from error
    return read_music(data).score


class WrongCall(CrumbError):
    """The command was called in a way it does not know."""


def chosen_part(score: Score, part_id: str | None) -> Part:
    """The part that was named, or the only one.

    Raises:
        WrongCall: there is no such part; names those there are.
    """
    if part_id is None and len(score.parts) == 1:
        return score.parts[0]
    for part in score.parts:
        if part_id is not None and part_id in (part.id, part.name):
            return part
    known = ", ".join(part.id for part in score.parts)
    raise WrongCall(f"Name a part with --part: {known}.")


def surveyed(part: Part, instrument: str | None, tempo: Fraction | None) -> Survey:
    """The survey of a part for an instrument at a tempo; None: its own.

    Raises:
        WrongCall: no such instrument or tempo.
    """
    transpose = part.transposition.chromatic
    played_on = instrument_named(instrument or part.instrument, transpose=transpose)
    if instrument and played_on.family == "other" and instrument.casefold() != "instrument":
        raise WrongCall(f"There is no instrument called {instrument[:40]}.")
    if instrument is None and played_on.family == "other":
        played_on = instrument_named(part.name, transpose=transpose)
    beat = main_beat(part)
    goal = (tempo or goal_of(part)) * beat
    if goal <= 0:
        raise WrongCall("A tempo is above 0.")
    return survey(part, played_on, goal_quarters=goal)


def write_file(path: Path, data: bytes) -> None:
    """Write a file.

    Raises:
        WrongCall: it cannot be written there.
    """
    try:
        path.write_bytes(data)
    except OSError as error:
        raise WrongCall(f"{path}: {error.strerror}.") from error


def answer_lines(answered: Callable[[str], Row]) -> None:
    """Answer each document of standard input as soon as it is known; a bad one says why."""
    for text in sys.stdin:
        if not text.strip():
            continue
        try:
            answer = answered(text)
        except CrumbError as error:
            answer = {"error": error.message}
        sys.stdout.write(json.dumps(answer, ensure_ascii=False) + "\n")
        sys.stdout.flush()
