"""Run-throughs: once from the start to the end without stopping."""

from math import ceil

from crumb.core.mastery.levels import AT_TEMPO, NOTES
from crumb.core.plan import drill_choice, ladders
from crumb.core.plan.forecast import RUN_FROM
from crumb.core.plan.model import WHOLE, Category, Item
from crumb.core.plan.state import PlanState

_FOR_SOMEBODY = (3, 7)
"""Practice days before the date on which a run-through is for somebody."""


def run_through_items(state: PlanState, place: int, left: int) -> list[Item]:
    """A run-through of all chunks at one tempo, if they have their notes and the minutes allow it.

    In the last fifth of the days, and before that where most chunks are at tempo: each second day
    if it is long. ``place`` is the day's place among the days, ``left`` the minutes of it.
    """
    if not state.chunks or any(one.level < NOTES for one in state.chunks):
        return []
    tempo = _run_tempo(state)
    length = sum(o.beats for o in state.chunks)
    minutes = max(ceil(length / tempo), 1)
    is_late = state.days_left(place) <= max(len(state.days) // 5, 1)
    at_tempo = sum(one.level >= AT_TEMPO for one in state.chunks)
    if not is_late and at_tempo < RUN_FROM * len(state.chunks):
        return []
    if minutes > (left if is_late else left // 2):
        return []
    if not is_late and minutes > left // 3 and state.days[place].toordinal() % 2:
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
