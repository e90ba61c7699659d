"""Everything that an import computes from one part alone, without a database."""

import gc
import json
import re
from collections import deque
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from itertools import islice
from typing import Any

from lxml import etree

from crumb.core.errors import NotNotatable, UnreadableFile
from crumb.core.instruments.table import instrument_of
from crumb.core.score.glance import findings, goal_of, main_beat
from crumb.core.score.model import Part
from crumb.core.score.playing import playing_order, playing_seconds
from crumb.core.similarity.fingerprints import sketch
from crumb.core.similarity.model import Sketch
from crumb.core.survey.load import survey
from crumb.formats.engraving import drawn_text, render
from crumb.formats.layout import PAGE
from crumb.formats.musicxml.reader import read_part
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import PartSource
from crumb.store.codecs.facts import PartFacts
from crumb.store.codecs.pages import places_to_json
from crumb.store.codecs.survey import survey_to_json


@dataclass(frozen=True, slots=True)
class Prepared:
    """A part as it is going to be stored."""

    id: str
    name: str
    instrument: str
    attack_count: int
    measure_count: int
    notation: str
    first_page: str
    """What is engraved of it before it is called brought in; empty where there are no notes."""
    facts: PartFacts
    goal: Fraction
    played_on: str
    survey: str
    """JSON, written here so that nobody else need to."""
    sketch: Sketch
    unread: tuple[tuple[str, tuple[str, ...]], ...]
    on_pages: dict[str, Any] | None = None
    """Where its measures are printed, as it is kept."""


def prepare(source: PartSource) -> Prepared:
    """Read a part and work out what is kept of it.

    Raises:
        UnreadableFile: says what is wrong and where.
        NotCuttable: the part must be read with its whole file.
    """
    with uncollected():
        read = source.read()
        part = read.part
        notation = write_part(part)
        first_page = "" if part.is_blank else proved(part, notation)
        instrument, goal = instrument_of(part), goal_of(part)
        found = survey(part, instrument, goal_quarters=goal * main_beat(part))
        return Prepared(
            id=part.id,
            name=part.name,
            instrument=part.instrument,
            attack_count=part.attack_count,
            measure_count=len(part.measures),
            notation=notation,
            first_page=first_page,
            facts=facts_of(part),
            goal=goal,
            played_on=instrument.name,
            survey=json.dumps(survey_to_json(found)),
            sketch=sketch(part),
            unread=read.unread,
            on_pages=places_to_json(part),
        )


_FIRST_PAGE = 8
"""Measures that are engraved before a part is called brought in."""
_MEASURE_ENDS = re.compile("</measure>")


def proved(part: Part, notation: str) -> str:
    """See that what is going to be stored can be read again: all its notes are in it.

    The whole is read by the tree parser, which is many times quicker than making notes of it; its
    first page is read as it will be when it is opened.

    Returns:
        The first page, ready to be engraved.

    Raises:
        UnreadableFile: it cannot be read.
    """
    tree = etree.fromstring(notation.encode())
    found = [_count(tree, what) for what in _COUNTED]
    notes = [note for measure in part.measures for note in measure.notes]
    held = [len(part.measures), len(notes), sum(note.is_rest for note in notes)]
    first = read_part(_first_page(notation).encode())
    if found != held or len(first.measures) != min(len(part.measures), _FIRST_PAGE):
        raise UnreadableFile(f"{part.name} cannot be written down the way Crumb keeps music.")
    return drawn_text(first)


_COUNTED = [etree.XPath(f"count({what})") for what in ("//measure", "//note", "//note/rest")]


def _count(tree: etree._Element, what: etree.XPath) -> int:
    found = what(tree)
    assert isinstance(found, float)
    return int(found)


def _first_page(notation: str) -> str:
    ends = islice(_MEASURE_ENDS.finditer(notation), _FIRST_PAGE)
    last = deque(ends, maxlen=1)[0].end()
    return f"{notation[:last]}</part></score-partwise>"


def engrave_first(part: Prepared) -> None:
    """See that the first page of a part can be engraved. Always called on the same thread.

    Raises:
        UnreadableFile: it cannot.
    """
    if not part.first_page:
        return
    try:
        render(part.first_page, PAGE)
    except NotNotatable as error:
        raise UnreadableFile(f"The first page of {part.name} cannot be engraved.") from error


@contextmanager
def uncollected() -> Iterator[None]:
    """No search for dead cycles meanwhile: of a score's many objects all live to the end."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def facts_of(part: Part) -> PartFacts:
    """A part at a glance: key, meter, tempo, length."""
    first = part.measures[0]
    tempo = next((m.tempo for m in part.measures if m.tempo), None)
    order = playing_order(part)
    return PartFacts(
        key_fifths=first.key.fifths,
        mode=first.key.mode,
        time=first.time.text,
        tempo=float(tempo.per_minute) if tempo else None,
        tempo_beat=str(tempo.beat) if tempo else None,
        measures=len(part.measures),
        last_number=part.measures[-1].number,
        has_pickup=part.has_pickup,
        notes=part.attack_count,
        findings=findings(part),
        transpose=part.transposition.chromatic,
        playing_seconds=float(playing_seconds(part, order, unsaid=main_beat(part) * 100)),
        measures_played=len(order),
    )
