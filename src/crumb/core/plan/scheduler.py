"""Days laid out: what is done at each sitting, in which order, for how long, and why.

Minutes go to what still takes them, in proportion; what stands at its goal gets none but for cold
checks that are due. The numbers are common practice, no source.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import date

from crumb.core.plan import drill_choice, ladders
from crumb.core.plan.days import practice_days
from crumb.core.plan.focus import focus_items
from crumb.core.plan.linking import longer_items, seam_beside_focus, spare_seams
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


@dataclass(slots=True)
class _Draft:
    """A day that is being filled: its items, and the minutes that are still free."""

    free: int
    items: list[Item] = field(default_factory=list)

    def add(self, items: Iterable[Item]) -> list[Item]:
        """Put items on the day."""
        added = list(items)
        self.items += added
        self.free -= sum(item.minutes for item in added)
        return added

    def add_if_free(self, items: Iterable[Item]) -> list[Item]:
        """Put those items on the day for which minutes are free."""
        return self.add([item for item in items if item.minutes <= self.free])


def _day(state: PlanState, place: int) -> list[Session]:
    """One day's sessions, which later days take as done."""
    day = state.days[place]
    for one in state.chunks:
        one.begin()
    minutes = state.minutes(place)
    draft = _Draft(minutes)
    draft.add(_warm_up(state, minutes))
    due = [one for one in state.chunks if is_due(state, one, place)]
    keep = draft.add(upkeep_items(state, due, day, draft.free // 2))
    run = draft.add(run_through_items(state, place, draft.free))
    spare_run = run_through_items(state, place, draft.free, is_spare=True)
    links = draft.add(seam_beside_focus(state, due, draft.free // 2, day))
    focus = draft.add(focus_items(state, place, draft.free))
    links += draft.add(spare_seams(state, due, draft.free, links))
    busy = {id_ for item in (*focus, *keep, *links) for id_ in item.chunks}
    busy |= {one.chunk.id for one in due}  # whose first try has to stay a cold one
    unsure = draft.add(unsure_items(state, busy, day, draft.free))
    if not links and not run:  # a run-through joins everything
        links += draft.add_if_free(longer_items(state, due))
    if not run:
        draft.add_if_free(spare_run)
    _take_as_done(state, day, links, keep, unsure)
    items = sorted(draft.items, key=lambda item: _ORDER.index(item.category))
    return sittings(day, items, state.ask.sessions_a_day)


_ORDER = tuple(Category)


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


def _take_as_done(
    state: PlanState,
    day: date,
    links: Sequence[Item],
    keep: Sequence[Item],
    unsure: Sequence[Item],
) -> None:
    for item in keep:
        one = state.by_id[item.chunks[0]]
        if has_faded(one):
            one.practised(item.minutes, item.drill, day)
        else:
            one.checked(day)
    for item in unsure:
        state.by_id[item.chunks[0]].practised(item.minutes, item.drill, day)
    for item in links:
        first = next(i for i, one in enumerate(state.chunks) if one.chunk.id == item.chunks[0])
        for place in range(first, first + len(item.chunks) - 1):
            state.seams[place] = True
