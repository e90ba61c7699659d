"""Whether a benchmark measures, or only shows in a minute that it still runs (``--tiny``)."""

import os
from typing import TypeVar

T = TypeVar("T")

IS_TINY = os.environ.get("CRUMB_BENCH") == "tiny"


def size(whole: T, tiny: T) -> T:
    """How much of something: all of it where it is measured."""
    return tiny if IS_TINY else whole
