"""Musical time as whole numbers, for work that goes over every note of a score."""

from collections.abc import Iterable
from fractions import Fraction
from math import lcm


class Ticks:
    """Quarter notes as whole ticks, as many to a quarter as every one of some times divides into.

    Calling it with a time gives its ticks. A score has few different times and many that are the
    same object, so what was asked before is found by identity; it is kept, so no other takes its
    place.
    """

    def __init__(self, times: Iterable[Fraction]) -> None:
        several = {id(time): time for time in times}
        self.per_quarter = lcm(*{time.denominator for time in several.values()})
        self._known: dict[int, tuple[int, Fraction]] = {}

    def __call__(self, time: Fraction) -> int:
        """A time that ``per_quarter`` divides evenly."""
        known = self._known.get(id(time))
        if known is None:
            count = time.numerator * (self.per_quarter // time.denominator)
            known = self._known[id(time)] = (count, time)
        return known[0]
