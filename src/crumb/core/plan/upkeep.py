"""Cold checks that are due, and what has faded since."""

from collections.abc import Collection, Iterator, Sequence
from datetime import date
from math import ceil

from crumb.core.mastery.chunk import IN_A_ROW
from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan import drill_choice, ladders
from crumb.core.plan.blocks import LEAST_BLOCK, SHOWING
from crumb.core.plan.forecast import KEPT_SHARE
from crumb.core.plan.model import Category, Item
from crumb.core.plan.projection import Projected
from crumb.core.plan.state import PlanState

_SURE_FROM, _SURE_TO = 0.85, 0.94
"""Shares of goal between which the ladder of an unsure chunk starts."""
_LAST_CHECKS = 3
"""On so many practice days before the date, checks that fall due by the date come early."""
_A_DAY = 0.01
"""A day without a chunk weighs like so much of its goal less."""


def is_due(state: PlanState, one: Projected, place: int) -> bool:
    """Whether a chunk at tempo wants a cold check on a day, or has faded.

    ``place`` is the day's place among the days.
    """
    day = state.days[place]
    if one.level < AT_TEMPO:
        return False
    again = state.ask.again.get(one.chunk.id)
    if again is not None and again <= day and (one.last is None or one.last < again):
        return True
    is_last = state.days_left(place) <= _LAST_CHECKS
    until = state.ask.on if is_last else day  # so that the date itself finds it fresh
    return has_faded(one) or (one.due is not None and one.due <= until)


def upkeep_items(state: PlanState, due: Sequence[Projected], day: date, most: int) -> list[Item]:
    """Cold checks in the order in which they fell due, of ``most`` minutes together."""
    items: list[Item] = []
    for one in sorted(due, key=lambda one: (one.due or day, one.chunk.id)):
        goal = start = ladders.whole(one.chunk.goal)
        minutes = max(ceil(IN_A_ROW * one.pass_seconds(goal) / 60), 1)
        why = f"Cold check: the first try of the day, at {goal}, is the one that counts."
        if has_faded(one):
            start = ladders.climb(one.chunk, one.secure, one.goal, LEAST_BLOCK)[0]
            minutes = max(minutes, LEAST_BLOCK)
            why = f"It was at {goal}; now only {round(one.secure)} is secure. Bring it back."
        if minutes > most:
            break
        most -= minutes
        ids = (one.chunk.id,)
        items.append(Item(ids, Category.KEEP, drill_choice.ALONE, start, goal, minutes, why))
    return items


def unsure_items(state: PlanState, busy: Collection[str], day: date, left: int) -> Iterator[Item]:
    """Chunks at tempo whose interval begins under goal, for minutes that would be idle.

    The least sure comes first; each day without it makes a chunk a little less sure.

    Args:
        state: of the plan.
        busy: ids of chunks that the day has work for already.
        day: which.
        left: minutes there are.
    """
    held = state.ask.held
    unsure = [
        one
        for one in state.chunks
        if one.level >= AT_TEMPO
        and one.low < one.goal
        and one.chunk.id not in busy
        and held.get(one.chunk.id, day) <= day
    ]

    def asks_for_it(one: Projected) -> float:
        """The lower, the sooner a chunk is played."""
        return one.low / one.goal - _A_DAY * (day - (one.last or day)).days

    for one in sorted(unsure, key=asks_for_it):
        if left < SHOWING:
            return
        goal = ladders.whole(one.chunk.goal)
        start = min(max(round(one.low), ceil(_SURE_FROM * goal)), ceil(_SURE_TO * goal))
        minutes = min(LEAST_BLOCK, left)
        left -= minutes
        why = f"Shown at {goal}, but only {start} is sure: climb from there once more."
        ids = (one.chunk.id,)
        yield Item(ids, Category.KEEP, drill_choice.ALONE, start, goal, minutes, why)


def has_faded(one: Projected) -> bool:
    """Whether a chunk that was shown at goal does not go there surely any more."""
    known = one.chunk.secure is not None
    return known and one.level >= AT_TEMPO and one.share < KEPT_SHARE
