"""The slip map: slips note by note, and the stretches to drill.

A stretch is a run of neighbouring notes that each slip more than once, and as often as those that
slip do on average. Numbers are common practice, no source.
"""

from bisect import bisect_right
from collections import Counter
from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import TypeVar

from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span, absolute, position_at, sounds
from crumb.core.score_overview.passages import ScorePassage

Named = TypeVar("Named", bound=Hashable)

LEAST = 3
"""Fewer slips are an accident."""
_AGAIN = 2
"""Once is no habit."""
_GAP = 2
"""Places of two hot notes that still belong together: one quiet note may lie between."""
_MOST_NOTES = 12


@dataclass(frozen=True, slots=True)
class NoteSlips:
    """How often one note slipped."""

    at: Position
    count: int


@dataclass(frozen=True, slots=True)
class Stretch:
    """A run of notes with most of the slips around it: ``count`` slips on ``notes`` notes.

    ``span`` goes from the beat it begins in to the note it leads to.
    """

    span: Span
    count: int
    notes: int


@dataclass(frozen=True, slots=True)
class SlipMap:
    """All slips of a part by note, and its stretches, the one with most slips first."""

    total: int
    of_notes: int
    notes: tuple[NoteSlips, ...]
    stretches: tuple[Stretch, ...]


def slip_map(part: Part, slips: Iterable[Position], beat: Fraction) -> SlipMap:
    """Where some slips fell; a slip between two notes belongs to the earlier.

    Args:
        part: the part.
        slips: places, one for each slip; those outside of the part are left out.
        beat: in quarter notes.
    """
    attacks = sorted({sound.at for sound in sounds(part)})
    if not attacks:
        return SlipMap(0, 0, (), ())
    counts: Counter[int] = Counter()
    for slip in slips:
        if slip.index >= len(part.measures) or slip.at > part.measures[slip.index].length:
            continue
        counts[max(0, bisect_right(attacks, absolute(part, slip)) - 1)] += 1
    total = sum(counts.values())
    hot = sorted(p for p, n in counts.items() if n >= _AGAIN and n * len(counts) >= total)
    found = (_stretch(part, attacks, run, counts, beat) for run in _runs(hot))
    stretches = sorted(
        (one for one in found if one.count >= LEAST), key=lambda s: (-s.count, s.span.start)
    )
    notes = tuple(NoteSlips(position_at(part, attacks[p]), n) for p, n in sorted(counts.items()))
    return SlipMap(total, len(attacks), notes, tuple(stretches))


def by_passage(
    passages: Iterable[ScorePassage], slips: Sequence[tuple[Named, Position]]
) -> list[list[tuple[Named, int]]]:
    """How often each part slipped in each passage, the part with most slips first.

    Args:
        passages: of a piece.
        slips: the part (anything that names it) and place of each.
    """
    return [
        Counter(
            part for part, at in slips if passage.first <= at.index < passage.last
        ).most_common()
        for passage in passages
    ]


def _runs(hot: Sequence[int]) -> list[list[int]]:
    runs: list[list[int]] = [[place] for place in hot[:1]]
    for before, place in pairwise(hot):
        if place - before <= _GAP and place - runs[-1][0] < _MOST_NOTES:
            runs[-1].append(place)
        else:
            runs.append([place])
    return runs


def _stretch(
    part: Part,
    attacks: Sequence[Fraction],
    run: Sequence[int],
    counts: Counter[int],
    beat: Fraction,
) -> Stretch:
    first, last = position_at(part, attacks[run[0]]), run[-1]
    # From the beat that the first one lies in: nobody begins between two beats.
    start = Position(first.index, first.at - first.at % beat)
    after = attacks[last + 1] if last + 1 < len(attacks) else part.length
    return Stretch(
        Span(start, position_at(part, after)),
        sum(counts[place] for place in range(run[0], last + 1)),
        last - run[0] + 1,
    )
