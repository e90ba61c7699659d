"""Phrases of a melody: the likeliest way to cut it, all cuts weighed together.

A place is judged by what stands around it, a phrase by its size, and two neighbours by whether they
are alike; dynamic programming finds the best whole (a semi-Markov model). All weights are learned:
see ``phrase_weights``.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import lcm

from crumb.core.split.melody import Melody
from crumb.core.split.phrase_features import NAMES, rows

LONGEST = 24
"""Phrase sizes above this count as this."""
_PRUNED = -5.0  # log-odds under which a place is not considered
_SIZES = (2, 3, 4, 6, 8, 10, 12, 14, 16, 20, 24, 32)  # quarters of a measure
_SIZE_PLACES = {size: place for place, size in enumerate(_SIZES)}
MEASURES = (*(f"{size / 4:g}" for size in _SIZES), "uneven", "longer")


@dataclass(frozen=True, slots=True)
class Weights:
    """The learned table. ``local`` follows ``phrase_features.NAMES``, ``measures`` ``MEASURES``.

    ``notes`` weighs a phrase of 1, 2, … ``LONGEST`` notes; ``alike`` neighbours of equal length, of
    half or double length, of the same rhythm.
    """

    bias: float
    local: tuple[float, ...]
    notes: tuple[float, ...]
    measures: tuple[float, ...]
    alike: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Clock:
    """A melody's onsets as whole ticks, its end last, so that millions of comparisons are cheap."""

    onsets: tuple[int, ...]
    measure: int
    beat: int


def clock_of(melody: Melody) -> Clock:
    """Ticks that every onset, the measure and the beat divide into."""
    times = (*melody.onsets, melody.ends[-1], melody.measure, melody.beat)
    unit = lcm(*(time.denominator for time in times))
    *onsets, measure, beat = (int(time * unit) for time in times)
    return Clock(tuple(onsets), measure, beat)


def size_of(clock: Clock, first: int, stop: int) -> int:
    """Notes of a phrase, two a beat at most: many short notes do not make a phrase long."""
    span = clock.onsets[stop] - clock.onsets[first]
    halves = (4 * span + clock.beat) // (2 * clock.beat)
    return max(1, min(stop - first, halves, LONGEST))


def measures_of(clock: Clock, first: int, stop: int) -> int:
    """Which entry of ``MEASURES`` a phrase's length is."""
    quarters, rest = divmod(4 * (clock.onsets[stop] - clock.onsets[first]), clock.measure)
    if rest == 0 and quarters in _SIZE_PLACES:
        return _SIZE_PLACES[quarters]
    return len(_SIZES) + (quarters >= _SIZES[-1])


def likeness(clock: Clock, first: int, middle: int, stop: int) -> tuple[bool, bool, bool]:
    """How two neighbouring phrases are alike: equal, half or double length, same rhythm."""
    onsets = clock.onsets
    one, two = onsets[middle] - onsets[first], onsets[stop] - onsets[middle]
    same = middle - first == stop - middle and all(
        onsets[first + k] - onsets[first] == onsets[middle + k] - onsets[middle]
        for k in range(1, stop - middle)
    )
    return one == two, one == 2 * two or two == 2 * one, same


def local_scores(melody: Melody, weights: Weights) -> list[float]:
    """Log-odds of a phrase start before note 1, 2, … by what stands around it alone."""
    return [
        weights.bias + sum(w * v for w, v in zip(weights.local, row, strict=True) if v)
        for row in rows(melody)
    ]


def phrase_starts(
    melody: Melody,
    weights: Weights,
    *,
    scores: Sequence[float] | None = None,
    keep: frozenset[int] = frozenset(),
) -> list[int]:
    """Indexes of the notes that start a phrase, the first note apart.

    Args:
        melody: what is cut.
        weights: the learned table.
        scores: log-odds of each place, if they were worked out (and bent) before.
        keep: places that are weighed even if nothing speaks for them.
    """
    count = len(melody)
    if count < 2:
        return []
    odds = local_scores(melody, weights) if scores is None else scores
    clock = clock_of(melody)
    cuts = [0, *(i for i in range(1, count) if odds[i - 1] > _PRUNED or i in keep), count]
    kin = _Kin(clock, cuts)
    best: list[dict[int, tuple[float, int]]] = [{} for _ in cuts]
    best[0][-1] = (0.0, -1)
    ranked: list[list[tuple[float, int]]] = [[(0.0, -1)]]
    for b in range(1, len(cuts)):
        gain = odds[cuts[b] - 1] if cuts[b] < count else 0.0
        for a in range(b - 1, -1, -1):
            size = size_of(clock, cuts[a], cuts[b])
            if size >= LONGEST and a < b - 1 and cuts[b] - cuts[a] > 4 * LONGEST:
                break
            own = gain + weights.notes[size - 1]
            own += weights.measures[measures_of(clock, cuts[a], cuts[b])]
            alike = [before for before in kin.before(a, b) if before in best[a]]
            found = [
                (best[a][c][0] + own + _bonus(clock, cuts[c], cuts[a], cuts[b], weights), c)
                for c in alike
            ]
            # Of all the others only the best can win: nothing is added to any of them.
            plain = next(((score, c) for score, c in ranked[a] if c not in alike), None)
            if plain is not None:
                found.append((plain[0] + own, plain[1]))
            if found:
                best[b][a] = max(found)
        ranked.append(sorted(((score, a) for a, (score, _) in best[b].items()), reverse=True))
    return _walk_back(cuts, best)


class _Kin:
    """Where a phrase has to start, so that it may be like the one after it."""

    def __init__(self, clock: Clock, cuts: Sequence[int]) -> None:
        self._clock, self._cuts = clock, cuts
        self._by_note = {note: place for place, note in enumerate(cuts)}
        self._by_onset: dict[int, list[int]] = {}
        for place, note in enumerate(cuts):
            self._by_onset.setdefault(clock.onsets[note], []).append(place)

    def before(self, a: int, b: int) -> set[int]:
        """Places of starts with which the length or the count of notes is that of ``a`` to ``b``.

        Or half of its length, or twice it: nothing else can be alike.
        """
        onsets, cuts = self._clock.onsets, self._cuts
        here, length = onsets[cuts[a]], onsets[cuts[b]] - onsets[cuts[a]]
        starts = [here - length, here - 2 * length]
        if length % 2 == 0:
            starts.append(here - length // 2)
        found = {place for start in starts for place in self._by_onset.get(start, ())}
        count = self._by_note.get(2 * cuts[a] - cuts[b])
        return found if count is None else found | {count}


def _bonus(clock: Clock, first: int, middle: int, stop: int, weights: Weights) -> float:
    equal, double, rhythm = weights.alike
    alike = likeness(clock, first, middle, stop)
    return alike[0] * equal + alike[1] * double + alike[2] * rhythm


def _walk_back(cuts: list[int], best: list[dict[int, tuple[float, int]]]) -> list[int]:
    found = []
    b = len(cuts) - 1
    a = max(best[b], key=lambda place: best[b][place][0])
    while a > 0:
        found.append(cuts[a])
        a, b = best[b][a][1], a
    return found[::-1]


def explained(row: Sequence[float]) -> dict[str, float]:
    """A row of features by name."""
    return dict(zip(NAMES, row, strict=True))
