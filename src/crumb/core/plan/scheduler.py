"""Days laid out: what is done at each sitting, in which order, for how long, and why.

Minutes go to what still takes them, in proportion; what stands at its goal gets none but for cold
checks that are due. The numbers are common practice, no source.
"""

from collections.abc import Sequence
from datetime import date

from crumb.core.mastery.chunk import LINKED_SHARE
from crumb.core.plan import drill_choice, ladders
from crumb.core.plan.days import practice_days
from crumb.core.plan.focus import focus_items
from crumb.core.plan.linking import link_items, longer_items
from crumb.core.plan.model import WHOLE, Category, Item, PlanAsk, Session
from crumb.core.plan.run_through import run_through_items
from crumb.core.plan.sittings import sittings
from crumb.core.plan.state import PlanState
from crumb.core.plan.upkeep import has_faded, is_due, unsure_items, upkeep_items
from crumb.core.tempo.ladder import start_tempo


def schedule(ask: PlanAsk, most: int | None = None) -> tuple[Session, ...]:
    """The sessions from today to the day before the date, of so many practice days at most."""
    days = practice_days(ask)
    state = PlanState(ask, days)
    return tuple(session for place in range(len(days[:most])) for session in _day(state, place))


def _day(state: PlanState, place: int) -> list[Session]:
    """One day's sessions, which are then taken as done."""
    day = state.days[place]
    for one in state.chunks:
        one.begin()
    minutes = state.minutes(place)
    warm = _warm_up(state, minutes)
    left = minutes - sum(item.minutes for item in warm)
    due = [one for one in state.chunks if is_due(state, one, day)]
    keep = upkeep_items(state, due, day, left // 2)
    left -= sum(item.minutes for item in keep)
    run = run_through_items(state, place, left)
    left -= sum(item.minutes for item in run)
    spare = run_through_items(state, place, left, for_rest=True)
    links: list[Item] = []
    if state.unfinished(day):  # one seam beside the rest, where both sides bear its tempo
        links = link_items(state, due, left // 2, most=1, least_share=float(LINKED_SHARE))
    left -= sum(item.minutes for item in links)
    focus = focus_items(state, place, left)
    left -= sum(item.minutes for item in focus)
    links += link_items(state, due, left, most=len(state.chunks), met=links)
    left = _free(minutes, warm, keep, run, links, focus)
    busy = {id_ for item in (*focus, *keep, *links) for id_ in item.chunks}
    sure = list(unsure_items(state, busy, day, left))
    left -= sum(item.minutes for item in sure)
    joined = [] if links or run else longer_items(state, due)  # a run-through joins everything
    links += [item for item in joined if item.minutes <= left]
    left = _free(minutes, warm, keep, run, links, focus, sure)
    run = run or [item for item in spare if item.minutes <= left]
    _take_as_done(state, day, links, keep)
    for item in sure:
        state.by_id[item.chunks[0]].practised(item.minutes, item.drill, day)
    items = [*warm, *focus, *links, *keep, *sure, *run]
    return sittings(day, items, state.ask.sessions_a_day)


def _free(minutes: int, *taken: Sequence[Item]) -> int:
    """Minutes of a day that nothing has taken."""
    return minutes - sum(item.minutes for items in taken for item in items)


def _warm_up(state: PlanState, minutes: int) -> list[Item]:
    if not state.ask.warm_up_minutes or not state.chunks:
        return []
    length = min(state.ask.warm_up_minutes, minutes // 3)
    if length <= 0:
        return []
    slowest = min(state.chunks, key=lambda one: one.goal)
    tempo = ladders.whole(start_tempo(slowest.chunk.goal))
    why = "Warm up in the key and with the techniques of today's chunks."
    return [Item((WHOLE,), Category.WARM_UP, drill_choice.WARM_UP, tempo, tempo, length, why)]


def _take_as_done(state: PlanState, day: date, links: Sequence[Item], keep: Sequence[Item]) -> None:
    for item in keep:
        one = state.by_id[item.chunks[0]]
        if has_faded(one):
            one.practised(item.minutes, item.drill, day)
        else:
            one.checked(day)
    for item in links:
        first = next(i for i, one in enumerate(state.chunks) if one.chunk.id == item.chunks[0])
        for place in range(first, first + len(item.chunks) - 1):
            state.seams[place] = True
