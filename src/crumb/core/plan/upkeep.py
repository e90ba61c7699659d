"""Cold checks that are due, and what has faded since."""

from collections.abc import Sequence
from datetime import date
from math import ceil

from crumb.core.mastery.chunk import IN_A_ROW
from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan import drill_choice, ladders
from crumb.core.plan.forecast import KEPT_SHARE
from crumb.core.plan.minute_shares import LEAST_MINUTES
from crumb.core.plan.model import Category, Item
from crumb.core.plan.projection import Projected
from crumb.core.plan.state import PlanState


def is_due(state: PlanState, one: Projected, day: date) -> bool:
    """Whether a chunk at tempo wants a cold check today, or has faded."""
    if one.level < AT_TEMPO:
        return False
    again = state.ask.again.get(one.chunk.id)
    if again is not None and again <= day and (one.last is None or one.last < again):
        return True
    return has_faded(one) or (one.due is not None and one.due <= day)


def upkeep_items(state: PlanState, due: Sequence[Projected], day: date, most: int) -> list[Item]:
    """Cold checks in the order in which they fell due, of ``most`` minutes together."""
    items: list[Item] = []
    for one in sorted(due, key=lambda one: (one.due or day, one.chunk.id)):
        goal = start = ladders.whole(one.chunk.goal)
        minutes = max(ceil(IN_A_ROW * one.pass_seconds(goal) / 60), 1)
        why = f"Cold check: the first try of the day, at {goal}, is the one that counts."
        if has_faded(one):
            start = ladders.climb(one.chunk, one.secure, one.goal, LEAST_MINUTES)[0]
            minutes = max(minutes, LEAST_MINUTES)
            why = f"It was at {goal}; now only {round(one.secure)} is secure. Bring it back."
        if minutes > most:
            break
        most -= minutes
        ids = (one.chunk.id,)
        items.append(Item(ids, Category.KEEP, drill_choice.ALONE, start, goal, minutes, why))
    return items


def has_faded(one: Projected) -> bool:
    """Whether a chunk that was shown at goal does not go there surely any more."""
    known = one.chunk.secure is not None
    return known and one.level >= AT_TEMPO and one.share < KEPT_SHARE
