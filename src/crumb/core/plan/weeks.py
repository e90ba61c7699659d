"""The rhythm of a class: each week its focus, due on one weekday, and what was last week's kept up.

The weeks are the same for everybody: they follow from the music, the order and the dates, not from
how a student stands. In the last fifth of them nothing new comes (common practice, no source).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from fractions import Fraction

from crumb.core.mastery.levels import NEW
from crumb.core.plan.learning_order import in_order
from crumb.core.plan.model import PlanAsk
from crumb.core.plan.rates import priors_of

LEAST_DAYS = 3
"""A first week that is shorter goes on to the next due day (our own choice)."""


@dataclass(frozen=True, slots=True)
class Week:
    """From a day to the one it is due on: chunks that are new in it, and those of the week before.

    ``focus`` and ``upkeep`` are ids in the order of learning.
    """

    first: date
    due: date
    focus: tuple[str, ...] = ()
    upkeep: tuple[str, ...] = ()


def weeks_of(ask: PlanAsk, begins: date, weekday: int) -> tuple[Week, ...]:
    """The weeks of a plan that began on a day and is due on a weekday, from Monday (0).

    The last one ends where the plan does, whatever day that is.
    """
    spans = _spans(begins, ask.on, weekday)
    shares = _shared_out(ask, in_order(ask), max(len(spans) - max(len(spans) // 5, 1), 1))
    shares += [()] * (len(spans) - len(shares))
    found = []
    for place, (first, due) in enumerate(spans):
        found.append(Week(first, due, shares[place], shares[place - 1] if place else ()))
    return tuple(found)


def _spans(begins: date, on: date, weekday: int) -> list[tuple[date, date]]:
    due = begins + timedelta(days=(weekday - begins.weekday()) % 7)
    if (due - begins).days < LEAST_DAYS:
        due += timedelta(days=7)
    spans = []
    first = begins
    while due < on:
        spans.append((first, due))
        first, due = due + timedelta(days=1), due + timedelta(days=7)
    if first < on:
        spans.append((first, on))
    return spans


def _shared_out(ask: PlanAsk, ids: Sequence[str], weeks: int) -> list[tuple[str, ...]]:
    """Chunks for each week, so that every week has about as much to learn."""
    takes = priors_of(ask)
    sizes = [Fraction(takes[i]) for i in ids]
    total = sum(sizes, Fraction(0))
    shares: list[list[str]] = [[] for _ in range(weeks)]
    before = Fraction(0)
    for id_, size in zip(ids, sizes, strict=True):
        # A chunk belongs to the week in which its middle falls.
        at = int((before + size / 2) * weeks / total) if total else 0
        shares[min(at, weeks - 1)].append(id_)
        before += size
    return [tuple(share) for share in shares]


def paced(ask: PlanAsk, weeks: Sequence[Week]) -> PlanAsk:
    """The ask in that rhythm: nothing new before its week, last week's looked at once more.

    What somebody held by hand, or has begun already, stays as it is.
    """
    begun = {c.id for c in ask.chunks if c.level > NEW or c.minutes > 0 or c.last is not None}
    held = {i: week.first for week in weeks for i in week.focus if i not in begun}
    again = {i: week.first for week in weeks for i in week.upkeep}
    return replace(ask, held={**held, **ask.held}, again=again)


def week_on(weeks: Sequence[Week], day: date) -> Week | None:
    """The week that a day lies in."""
    return next((week for week in weeks if week.first <= day <= week.due), None)
