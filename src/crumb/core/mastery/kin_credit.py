"""Kin lend: what stands in one chunk starts its kin, and one clean pass as written confirms it."""

from collections.abc import Iterable

from crumb.core.mastery.chunk import Standing
from crumb.core.mastery.levels import STEADY


def lent_level(standing: Standing, kin: Iterable[Standing]) -> int:
    """The level of a chunk with what its confirmed kin lend it.

    Kin at 3 or more lends 3 once the chunk was played clean as written at the tempo of the kin, and
    nothing without a repetition, and nothing after a hearing of the chunk itself under 3. A level
    that the chunk shows itself stands above that.

    Args:
        standing: of the chunk itself.
        kin: of each chunk that the director confirmed as its kin.

    Returns:
        a level, 0 to 6.
    """
    if standing.level >= STEADY or standing.best_single is None or not standing.is_clean_last:
        return standing.level
    if standing.heard is not None and standing.heard < STEADY:
        return standing.level
    tempos = [other.solid for other in kin if other.level >= STEADY and other.solid is not None]
    confirmed = any(standing.best_single >= tempo for tempo in tempos)
    return STEADY if confirmed else standing.level
