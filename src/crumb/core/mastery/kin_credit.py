"""Kin lend: what stands in one chunk starts its twin, and one clean pass as written confirms it."""

from collections.abc import Iterable

from crumb.core.mastery.chunk import Standing
from crumb.core.mastery.levels import STEADY


def lent_level(standing: Standing, twins: Iterable[Standing]) -> int:
    """The level of a chunk with what its confirmed twins lend it.

    A twin at 3 or more gives 3 once the chunk was played clean as written at its tempo, and nothing
    without a repetition; what is shown by the chunk itself stands above it.
    """
    if standing.level >= STEADY or standing.best_single is None or not standing.is_clean_last:
        return standing.level
    tempos = [twin.solid for twin in twins if twin.level >= STEADY and twin.solid is not None]
    confirmed = any(standing.best_single >= tempo for tempo in tempos)
    return STEADY if confirmed else standing.level
