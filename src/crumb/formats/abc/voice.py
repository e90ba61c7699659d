"""A voice of a tune while it is read."""

import re
from dataclasses import dataclass, field, replace
from fractions import Fraction

from crumb.core.score.model import (
    ZERO,
    Barline,
    Change,
    Clef,
    Direction,
    Measure,
    Note,
    Tempo,
    Time,
)
from crumb.formats.abc.fields import (
    KeyField,
)

GOES_ON = "t"
"""Ends the id of a value that only carries on what was struck before."""


@dataclass(slots=True)
class Struck:
    """A note, chord or rest that may still be lengthened or tied."""

    written: Fraction
    notes: list[Note]
    tuplet: tuple[int, int] | None = None
    starts_tuplet: bool = False
    stops_tuplet: bool = False
    ties: bool = False
    slurs: list[str] = field(default_factory=list)


@dataclass(slots=True)
class Voice:
    """A part as far as it was read."""

    id: str
    name: str
    key: KeyField
    meter: Time | None
    unit: Fraction
    clef: Clef
    tempo: Tempo | None = None
    tempo_at_start: Tempo | None = None
    measures: list[Measure] = field(default_factory=list)
    row: list[Struck] = field(default_factory=list)
    graces: list[Note] = field(default_factory=list)
    directions: list[Direction] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    left: list[Barline] = field(default_factory=list)
    marks: list[str] = field(default_factory=list)
    slurs: list[str] = field(default_factory=list)
    said: dict[str, int] = field(default_factory=dict)
    tied: dict[tuple[str, int], Fraction] = field(default_factory=dict)
    tuplet: tuple[int, int, int] | None = None
    broken: Fraction | None = None
    line: list[tuple[int, int]] = field(default_factory=list)
    """Notes of the last line, by measure and place in it: its words go to them."""
    at: Fraction = ZERO
    ending: str = ""


def sounding(struck: Struck) -> Fraction:
    """How long it lasts, its tuplet reckoned in."""
    if struck.tuplet is None:
        return struck.written
    p, q = struck.tuplet
    return struck.written * q / p


def sing(voice: Voice, where: tuple[int, int], syllable: str) -> None:
    """Put a syllable under a note, in a measure that is closed or still open."""
    index, place = where
    if index < len(voice.measures):
        measure = voice.measures[index]
        heads = [
            i
            for i, n in enumerate(measure.notes)
            if not n.grace and not n.in_chord and not n.id.endswith(GOES_ON)
        ]
        if place < len(heads):
            notes = list(measure.notes)
            notes[heads[place]] = replace(notes[heads[place]], lyric=syllable)
            voice.measures[index] = replace(measure, notes=tuple(notes))
    elif place < len(voice.row):
        body = voice.row[place].notes
        head = next(i for i, n in enumerate(body) if not n.grace)
        body[head] = replace(body[head], lyric=syllable)


def sing_line(voice: Voice, text: str) -> None:
    """One line of words under the notes of the line before it."""
    syllables = re.findall(r"[^\s\-_*|]+-?|[_*|]|-", text.replace("\\-", "\u2010"))
    notes = iter(voice.line)
    inside = False  # of a word
    for syllable in syllables:
        if syllable == "|":
            continue
        where = next(notes, None)
        if where is None:
            return
        if syllable not in ("_", "*", "-"):
            text = ("-" if inside else "") + syllable
            sing(voice, where, text.replace("~", " ").replace("\u2010", "-")[:40])
            inside = syllable.endswith("-")
