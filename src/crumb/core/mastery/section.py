"""How a whole section stands on a chunk: a distribution in words, never a mean alone."""

from collections import Counter
from collections.abc import Sequence

from crumb.core.mastery.levels import AT_TEMPO


def section_standing(levels: Sequence[int]) -> str:
    """A section on a chunk: how many are at tempo, and where its weakest player stands."""
    if not levels:
        return ""
    counted = Counter(levels)
    strong = sum(count for level, count in counted.items() if level >= AT_TEMPO)
    said = f"{strong} of {len(levels)} at {AT_TEMPO} or more"
    weakest, count = min(counted.items())
    return said if weakest >= AT_TEMPO else f"{said}; {count} at {weakest}"
