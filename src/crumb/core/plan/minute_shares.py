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


def share_minutes(total: int, wanted: Sequence[int], blocks: Sequence[int]) -> list[int]:
    """Whole minutes: a block each while there are any, in order; the rest in proportion.

    Args:
        total: minutes there are.
        wanted: minutes that each has a use for.
        blocks: the fewest minutes worth giving to each, no more than it wants.
    """
    left = max(total, 0)
    shares = [0] * len(wanted)
    for place, block in enumerate(blocks):
        if block <= left:
            shares[place] = block
            left -= block
    open_ = [want - share if share else 0 for want, share in zip(wanted, shares, strict=True)]
    more = share_seconds(left, open_) if any(open_) else [0] * len(wanted)
    return [share + extra for share, extra in zip(shares, more, strict=True)]


BREAK_AFTER, _LONGEST_STRETCH = 25, 30
"""Minutes at a stretch: a break of five follows the first, and comes before the second is passed
(common practice, no source)."""


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
