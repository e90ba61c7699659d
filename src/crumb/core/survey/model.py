"""The model of a survey: load by beat and measure, spots with their reasons, the crux."""

from dataclasses import dataclass
from fractions import Fraction
from typing import NamedTuple

from crumb.core.score.position import Position


class Spot(NamedTuple):
    """A place to look at: what kind, why in the player's words, and what it weighs."""

    at: Position
    kind: str
    why: str
    weight: float = 0.0
    note_id: str = ""


@dataclass(frozen=True, slots=True)
class MeasureLoad:
    """How hard a measure is. Loads have no unit: they compare places of one part."""

    index: int
    number: str
    load: float
    beats: tuple[float, ...]
    notes_per_second: float
    spots: tuple[Spot, ...]


@dataclass(frozen=True, slots=True)
class Objective:
    """An objective: a kind, a sentence, the measures (indexes) that ask for it."""

    kind: str
    text: str
    measures: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Survey:
    """A part read for one instrument and goal tempo (``goal`` in quarter notes a minute)."""

    instrument: str
    goal_quarters: Fraction
    measures: tuple[MeasureLoad, ...]
    crux: int
    objectives: tuple[Objective, ...]
