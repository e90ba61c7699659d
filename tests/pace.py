"""How fast this machine is just now: what takes time is measured against it, not by the clock."""

from collections.abc import Callable
from fractions import Fraction
from time import process_time


def seconds(work: Callable[[], object], times: int = 1) -> float:
    """Seconds of processor for one call, on average over ``times``."""
    started = process_time()
    for _ in range(times):
        work()
    return (process_time() - started) / times


def _count() -> Fraction:
    return sum((Fraction(i, 16) for i in range(1, 4001)), Fraction(0))


def sums() -> float:
    """Seconds for four thousand sums of fractions: some 6 ms on a machine of 2020."""
    return min(seconds(_count) for _ in range(5))
