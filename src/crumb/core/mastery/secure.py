"""Secure tempo: where a student is clean nine times of ten today, with an honest interval.

The chance of a clean pass falls with the logarithm of the tempo along a logistic curve; where the
curve lies (``theta``) and how steep it is are not known, so a belief over a small grid of both is
kept (Bayes, discrete). Before each new day the belief is widened by a random walk, so that what was
long ago fades and improvement is followed. Every pass that was played as written moves it a little.

A lapse, the slip of somebody who could do it, is possible at any tempo. Constants were chosen on
simulated students (``tests/core/simulated.py``), so that the interval holds the truth as often as
it says.
"""

from bisect import bisect_left
from dataclasses import dataclass, replace
from datetime import date
from fractions import Fraction
from functools import lru_cache
from itertools import accumulate
from math import exp, log, sqrt

CLEAN_AT_SECURE = 0.9
ENOUGH = 6
"""With fewer passes than this the interval is told, and that it is not enough yet."""
WIDEST_SHARE = Fraction(1, 3)
"""An interval wider than this share of the goal is not enough yet either."""

_LOWEST, _STEP, _POINTS = log(12.0), 0.045, 80
_SLOPES = (0.05, 0.08, 0.12, 0.18, 0.27)
_SLOPE_WEIGHTS = (0.15, 0.25, 0.28, 0.21, 0.11)
_LAPSE = 0.03
_PRIOR_SHARE, _PRIOR_SPREAD = 0.62, 0.38
_DRIFT = 0.03
"""How far, as a logarithm, a student's tempo wanders from one day to the next."""
_MOST_DAYS = 40
_WITHIN, _LEARNED = 0.009, 0.0013
"""How far it moves within a day from one pass to the next, and how much of that is upward."""
_LOGIT = log(CLEAN_AT_SECURE / (1 - CLEAN_AT_SECURE))
_X = tuple(_LOWEST + _STEP * i for i in range(_POINTS))


@dataclass(frozen=True, slots=True)
class Belief:
    """What is believed of a student on a chunk: weights over the grid, slope by slope.

    ``passes`` is how many repetitions it rests on, ``day`` the day of the last.
    """

    weights: tuple[tuple[float, ...], ...]
    passes: int = 0
    day: date | None = None


@dataclass(frozen=True, slots=True)
class Secure:
    """Secure tempo in beats a minute: the median, and between what it lies four times of five.

    ``enough``: whether that is worth telling without a warning.
    """

    median: float
    low: float
    high: float
    enough: bool


def prior(goal: Fraction) -> Belief:
    """What is believed of a student who has not played the chunk yet.

    Args:
        goal: beats a minute.
    """
    centre = log(float(goal) * _PRIOR_SHARE)
    row = _normalized([exp(-(((x - centre) / _PRIOR_SPREAD) ** 2) / 2) for x in _X])
    return Belief(tuple(tuple(w * share for w in row) for share in _SLOPE_WEIGHTS))


def after(belief: Belief, *, tempo: Fraction, is_clean: bool, day: date) -> Belief:
    """The belief after one pass as written.

    Args:
        belief: before it.
        tempo: beats a minute.
        is_clean: how it went.
        day: the day it was played, no earlier than the last.
    """
    belief = on(belief, day)
    widened = belief.weights
    if belief.passes:
        widened = tuple(_moved(row) for row in belief.weights)
    chances = _chances(float(tempo))
    rows = tuple(
        tuple(w * (c if is_clean else 1 - c) for w, c in zip(row, chance, strict=True))
        for row, chance in zip(widened, chances, strict=True)
    )
    total = sum(map(sum, rows))
    return replace(
        belief,
        weights=tuple(tuple(w / total for w in row) for row in rows),
        passes=belief.passes + 1,
        day=day,
    )


def on(belief: Belief, day: date) -> Belief:
    """The belief as it stands on a later day on which nothing was played yet."""
    if belief.day is None or day <= belief.day:
        return belief
    spread = _DRIFT * sqrt(min((day - belief.day).days, _MOST_DAYS))
    return replace(belief, weights=tuple(_widened(row, spread) for row in belief.weights), day=day)


def clean_at(belief: Belief, tempo: Fraction) -> float:
    """The chance that the next pass as written at a tempo is clean."""
    chances = _chances(float(tempo))
    return sum(
        w * c
        for row, chance in zip(belief.weights, chances, strict=True)
        for w, c in zip(row, chance, strict=True)
    )


def secure_of(belief: Belief, goal: Fraction) -> Secure:
    """Secure tempo by a belief; see :class:`Secure`."""
    columns = zip(*belief.weights, strict=True)
    summed = list(accumulate(float(sum(column)) for column in columns))
    low, median, high = (exp(_quantile(summed, share)) for share in (0.1, 0.5, 0.9))
    is_narrow = high - low <= float(goal * WIDEST_SHARE)
    return Secure(median, low, high, belief.passes >= ENOUGH and is_narrow)


def _quantile(summed: list[float], share: float) -> float:
    place = min(bisect_left(summed, share), _POINTS - 1)
    before = summed[place - 1] if place else 0.0
    inside = (share - before) / max(summed[place] - before, 1e-12)
    return _X[place] + (inside - 0.5) * _STEP


@lru_cache(maxsize=1024)
def _chances(tempo: float) -> tuple[tuple[float, ...], ...]:
    """The chance of a clean pass at a tempo for every point of the grid, slope by slope."""
    at = log(tempo)
    return tuple(
        tuple((1 - _LAPSE) / (1 + exp(-((x - at) / slope + _LOGIT))) for x in _X)
        for slope in _SLOPES
    )


def _normalized(row: list[float]) -> list[float]:
    total = sum(row)
    return [w / total for w in row]


@lru_cache(maxsize=64)
def _kernel(spread: float) -> tuple[float, ...]:
    """Shares of a step to each side, the middle first."""
    reach = min(int(3 * spread / _STEP) + 1, _POINTS - 1)
    half = [exp(-(((i * _STEP) / spread) ** 2) / 2) for i in range(reach + 1)]
    total = half[0] + 2 * sum(half[1:])
    return tuple(w / total for w in half)


def _moved(row: tuple[float, ...]) -> tuple[float, ...]:
    """A row after one more pass: spread by less than a step of the grid, and a little upward."""
    side, up = (_WITHIN / _STEP) ** 2 / 2, _LEARNED / _STEP / 2
    rising, falling, staying = side + up, side - up, 1 - 2 * side
    return (
        (staying + falling) * row[0] + falling * row[1],
        *(
            rising * before + staying * here + falling * later
            for before, here, later in zip(row, row[1:], row[2:], strict=False)
        ),
        (staying + rising) * row[-1] + rising * row[-2],
    )


def _widened(row: tuple[float, ...], spread: float) -> tuple[float, ...]:
    """A row spread out; what would leave the grid stays at its edge."""
    kernel = _kernel(round(spread, 4))
    out = [kernel[0] * w for w in row]
    last = _POINTS - 1
    for i, w in enumerate(row):
        for reach in range(1, len(kernel)):
            share = w * kernel[reach]
            out[max(i - reach, 0)] += share
            out[min(i + reach, last)] += share
    return tuple(out)
