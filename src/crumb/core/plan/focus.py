"""The chunks that a day works on: which, for how long, and how."""

from collections.abc import Sequence
from datetime import date

from crumb.core.mastery.levels import AT_TEMPO, NEW, STEADY
from crumb.core.plan import drill_choice, ladders, rates
from crumb.core.plan.blocks import CAPS, LEAST_BLOCK, block_minutes, cycle_minutes, passes_of
from crumb.core.plan.forecast import MOST_NEW, NEW_A_DAY
from crumb.core.plan.minute_shares import share_minutes
from crumb.core.plan.model import Category, Item, Pin
from crumb.core.plan.projection import Projected
from crumb.core.plan.state import PlanState

_LAST_DAYS = 2
_READING_MINUTES = 2
_CONFIRMING_MINUTES = 2
_LONGEST_FIRST, _LENT = 2.5, 0.2
"""The power of a chunk's remaining minutes in its urgency, and the share that counts while kin is
ahead. Both were chosen on simulated learners."""


def focus_items(state: PlanState, place: int, left: int) -> list[Item]:
    """Work on the chunks that are not at tempo: pinned ones, then the most urgent, then new ones.

    Each chunk gets a whole block, so a day has few chunks. The rest of the ``left`` minutes is
    shared out by need; a chunk gets more than it needs only where minutes would be idle. The
    expected gain counts as reached on later days.
    """
    day = state.days[place]
    pinned = {pin.chunk: pin for pin in state.ask.pins if pin.day == day}
    picked = _picked(state, place, left, pinned)
    if not picked:
        return []
    shares = _shares(state, picked, left)
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
    if minutes < LEAST_BLOCK + _READING_MINUTES:
        return []
    one.done.append((drill, day))
    tempo = ladders.climb(chunk, None, one.secure, minutes)[0]
    why = f"New: names and counts before the first note, at {tempo}."
    ids = (chunk.id,)
    return [Item(ids, Category.FOCUS, drill, tempo, tempo, _READING_MINUTES, why)]


def _picked(state: PlanState, place: int, left: int, pinned: dict[str, Pin]) -> list[Projected]:
    day = state.days[place]
    open_ = state.unfinished(day)
    begun = [one for one in open_ if not one.is_new]
    new = sorted((o for o in open_ if o.is_new), key=lambda one: state.rank[one.chunk.id])
    new = _new(state, new, begun, place)
    begun.sort(key=lambda one: (-_urgency(state, one, day), state.rank[one.chunk.id]))
    must = [state.by_id[id_] for id_ in pinned if id_ in state.by_id]
    first, rest = begun[:1], begun[1:]  # a day of nothing but new chunks leaves the others cold
    wanted = [*must, *(one for one in (*first, *new, *rest) if one not in must)]
    return sorted(_fitting(state, wanted, left), key=lambda one: state.rank[one.chunk.id])


def _fitting(state: PlanState, wanted: Sequence[Projected], left: int) -> list[Projected]:
    """The chunks whose whole blocks fit in the minutes; the first one always does."""
    found: list[Projected] = []
    for one in wanted:
        minutes = _block(state, one)
        if minutes <= left or (not found and left > 0):
            found.append(one)
            left -= minutes
    return found


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
    """How urgent a chunk is today.

    The last chunk decides when the part is ready, so the longest work comes up most often. A chunk
    that has waited comes up sooner.
    """
    waited = max((day - one.last).days, 0.5) if one.last else 1.0
    slips = min(sum(one.chunk.slips.values()), 20)
    lent = _LENT if _follows(state, one) else 1.0
    return float(lent * one.left() ** _LONGEST_FIRST * waited * (1 + slips / 40))


def _follows(state: PlanState, one: Projected) -> bool:
    """Whether a kin chunk is ahead and still learned: what it gains is partly this one's."""
    kin = state.kin_of(one)
    return any(one.share < other.share and other.level < AT_TEMPO for other in kin)


def _block(state: PlanState, one: Projected) -> int:
    """The fewest minutes worth giving to a chunk."""
    return _CONFIRMING_MINUTES if _steady_kin(state, one) is not None else block_minutes(one)


def _shares(state: PlanState, picked: Sequence[Projected], left: int) -> list[int]:
    """Minutes for each chunk: a block, then by need, up to a cap that rises while any are idle."""
    blocks = [min(_block(state, one), left) for one in picked]
    shares: list[int] = []
    for cap in CAPS:
        wanted = [
            block if _steady_kin(state, one) is not None else max(_wanted(one, cap), block)
            for one, block in zip(picked, blocks, strict=True)
        ]
        shares = share_minutes(left, wanted, blocks)
        if sum(shares) >= left:
            break
    return shares


def _wanted(one: Projected, cap: int) -> int:
    """Minutes that a chunk can use today: its need under the first cap, all of any later one."""
    slips = 1 + min(sum(one.chunk.slips.values()), 20) / 40
    need = round(rates.minutes_worth(one.left()) * slips)
    return min(need, cap) if cap == CAPS[0] else cap


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
        fits=lambda drill: cycle_minutes(passes_of(drill), one) <= minutes,
    )
    reach = one.after(minutes)
    secure = None if one.is_new else one.secure
    start, end = ladders.climb(chunk, secure, reach, minutes)
    why = "Pinned to this day" if pinned is not None else picked.why
    said = f"{why}; {_stands(one, end, reach)}."
    if pinned is None and picked.advice:
        said = f"{said} {picked.advice}"
    drill = pinned or picked.drill
    one.practised(minutes, drill, day)
    return Item((chunk.id,), Category.FOCUS, drill, start, end, minutes, said)


def _stands(one: Projected, end: int, reach: float) -> str:
    if one.level == NEW:
        return f"goal {ladders.whole(one.chunk.goal)}"
    now = round(one.secure)
    goal = ladders.whole(one.chunk.goal)
    if end >= goal and reach < goal:
        return f"secure at {now} of {goal}, today as far up as it holds"
    if end >= goal:
        return f"secure at {now} of {goal}: today to goal"
    return f"secure at {now} of {goal}, today towards {end}"
