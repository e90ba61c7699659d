"""Beats and beams of a measure, equally far apart or not.

An additive signature over eighths or shorter prints its beats: ``3+2/8`` is two of them,
``2+2+3/8`` three (Gould, Behind Bars, on additive meters; from memory). Over quarters and longer
its groups say where the weight lies, and the beat stays the unit (common practice, no source).
"""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property, lru_cache
from itertools import accumulate

from crumb.core.score.model import ZERO, Measure, Time


@dataclass(frozen=True)
class Grid:
    """Lengths in quarter notes that follow each other and begin again when all are gone."""

    lengths: tuple[Fraction, ...]

    @cached_property
    def is_even(self) -> bool:
        """Whether all are equal."""
        return len(set(self.lengths)) == 1

    @cached_property
    def round(self) -> Fraction:
        """All of them together."""
        return sum(self.lengths, ZERO)

    @cached_property
    def _starts(self) -> tuple[Fraction, ...]:
        return tuple(accumulate(self.lengths[:-1], initial=ZERO))

    def slot(self, at: Fraction) -> tuple[int, Fraction, Fraction]:
        """Which one an offset falls into, counted from 0, where that starts and how long it is."""
        if self.is_even:
            length = self.lengths[0]
            place = at // length
            return place, place * length, length
        rounds, into = divmod(at, self.round)
        place = max(i for i, start in enumerate(self._starts) if start <= into)
        start = rounds * self.round + self._starts[place]
        return rounds * len(self.lengths) + place, start, self.lengths[place]

    def start(self, place: int) -> Fraction:
        """Where the one of this number starts, counted from 0."""
        rounds, rest = divmod(place, len(self.lengths))
        return rounds * self.round + self._starts[rest]

    def edges(self, begin: Fraction, end: Fraction) -> Iterator[Fraction]:
        """The starts from ``begin`` up to, not including, ``end``."""
        place, start, _ = self.slot(begin)
        if start < begin:
            place += 1
        while (at := self.start(place)) < end:
            yield at
            place += 1


@lru_cache(maxsize=256)
def beats_of(time: Time) -> Grid:
    """The beats of a meter."""
    return Grid(time.groups)


@lru_cache(maxsize=256)
def beams_of(time: Time) -> Grid:
    """How much music one beam may join: a beat, but never more than a quarter in plain meters."""
    if time.is_uneven or (time.beat > 1 and time.is_compound):
        return Grid(time.groups)
    if time.unit >= 8 and time.numerator == 3:
        return Grid((min(time.length, Fraction(3, 2)),))
    return Grid((Fraction(1),))


def even(length: Fraction) -> Grid:
    """Edges equally far apart."""
    return Grid((length,))


def lead_of(measure: Measure) -> Fraction:
    """Quarter notes missing in front of a measure: of a pickup, or of its own first half."""
    if measure.index or measure.lead:
        return measure.lead
    return max(measure.nominal - measure.length, ZERO)


def beat_starts(measure: Measure) -> tuple[Fraction, ...]:
    """Offsets of the beats that begin in a measure; a pickup's are counted to the barline."""
    lead = lead_of(measure)
    edges = beats_of(measure.time).edges(lead, lead + measure.length)
    return tuple(at - lead for at in edges)
