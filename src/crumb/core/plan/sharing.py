"""Sharing out a day's minutes so that they add up exactly (common practice, no source)."""

from collections.abc import Sequence
from fractions import Fraction


def share_seconds(total: int, needs: Sequence[Fraction]) -> tuple[int, ...]:
    """Whole seconds for each need, in proportion to it, none more than it needs.

    What one does not need goes to the others; remainders go to the largest fractions first, so
    that the shares add up to ``total`` (or to all that is needed, if that is less).

    Args:
        total: seconds there are.
        needs: seconds each would take, not negative.
    """
    whole_needs = [-int(-need // 1) for need in needs]
    if sum(whole_needs) <= total:
        return tuple(whole_needs)
    everything = sum(needs, Fraction(0))
    exact = [total * need / everything for need in needs]
    shares = [int(share) for share in exact]
    left = total - sum(shares)
    by_remainder = sorted(range(len(needs)), key=lambda i: shares[i] - exact[i])
    for i in by_remainder[:left]:
        shares[i] += 1
    return tuple(shares)
