"""Run-throughs: once from the start to the end without stopping."""

from math import ceil

from crumb.core.mastery.levels import NOTES
from crumb.core.plan import drill_choice, ladders
from crumb.core.plan.model import WHOLE, Category, Item
from crumb.core.plan.state import PlanState

_FOR_SOMEBODY = (3, 7)
"""Practice days before the date on which a run-through is for somebody."""


def run_through_items(
    state: PlanState, place: int, left: int, *, is_spare: bool = False
) -> list[Item]:
    """A run-through of all chunks at one tempo, if they have their notes and the minutes allow it.

    It keeps every chunk in the hands, and crosses every seam. Before the last fifth of the days, a
    long one comes each second day.

    Args:
        state: of the plan.
        place: the day's place among the days.
        left: minutes of it.
        is_spare: whether it only takes minutes that nothing else takes.
    """
    if not state.chunks or any(one.level < NOTES for one in state.chunks):
        return []
    tempo = _run_tempo(state)
    length = sum(o.beats for o in state.chunks)
    minutes = max(ceil(length / tempo), 1)
    is_late = state.days_left(place) <= max(len(state.days) // 5, 1)
    is_free = is_late or is_spare
    if minutes > (left if is_free else left // 2):
        return []
    if not is_free and minutes > left // 3 and state.days[place].toordinal() % 2:
        return []
    why = f"Once through without stopping at {tempo}: notice where it slips, fix nothing."
    if state.days_left(place) in _FOR_SOMEBODY:
        why = f"Play it for a listener: once through at {tempo}, without stopping."
    elif is_late:
        why = f"Last days: once through at {tempo}, as on the day itself."
    return [
        Item(
            (WHOLE,),
            Category.RUN_THROUGH,
            drill_choice.RUN_THROUGH,
            tempo,
            tempo,
            minutes,
            why,
        )
    ]


def _run_tempo(state: PlanState) -> int:
    """One tempo for all of it: that of the slowest chunk, no faster than any goal."""
    slowest = min(one.secure for one in state.chunks)
    most = min(ladders.whole(one.chunk.goal) for one in state.chunks)
    return min(max(round(slowest), min(ladders.LEAST_TEMPO, most)), most)
