"""All that an import works out of one part by itself; needs no database, so helpers can do it."""

import gc
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from crumb.core.kin.fingerprints import sketch
from crumb.core.kin.model import Sketch
from crumb.core.score.glance import findings, goal_of, main_beat
from crumb.core.score.model import Part
from crumb.core.score.playing import playing_order, playing_seconds
from crumb.core.survey.instruments import Instrument, instrument_named
from crumb.core.survey.load import survey
from crumb.formats.musicxml.writer import write_part
from crumb.formats.reading import PartSource


@dataclass(frozen=True, slots=True)
class Prepared:
    """A part as it is going to be stored."""

    id: str
    name: str
    instrument: str
    attack_count: int
    measure_count: int
    notation: str
    facts: dict[str, Any]
    goal: Fraction
    played_on: str
    survey: str
    """JSON, written here so that nobody else need to."""
    sketch: Sketch
    unread: tuple[tuple[str, tuple[str, ...]], ...]


def prepare(source: PartSource) -> Prepared:
    """Read a part and work out what is kept of it.

    Raises:
        UnreadableFile: says what is wrong and where.
        NotCuttable: the part must be read with its whole file.
    """
    with uncollected():
        read = source.read()
        part = read.part
        played_on, goal = instrument_of(part).name, goal_of(part)
        return Prepared(
            id=part.id,
            name=part.name,
            instrument=part.instrument,
            attack_count=part.attack_count,
            measure_count=len(part.measures),
            notation=write_part(part),
            facts=facts_of(part),
            goal=goal,
            played_on=played_on,
            survey=json.dumps(surveyed(part, played_on, goal * main_beat(part))),
            sketch=sketch(part),
            unread=read.unread,
        )


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


def instrument_of(part: Part) -> Instrument:
    """What a part is played on, by its instrument's name, else its own."""
    found = instrument_named(part.instrument, transpose=part.transposition.chromatic)
    if found.family == "other":
        found = instrument_named(part.name, transpose=part.transposition.chromatic)
    return found


def facts_of(part: Part) -> dict[str, Any]:
    """What a director wants to see of a part at a glance."""
    first = part.measures[0]
    tempo = next((m.tempo for m in part.measures if m.tempo), None)
    order = playing_order(part)
    return {
        "key_fifths": first.key.fifths,
        "mode": first.key.mode,
        "time": first.time.text,
        "tempo": float(tempo.per_minute) if tempo else None,
        "tempo_beat": str(tempo.beat) if tempo else None,
        "measures": len(part.measures),
        "last_number": part.measures[-1].number,
        "has_pickup": part.has_pickup,
        "notes": part.attack_count,
        "findings": findings(part),
        "transpose": part.transposition.chromatic,
        "playing_seconds": float(playing_seconds(part, order, unsaid=main_beat(part) * 100)),
        "measures_played": len(order),
    }


def surveyed(part: Part, played_on: str, goal_quarters: Fraction) -> dict[str, Any]:
    """A survey as it is stored."""
    found = survey(part, instrument_named(played_on), goal_quarters=goal_quarters)
    # A few offsets come over and over, as the same objects.
    places = {id(spot.at.at): spot.at.at for m in found.measures for spot in m.spots}
    said = {key: str(at) for key, at in places.items()}
    return {
        "instrument": found.instrument,
        "goal": str(found.goal_quarters),
        "crux": found.crux,
        "objectives": [
            {"kind": o.kind, "text": o.text, "measures": list(o.measures)} for o in found.objectives
        ],
        "measures": [
            {
                "load": round(m.load, 3),
                "beats": [round(b, 3) for b in m.beats],
                "rate": round(m.notes_per_second, 2),
                "spots": [
                    [said[id(s.at.at)], s.kind, s.why, round(s.weight, 2), s.note_id]
                    for s in m.spots
                ],
            }
            for m in found.measures
        ],
    }
