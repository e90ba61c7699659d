"""Shapes of phrases that a table of weights does not see.

Runs into a goal, openings that come back, pickups, and phrases nobody plays in one breath: common
practice, no source.
"""

from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

from crumb.core.split.melody import Melody

LONGEST_MEASURES = 16
"""A phrase of so many measures is never left whole."""
_FEWEST_IN_RUN = 3
_FEWEST_IN_OPENING = 5
_OPENING_AGAIN = 4  # measures before an opening is said to come back
_MOST_IN_PICKUP = 4
_FORBIDDEN = -50.0


def reaches_goal(melody: Melody, i: int) -> bool:
    """Whether a note is what a run of short notes leads to: longer than they, and on a beat."""
    if i < _FEWEST_IN_RUN or melody.onsets[i] > melody.ends[i - 1]:
        return False
    step = melody.onsets[i] - melody.onsets[i - 1]
    if 2 * step > melody.beat or (melody.phases[i] / melody.beat).denominator != 1:
        return False
    run = range(i - _FEWEST_IN_RUN, i)
    even = all(melody.onsets[k + 1] - melody.onsets[k] == step for k in run)
    joined = all(melody.ends[k] == melody.onsets[k + 1] for k in run)
    after = melody.onsets[i + 1] if i + 1 < len(melody) else melody.ends[i]
    return even and joined and after - melody.onsets[i] >= 2 * step


def runs_on(melody: Melody, i: int) -> bool:
    """Whether a note stands inside a run, four or more to the beat, off the barline."""
    if i < 2 or i + 1 >= len(melody) or melody.onsets[i] > melody.ends[i - 1]:
        return False
    step = melody.onsets[i] - melody.onsets[i - 1]
    if melody.phases[i] == 0 or 4 * step > melody.beat:
        return False
    return all(melody.onsets[k + 1] - melody.onsets[k] == step for k in (i - 2, i))


def returning_openings(melody: Melody) -> frozenset[int]:
    """Where the first measure and a half come back note for note, at any pitch, measures later.

    From the first downbeat on: a pickup is often another the second time.
    """
    begin = next((i for i, phase in enumerate(melody.phases) if phase == 0), 0)
    end = melody.onsets[begin] + 3 * melody.measure / 2
    opening = sum(melody.onsets[begin] <= at < end for at in melody.onsets)
    if opening < _FEWEST_IN_OPENING:
        return frozenset()
    first = _shape(melody, begin, opening)
    found, last = [], melody.onsets[begin]
    for i in range(begin + 1, len(melody) - opening + 1):
        if melody.phases[i] != melody.phases[begin]:
            continue
        away = melody.onsets[i] - last
        if away >= _OPENING_AGAIN * melody.measure and _shape(melody, i, opening) == first:
            found.append(i)
            last = melody.onsets[i]
    return frozenset(found)


def _shape(melody: Melody, start: int, count: int) -> list[tuple[Fraction, int]]:
    at, pitch = melody.onsets[start], melody.pitches[start]
    return [(melody.onsets[k] - at, melody.pitches[k] - pitch) for k in range(start, start + count)]


def with_pickups(melody: Melody, starts: Sequence[int], weights: Sequence[float]) -> list[int]:
    """Phrase starts moved back to their pickups.

    A pickup is a few short notes before the barline that come after a rest, or after a note at
    least twice as long as any of them.

    Args:
        melody: what is cut.
        starts: the notes that start a phrase.
        weights: what is printed before note 1, 2, …: a sign at the barline keeps the start there,
            and nothing moves to where no cut may be.
    """
    moved = []
    for start in starts:
        first = start
        if melody.phases[start] == 0 and weights[start - 1] <= 0:
            first = _pickup_before(melody, start)
        free = first == start or weights[first - 1] > _FORBIDDEN
        moved.append(first if free else start)
    return sorted(set(moved))


def _pickup_before(melody: Melody, start: int) -> int:
    longest = Fraction(0)
    for first in range(start - 1, max(start - 1 - _MOST_IN_PICKUP, 0), -1):
        length = melody.onsets[first + 1] - melody.onsets[first]
        longest = max(longest, length)
        reach = melody.onsets[start] - melody.onsets[first]
        if longest > melody.beat or 2 * reach > melody.measure:
            return start
        before = melody.onsets[first] - melody.onsets[first - 1]
        rested = melody.onsets[first] > melody.ends[first - 1]
        as_first = melody.phases[first] == melody.phases[0] != 0
        if rested or (before >= (2 if as_first else 4) * longest and before >= melody.beat):
            return first
    return start


def none_too_long(
    starts: Sequence[int], scores: Sequence[float], measures: Sequence[int]
) -> list[int]:
    """Phrase starts with more of them where a phrase is too long to be learned as one.

    Args:
        starts: the notes that start a phrase.
        scores: log-odds of a phrase before note 1, 2, …
        measures: the measure that each note stands in.
    """
    made = list(starts)
    for first, stop in pairwise([0, *starts, len(measures)]):
        made.extend(_cuts(first, stop, scores, measures))
    return sorted(made)


def _cuts(first: int, stop: int, scores: Sequence[float], measures: Sequence[int]) -> list[int]:
    played = len(set(measures[first:stop]))
    if played < LONGEST_MEASURES:
        return []
    free = [i for i in range(first + 2, stop - 1) if scores[i - 1] > _FORBIDDEN]
    if not free:
        return []
    begin, end = measures[first], measures[stop - 1]

    def worth(i: int) -> float:
        away = abs(2 * measures[i] - begin - end) / (end - begin)
        return scores[i - 1] - 6 * away + 2 * (measures[i] != measures[i - 1])

    cut = max(free, key=worth)
    return [*_cuts(first, cut, scores, measures), cut, *_cuts(cut, stop, scores, measures)]
