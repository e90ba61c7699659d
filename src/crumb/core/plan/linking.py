"""Chunks joined: the seam between two, then two, four and eight in one."""

from collections.abc import Iterator, Sequence
from datetime import date
from math import ceil

from crumb.core.mastery.chunk import LINKED_SHARE
from crumb.core.mastery.levels import AT_TEMPO, LINKED, STEADY
from crumb.core.plan import drill_choice
from crumb.core.plan.model import Category, Item
from crumb.core.plan.projection import Projected
from crumb.core.plan.state import PlanState

_BESIDE_FOCUS, _ALONE = 2, 4
"""Minutes of a seam beside work on chunks, and in minutes that are free."""
_CROSSING_FROM, _CROSSING_SHARE = 0.65, 0.85
"""Of goal, and of the slower side: where the first crossings of a seam are tried."""


def seam_beside_focus(
    state: PlanState, due: Sequence[Projected], minutes: int, day: date
) -> list[Item]:
    """One seam beside work on chunks, once both of its sides are secure at the seam's tempo."""
    pairs = [
        (a, b)
        for a, b in _open_pairs(state, due)
        if min(a.share, b.share) >= LINKED_SHARE and minutes >= _BESIDE_FOCUS
    ]
    if not state.unfinished(day):
        return []
    return [_seam_item(a, b, _BESIDE_FOCUS) for a, b in pairs[:1]]


def spare_seams(
    state: PlanState, due: Sequence[Projected], minutes: int, met: Sequence[Item]
) -> Iterator[Item]:
    """Seams for the minutes that chunks leave free.

    Args:
        state: of the plan.
        due: chunks whose first try of the day has to be a cold one.
        minutes: free.
        met: seams that the day has already.
    """
    there = {item.chunks for item in met}
    for a, b in _open_pairs(state, due):
        if (a.chunk.id, b.chunk.id) in there:
            continue
        if minutes < _BESIDE_FOCUS:
            return
        yield _seam_item(a, b, min(_ALONE, minutes))
        minutes -= _ALONE


def _open_pairs(state: PlanState, due: Sequence[Projected]) -> list[tuple[Projected, Projected]]:
    """Steady neighbours with an open seam; the pair that is nearest to its goals comes first."""
    cold = {one.chunk.id for one in due}
    pairs = zip(state.chunks, state.chunks[1:], strict=False)
    found = [
        (a, b)
        for (a, b), is_shown, follows in zip(pairs, state.seams, state.follows_on, strict=True)
        if follows
        and not is_shown
        and min(a.level, b.level) >= STEADY
        and not {a.chunk.id, b.chunk.id} & cold
    ]
    return sorted(found, key=lambda pair: -min(one.share for one in pair))


def _seam_item(a: Projected, b: Projected, minutes: int) -> Item:
    start, shown = _crossing(a, b)
    why = f"Both sides are steady: the seam, three in a row at {shown} or more."
    ids = (a.chunk.id, b.chunk.id)
    return Item(ids, Category.LINK, drill_choice.SEAMS, start, shown, minutes, why)


def longer_items(state: PlanState, due: Sequence[Projected]) -> list[Item]:
    """Two joined, then four, eight, where all of them are linked: for what time is left over.

    Only while something is not at tempo yet; then run-throughs do the same.
    """
    if min((one.level for one in state.chunks), default=AT_TEMPO) >= AT_TEMPO:
        return []
    cold = {one.chunk.id for one in due}
    rows = [
        row
        for size in (8, 4, 2)
        for row in _rows(state, size)
        if not cold.intersection(one.chunk.id for one in row)
    ]
    if not rows:
        return []
    row = rows[0]
    tempo = round(min(min(one.morning, one.goal) for one in row))
    minutes = max(ceil(2 * sum(one.beats for one in row) / max(tempo, 1)), 1)
    why = f"{len(row)} joined, without stopping, at the tempo of the slowest."
    ids = tuple(one.chunk.id for one in row)
    return [Item(ids, Category.LINK, drill_choice.IN_CONTEXT, tempo, tempo, minutes, why)]


def _rows(state: PlanState, size: int) -> list[list[Projected]]:
    """Neighbours that are all linked, with the seams between them shown; the slowest first."""
    found = []
    for first in range(len(state.chunks) - size + 1):
        row = state.chunks[first : first + size]
        between = slice(first, first + size - 1)
        is_one = all(state.seams[between]) and all(state.follows_on[between])
        if is_one and min(one.level for one in row) >= LINKED:
            found.append(row)
    return sorted(found, key=lambda row: min(one.share for one in row))


def _crossing(a: Projected, b: Projected) -> tuple[int, int]:
    """From what both sides surely bear to the tempo at which a seam is shown.

    What is faster grows where more is joined: in longer links and run-throughs.
    """
    goal = min(a.goal, b.goal)
    shown = ceil(float(LINKED_SHARE) * goal)
    surely = max(_CROSSING_FROM * goal, _CROSSING_SHARE * min(a.morning, b.morning))
    return min(round(surely), shown), shown
