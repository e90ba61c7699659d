"""The chunks that a day works on: which, for how long, and how."""

from collections.abc import Sequence
from datetime import date

from crumb.core.mastery.levels import AT_TEMPO, NEW, STEADY
from crumb.core.plan import drill_choice, ladders, rates
from crumb.core.plan.forecast import MOST_NEW, NEW_A_DAY
from crumb.core.plan.minute_shares import LEAST_MINUTES, share_minutes
from crumb.core.plan.model import Category, Item, Pin
from crumb.core.plan.projection import Projected
from crumb.core.plan.state import PlanState

MOST_ON_ONE, MOST_IN_HASTE = 6, 12
"""Minutes that one chunk has in a day: more adds little, and is for when days are few."""
_HASTE = 0.5
"""Of the minutes there still are, taken by what is still to do: from here on there is haste."""
_LAST_DAYS = 2
_NEW_MINUTES = 5
_READING_MINUTES = 2
_BLOCK = 2


def focus_items(state: PlanState, place: int, left: int) -> list[Item]:
    """Work on the chunks that are not at tempo: pinned ones, then the most urgent, then new ones.

    ``left`` minutes are shared out by need; what the work brings is taken as reached.
    """
    day = state.days[place]
    pinned = {pin.chunk: pin for pin in state.ask.pins if pin.day == day}
    picked = _picked(state, place, left, pinned)
    if not picked:
        return []
    needs = [_need(state, one) for one in picked]
    shares = share_minutes(left, needs, _most_each(state, place))
    items = []
    for one, minutes in zip(picked, shares, strict=True):
        if minutes:
            pin = pinned.get(one.chunk.id)
            first = [] if pin else _first_meeting(state, one, minutes, day)
            rest = minutes - sum(item.minutes for item in first)
            drill = pin.drill if pin else None
            items += [*first, _work(state, one, rest, place, drill)]
    return items


def _first_meeting(state: PlanState, one: Projected, minutes: int, day: date) -> list[Item]:
    """Names and counts before the first note, where there is time for both."""
    chunk = one.chunk
    drill = drill_choice.reading(chunk, state.ask.instrument, state.ask.dropped)
    if not one.is_new or _steady_kin(state, one) or drill is None:
        return []
    if minutes < LEAST_MINUTES + _READING_MINUTES:
        return []
    one.done.append((drill, day))
    tempo = ladders.climb(chunk, None, one.secure, minutes)[0]
    why = f"New: names and counts before the first note, at {tempo}."
    ids = (chunk.id,)
    return [Item(ids, Category.FOCUS, drill, tempo, tempo, _READING_MINUTES, why)]


def _picked(state: PlanState, place: int, left: int, pinned: dict[str, Pin]) -> list[Projected]:
    day = state.days[place]
    open_ = state.unfinished(day)
    most = max(left // _BLOCK, 1) if left > 0 else 0
    begun = [one for one in open_ if not one.is_new]
    new = sorted((o for o in open_ if o.is_new), key=lambda one: state.rank[one.chunk.id])
    new = _new(state, new, begun, place)
    begun.sort(key=lambda one: (-_urgency(state, one, day), state.rank[one.chunk.id]))
    begun = begun[: max(most - len(new), 1)]
    must = [state.by_id[id_] for id_ in pinned if id_ in state.by_id]
    found = [*must, *(one for one in (*begun, *new) if one not in must)][:most]
    return sorted(found, key=lambda one: state.rank[one.chunk.id])


def _new(
    state: PlanState, new: Sequence[Projected], begun: Sequence[Projected], place: int
) -> list[Projected]:
    """Chunks to begin today; kin of a chunk in work waits for it."""
    if state.days_left(place) <= _LAST_DAYS and len(state.days) > _LAST_DAYS:
        return []
    most = NEW_A_DAY.get(state.ask.player, MOST_NEW)
    working = {one.chunk.id for one in begun if one.level < STEADY}
    found: list[Projected] = []
    later: list[Projected] = []
    for one in new:
        kin = set(one.chunk.kin)
        waits = kin & working or kin & {other.chunk.id for other in found}
        (later if waits else found).append(one)
    return [*found, *later][:most]


def _urgency(state: PlanState, one: Projected, day: date) -> float:
    waited = (day - one.last).days if one.last else 1
    slips = min(sum(one.chunk.slips.values()), 20)
    lent = 0.2 if _follows(state, one) else 1.0
    return lent * one.left() * (1 + 0.3 * waited) * (1 + slips / 40)


def _follows(state: PlanState, one: Projected) -> bool:
    """Whether a kin chunk is ahead and still learned: what it gains is partly this one's."""
    kin = state.kin_of(one)
    return any(one.share < other.share and other.level < AT_TEMPO for other in kin)


def _most_each(state: PlanState, place: int) -> int:
    there_are = state.days_left(place) * max(state.ask.minutes_a_day, 1)
    taken = sum(one.left() for one in state.chunks)
    return MOST_IN_HASTE if taken > _HASTE * there_are else MOST_ON_ONE


def _need(state: PlanState, one: Projected) -> int:
    kin_chunk = _steady_kin(state, one)
    if kin_chunk is not None:
        return 2
    least = _NEW_MINUTES if one.is_new else LEAST_MINUTES
    minutes = rates.minutes_worth(one.left())
    slips = 1 + min(sum(one.chunk.slips.values()), 20) / 40
    return round(max(minutes * slips, least))


def _steady_kin(state: PlanState, one: Projected) -> Projected | None:
    """The kin chunk that stands, of a chunk that nobody has played yet."""
    if not one.is_new:
        return None
    standing = [other for other in state.kin_of(one) if other.level >= STEADY]
    return max(standing, key=lambda other: other.share, default=None)


def _work(state: PlanState, one: Projected, minutes: int, place: int, pinned: str | None) -> Item:
    chunk, day = one.chunk, state.days[place]
    kin_chunk = _steady_kin(state, one)
    if kin_chunk is not None and pinned is None:
        tempo = min(round(kin_chunk.morning), ladders.whole(chunk.goal))
        one.confirmed(tempo, day)
        why = f"The same as {kin_chunk.chunk.name}: one clean pass at its tempo confirms it."
        ids = (chunk.id,)
        return Item(ids, Category.FOCUS, drill_choice.ALONE, tempo, tempo, minutes, why)
    picked = drill_choice.chosen(
        chunk,
        day,
        level=one.level,
        share=one.share,
        done=one.done,
        days_left=state.days_left(place),
        instrument=state.ask.instrument,
        dropped=state.ask.dropped,
        gets_there=one.gets_there(minutes),
    )
    reach = one.after(minutes)
    secure = None if one.is_new else one.secure
    start, end = ladders.climb(chunk, secure, reach, minutes)
    why = "Pinned to this day" if pinned is not None else picked.why
    said = f"{why}; {_stands(one, end)}."
    if pinned is None and picked.advice:
        said = f"{said} {picked.advice}"
    drill = pinned or picked.drill
    one.practised(minutes, drill, day)
    return Item((chunk.id,), Category.FOCUS, drill, start, end, minutes, said)


def _stands(one: Projected, end: int) -> str:
    if one.level == NEW:
        return f"goal {ladders.whole(one.chunk.goal)}"
    now = round(one.secure)
    goal = ladders.whole(one.chunk.goal)
    if end >= goal:
        return f"secure at {now} of {goal}: today to goal"
    return f"secure at {now} of {goal}, today towards {end}"
