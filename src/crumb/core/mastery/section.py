"""How a whole section stands on a chunk: a distribution in words, never a mean alone."""

from collections import Counter

from crumb.core.mastery.levels import AT_TEMPO


def section_standing(levels: list[int]) -> str:
    """A section on a chunk: how many are at tempo, and where its weakest player stands."""
    if not levels:
        return ""
    strong = sum(level >= AT_TEMPO for level in levels)
    said = f"{strong} of {len(levels)} at {AT_TEMPO} or more"
    weakest, count = min(Counter(levels).items())
    return said if weakest >= AT_TEMPO else f"{said}; {count} at {weakest}"
