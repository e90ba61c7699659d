"""Passages of a score: stretches that every part has, from letter to letter.

Where letters stand far apart, or there are none, what else is printed divides; what is longer than
a rehearsal takes in hand at once is divided into eights (common practice, no source).
"""

import itertools
from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass

from crumb.core.score.model import ZERO, Part
from crumb.core.score.naming import span_label
from crumb.core.score.position import Position, Span
from crumb.core.split.proposals import by_marks

_LONGEST = 16
_EIGHT = 8


@dataclass(frozen=True, slots=True)
class ScorePassage:
    """Measures ``first`` to ``last`` (indexes, the last one excluded), as one says them."""

    first: int
    last: int
    name: str

    @property
    def span(self) -> Span:
        """From barline to barline."""
        return Span(Position(self.first, ZERO), Position(self.last, ZERO))


def shared_length(parts: Sequence[Part]) -> int:
    """How many measures the parts of a score have; a part on other paper is not asked."""
    counts = Counter(len(part.measures) for part in parts)
    return max(counts, key=lambda count: (counts[count], count), default=0)


def passages(parts: Sequence[Part]) -> tuple[ScorePassage, ...]:
    """The passages of a score, in order, that divide all of it."""
    length = shared_length(parts)
    whole = [part for part in parts if len(part.measures) == length]
    if not whole:
        return ()
    lettered = {m.index for part in whole for m in part.measures if m.rehearsal}
    printed = {edge.at.index for part in whole for edge in by_marks(part)}
    cuts = sorted({0, *lettered, length})
    cuts = _divided(cuts, printed)
    cuts = _in_eights(cuts)
    return tuple(
        ScorePassage(first, last, _name(whole[0], whole, first, last))
        for first, last in itertools.pairwise(cuts)
    )


def _divided(cuts: list[int], printed: set[int]) -> list[int]:
    """What is too long, cut where something is printed."""
    found = set(cuts)
    for first, last in itertools.pairwise(cuts):
        if last - first > _LONGEST:
            found |= {at for at in printed if first < at < last}
    return sorted(found)


def _in_eights(cuts: list[int]) -> list[int]:
    found = set(cuts)
    for first, last in itertools.pairwise(cuts):
        if last - first > _LONGEST:
            found |= set(range(first + _EIGHT, last - _EIGHT // 2 + 1, _EIGHT))
    return sorted(found)


def _name(part: Part, parts: Sequence[Part], first: int, last: int) -> str:
    place = span_label(part, Span(Position(first, ZERO), Position(last, ZERO)))
    letter = next((p.measures[first].rehearsal for p in parts if p.measures[first].rehearsal), "")
    return f"{letter} {place}" if letter else place
