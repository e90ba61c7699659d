"""How a student's tempo on a chunk went from day to day, for a picture of it."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from fractions import Fraction

from crumb.core.evidence.model import Evidence
from crumb.core.mastery.folding import Target, folded, nothing, standing_of


@dataclass(frozen=True, slots=True)
class DayStood:
    """Where a student stood in the evening of a day: level, secure tempo and its range, solid.

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
    found: dict[date, DayStood] = {}
    for one in sorted(evidence, key=lambda each: each.order):
        kept = folded(kept, one, target)
        if kept.fold.last is None and kept.fold.heard is None:
            continue
        day = one.day or one.at.date()
        now = standing_of(kept, target)
        known = now.passes > 0
        found[day] = DayStood(
            day,
            now.level,
            now.secure.median if known else None,
            now.secure.low if known else None,
            now.secure.high if known else None,
            now.solid,
        )
    return list(found.values())
