"""A section leader's view of the students who agreed: counts, and of few students nothing."""

from collections.abc import Sequence

from crumb.core.mastery.levels import AT_TEMPO

FEWEST = 3
"""Of fewer than these one could guess who has what. Common practice, no source."""


def counted(levels: Sequence[Sequence[int]]) -> tuple[int, ...] | None:
    """How many have each chunk at tempo; None where that would tell who it is.

    Args:
        levels: of each player who agreed, the level on each chunk, in one order.
    """
    if len(levels) < FEWEST:
        return None
    return tuple(sum(level >= AT_TEMPO for level in on) for on in zip(*levels, strict=True))
