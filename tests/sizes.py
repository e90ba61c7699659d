"""How much a test tries: little in ``./check quick``, all it has in ``./check full``."""

import os
from collections.abc import Sequence
from typing import TypeVar

from checks.sizes import Size

T = TypeVar("T")

SIZE = Size(os.environ.get("CRUMB_TESTS", Size.CHECK))
"""A run of pytest by itself is like ``./check``."""

_SHARE = {Size.QUICK: 8, Size.CHECK: 5, Size.FULL: 1}


def examples(whole: int) -> int:
    """So many examples of a property, of the number that a full check tries."""
    return max(whole // _SHARE[SIZE], 5)


def sample(whole: Sequence[T]) -> list[T]:
    """All there is in a full check; else each so-many-th, the first one among them."""
    return list(whole[:: _SHARE[SIZE]])
