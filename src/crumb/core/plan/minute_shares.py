"""Minutes of a day shared out so that they add up exactly (common practice, no source)."""

from collections.abc import Sequence
from fractions import Fraction

WORTH_STARTING = 120
"""Seconds under which a drill is not worth setting up (our own choice)."""


def share_seconds(
    total: int, needs: Sequence[Fraction | int], *, least: int = 0
) -> tuple[int, ...]:
    """Whole seconds for each need, in proportion to it, none more than it needs.

    Remainders go to the largest fractions first, so that the shares add up to ``total`` (or to
    all that is needed, if that is less). Where a share would be too short to be worth starting,
    the last needs wait for another day and the earlier ones get their time.

    Args:
        total: seconds there are.
        needs: seconds each would take, not negative, first things first.
        least: seconds under which a share is not worth starting, unless no more is needed.
    """
    kept = len(needs)
    shares = _in_proportion(total, needs)
    while kept > 1 and any(
        share < least and share < need for share, need in zip(shares, needs[:kept], strict=False)
    ):
        kept -= 1
        shares = _in_proportion(total, needs[:kept])
    waiting = needs[kept:]
    left = total - sum(shares)
    if waiting and left >= max(least, 1):  # what the first do not need goes to the next
        return (*shares, *share_seconds(left, waiting, least=least))
    return (*shares, *(0 for _ in waiting))


def _in_proportion(total: int, needs: Sequence[Fraction | int]) -> tuple[int, ...]:
    whole_needs = [-int(-need // 1) for need in needs]
    if sum(whole_needs) <= total:
        return tuple(whole_needs)
    everything = sum(needs)
    exact = [divmod(total * need, everything) for need in needs]
    shares = [int(whole) for whole, _ in exact]
    left = total - sum(shares)
    by_remainder = sorted(range(len(needs)), key=lambda i: -exact[i][1])
    for i in by_remainder[:left]:
        shares[i] += 1
    return tuple(shares)


def share_minutes(
    total: int, needs: Sequence[int], most: Sequence[int], blocks: Sequence[int]
) -> list[int]:
    """Whole minutes: its block for each, the first ones first, and the rest by need.

    Args:
        total: minutes there are.
        needs: minutes that each would take.
        most: minutes that each has at most.
        blocks: minutes under which each is not worth setting up; what would have fewer has none.
    """
    left = max(total, 0)
    shares = [0] * len(needs)
    for place, block in enumerate(blocks):
        if block <= left:
            shares[place] = block
            left -= block
    rest = [place for place, share in enumerate(shares) if share]
    while rest and left > 0:
        wanted = [min(needs[place], most[place]) - shares[place] for place in rest]
        found = share_seconds(left, [max(minutes, 0) for minutes in wanted])
        if not any(found):
            break
        for place, minutes in zip(rest, found, strict=True):
            shares[place] += minutes
        left -= sum(found)
    return shares


BREAK_AFTER, _LONGEST_STRETCH = 25, 30
"""Minutes at a stretch after which five are taken off, and that no stretch passes if an item can
wait until after them (common practice, no source)."""


def breaks(minutes: Sequence[int]) -> tuple[bool, ...]:
    """After which items of a sitting five minutes are taken off; never after the last."""
    found = []
    stretch = 0
    for place, length in enumerate(minutes):
        stretch += length
        following = minutes[place + 1] if place < len(minutes) - 1 else 0
        is_long = stretch >= BREAK_AFTER or stretch + following > _LONGEST_STRETCH
        rests = is_long and following > 0
        found.append(rests)
        stretch = 0 if rests else stretch
    return tuple(found)
