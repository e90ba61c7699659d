"""The three sizes of the check."""

from enum import StrEnum


class Size(StrEnum):
    """How much is checked: what a change touches most, what must hold, or all there is."""

    QUICK = "quick"
    CHECK = "check"
    FULL = "full"
