"""How a student's tempo on a chunk went from day to day, and its passes, for a picture of it."""

from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from crumb.core.evidence.model import Evidence, What
from crumb.core.mastery.chunk import Standing
from crumb.core.mastery.replay import ReplayState, Target, advance_state, nothing, standing_of


@dataclass(frozen=True, slots=True)
class DayStood:
    """A student's standing in the evening of a day: level, secure tempo and its range, solid.

    Secure tempo is None while nothing tells of it.
    """

    day: date
    level: int
    secure: float | None
    low: float | None
    high: float | None
    solid: Fraction | None


def course(target: Target, evidence: Iterable[Evidence]) -> list[DayStood]:
    """The days on which something was played on a chunk, in order."""
    kept = nothing(target)
    evenings: dict[date, ReplayState] = {}
    for one in sorted(evidence, key=lambda each: each.order):
        before, kept = kept, advance_state(kept, one, target)
        if kept is not before:
            evenings[one.day or one.at.date()] = kept
    return [_stood(day, standing_of(evening, target)) for day, evening in evenings.items()]


def _stood(day: date, now: Standing) -> DayStood:
    known = now.passes > 0
    return DayStood(
        day,
        now.level,
        now.secure.median if known else None,
        now.secure.low if known else None,
        now.secure.high if known else None,
        now.solid,
    )


@dataclass(frozen=True, slots=True)
class Passes:
    """How often something went, and how often it slipped, on a day at a tempo."""

    day: date
    tempo: Fraction
    clean: int
    slips: int


def passes(evidence: Iterable[Evidence]) -> list[Passes]:
    """Passes as written, with a click and not doubted, in order: day, tempo, whether clean."""
    counted: Counter[tuple[date, Fraction, bool]] = Counter(
        (one.day or one.at.date(), one.tempo, one.is_clean)
        for one in evidence
        if one.what is What.REPETITION and one.tempo is not None and one.as_written and one.counts
    )
    places = sorted({(day, tempo) for day, tempo, _ in counted})
    return [Passes(*at, counted[(*at, True)], counted[(*at, False)]) for at in places]
