"""Chunks joined: the seam between two, then two, four and eight in one."""

from collections.abc import Sequence
from math import ceil

from crumb.core.mastery.chunk import LINKED_SHARE
from crumb.core.mastery.levels import AT_TEMPO, LINKED, STEADY
from crumb.core.plan import drill_choice
from crumb.core.plan.model import Category, Item
from crumb.core.plan.projection import Projected
from crumb.core.plan.state import PlanState

_SHORTEST_LINK, _LINK_MINUTES = 2, 4
"""Minutes of a seam beside other work, and where minutes are left."""
_CROSSING_FROM, _CROSSING_SHARE = 0.65, 0.85
"""Of goal, and of the slower side: where the first crossings of a seam are tried."""


def link_items(
    state: PlanState,
    due: Sequence[Projected],
    left: int,
    *,
    most: int,
    least_share: float = 0.0,
    met: Sequence[Item] = (),
) -> list[Item]:
    """Seams between neighbours that are steady: the pair nearest to its goals first.

    Args:
        state: of the plan.
        due: chunks whose first try of the day has to be a cold one.
        left: minutes there are.
        most: seams at most.
        least_share: of its goal, that each side has secure.
        met: seams that the day has already.
    """
    cold = {one.chunk.id for one in due}
    there = {item.chunks for item in met}
    items: list[Item] = []
    pairs = list(zip(state.chunks, state.chunks[1:], strict=False))
    pairs = [
        (a, b)
        for (a, b), is_shown, follows in zip(pairs, state.seams, state.follows_on, strict=True)
        if follows
        and not is_shown
        and min(a.level, b.level) >= STEADY
        and min(a.share, b.share) >= least_share
        and not {a.chunk.id, b.chunk.id} & cold
        and (a.chunk.id, b.chunk.id) not in there
    ]
    pairs.sort(key=lambda pair: -min(one.share for one in pair))
    for a, b in pairs:
        minutes = min(_SHORTEST_LINK if most == 1 else _LINK_MINUTES, left)
        if len(items) >= most or minutes < _SHORTEST_LINK:
            break
        left -= minutes
        start, shown = _crossing(a, b)
        why = f"Both sides are steady: the seam, three in a row at {shown} or more."
        ids = (a.chunk.id, b.chunk.id)
        items.append(Item(ids, Category.LINK, drill_choice.SEAMS, start, shown, minutes, why))
    return items


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
