"""Secure tempo: where a student is clean nine times of ten today, with an honest interval.

The chance of a clean pass falls with the logarithm of the tempo along a logistic curve; where the
curve lies (``theta``) and how steep it is are not known, so a belief over a small grid of both is
kept (Bayes, discrete). Before each new day the belief is widened by a random walk, so that what was
long ago fades and improvement is followed. A pass that was played as written moves it a little
upward, unless it was nearly certain to be clean: at an easy tempo nobody learns what is quicker.

A lapse, the slip of somebody who could do it, is possible at any tempo. Some students lapse more
often, and some mark their own slips as clean: the grid's third axis is the kind of student. Takes
that were measured are believed as they are. The constants were chosen on simulated students
(``tests/core/simulated.py``), so that the interval holds the truth as often as it says.
"""

from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from functools import lru_cache
from math import exp, log, sqrt
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from crumb.core.mastery.levels import AT_TEMPO, STEADY, STEADY_SHARE

CLEAN_AT_SECURE = 0.9
ENOUGH = 6
"""With fewer passes than this the interval is told, and that it is not enough yet."""
WIDEST_SHARE = Fraction(1, 3)
"""An interval wider than this share of the goal is not enough yet either."""

_LOWEST, _STEP, _POINTS = log(12.0), 0.045, 80
_SLOPES = (0.05, 0.08, 0.12, 0.18, 0.27)
_SLOPE_WEIGHTS = (0.15, 0.25, 0.28, 0.21, 0.11)


class _Kind(NamedTuple):
    """A kind of student: its share of students, of lapses, and of own slips marked as clean."""

    weight: float
    lapse: float
    flatters: float


_KINDS = (_Kind(0.7, 0.02, 0.0), _Kind(0.12, 0.12, 0.0), _Kind(0.18, 0.02, 0.4))
_PRIOR_SHARE, _PRIOR_SPREAD = 0.62, 0.38
_DRIFT = 0.026
"""How far, as a logarithm, a student's tempo wanders from one day to the next."""
_MOST_DAYS = 40
_WITHIN, _LEARNED = 0.012, 0.002
"""How far it moves within a day from one pass to the next, and how much of that is upward."""
_DISTRUST, _MISHEARD = 0.15, 0.005
"""The chance that a student's own counts say nothing, and the chance of a wrong ear."""
_HEARING_SPREAD = 0.08
"""The spread of a tempo that is judged by ear, as a logarithm."""
NEARLY_CERTAIN = 0.92
"""A pass that was as sure to be clean teaches nothing, and moves no belief but by how it went."""
ABOVE_TRIED = Fraction(5, 4)
"""No tempo above this multiple of the fastest one tried is told: nobody has seen it."""
_LOGIT = log(CLEAN_AT_SECURE / (1 - CLEAN_AT_SECURE))

Grid = NDArray[np.float64]
_KEPT = np.dtype("<f2")
"""Weights are kept as halves of a word, the greatest of them 1: the grid has few bytes, and what is
kept step by step is what a replay finds."""
_X: Grid = (_LOWEST + _STEP * np.arange(_POINTS)).astype(np.float64)
_SLOPE: Grid = np.tile(np.array(_SLOPES), len(_KINDS))[:, None]
_LAPSES: Grid = np.repeat([kind.lapse for kind in _KINDS], len(_SLOPES))[:, None]
_FLATTERS: Grid = np.repeat([kind.flatters for kind in _KINDS], len(_SLOPES))[:, None]
_ROWS = np.concatenate([kind.weight * np.array(_SLOPE_WEIGHTS) for kind in _KINDS])[:, None]


@dataclass(frozen=True, slots=True)
class Belief:
    """The posterior of a student on a chunk: weights over the grid, by kind and slope.

    ``passes`` is how many repetitions it rests on, ``day`` the day of the last, ``fastest`` the
    fastest tempo that was tried, in beats a minute.
    """

    weights: bytes
    passes: int = 0
    day: date | None = None
    fastest: Fraction | None = None

    @property
    def grid(self) -> Grid:
        """Weights that add up to one."""
        kept = np.frombuffer(self.weights, _KEPT).astype(np.float64)
        grid: Grid = kept.reshape(len(_ROWS), _POINTS) / kept.sum()
        return grid


@dataclass(frozen=True, slots=True)
class Secure:
    """Secure tempo in beats a minute: the median, and between what it lies four times of five.

    ``enough``: whether that is worth telling without a warning. ``at_goal`` is the chance that the
    next pass at goal is clean.
    """

    median: float
    low: float
    high: float
    enough: bool
    at_goal: float


@lru_cache(maxsize=512)
def prior(goal: Fraction) -> Belief:
    """The prior of a student who has not played the chunk yet.

    Args:
        goal: beats a minute.
    """
    centre = log(float(goal) * _PRIOR_SHARE)
    row = np.exp(-(((_X - centre) / _PRIOR_SPREAD) ** 2) / 2)
    return Belief(_kept(_ROWS * row / row.sum()))


def after(
    belief: Belief, *, tempo: Fraction, is_clean: bool, day: date, is_heard: bool = False
) -> Belief:
    """The belief after one pass as written.

    Args:
        belief: before it.
        tempo: beats a minute.
        is_clean: how it went.
        day: the day it was played, no earlier than the last.
        is_heard: whether a measured take says how it went, and not the student.
    """
    grid = _on(belief, day)
    chances = _chances(float(tempo))
    if belief.passes and float((grid * chances).sum()) < NEARLY_CERTAIN:
        grid = grid @ _MOVING
    marked = chances if is_heard else _marked(float(tempo))
    grid = grid * (marked if is_clean else 1 - marked)
    fastest = max(belief.fastest or tempo, tempo)
    return Belief(_kept(grid), belief.passes + 1, day, fastest)


def after_hearing(belief: Belief, *, level: int, goal: Fraction, day: date) -> Belief:
    """The belief after a hearing.

    A hearing weighs at once, above and below. Own counts that promised something else may be wrong:
    the belief then starts again from the hearing.

    Args:
        belief: before it.
        level: of the hearing, 0 to 6.
        goal: beats a minute.
        day: of the hearing.
    """
    at_goal, slower = (_reaches(tempo) for tempo in (goal, goal * STEADY_SHARE))
    if level >= AT_TEMPO:
        heard = at_goal
    elif level >= STEADY:
        heard = slower * (1 - at_goal)
    else:
        heard = 1 - slower
    heard = np.maximum(heard, _MISHEARD)
    usual = prior(goal).grid
    anew = usual if level >= AT_TEMPO else usual * (_FLATTERS > 0)
    anew = anew / anew.sum()
    grid = ((1 - _DISTRUST) * _on(belief, day) + _DISTRUST * anew) * heard
    return Belief(_kept(grid), belief.passes, day, belief.fastest)


def _reaches(tempo: Fraction) -> Grid:
    """The chance that a hearing finds a tempo reached, for each secure tempo of the grid."""
    found: Grid = 1 / (1 + np.exp(-(_X - log(float(tempo))) / _HEARING_SPREAD))
    return found


def clean_at(belief: Belief, tempo: Fraction, today: date | None = None) -> float:
    """The chance that the next pass as written at a tempo is clean."""
    return _chance(_on(belief, today), tempo)


def secure_of(belief: Belief, goal: Fraction, today: date | None = None) -> Secure:
    """Secure tempo by a belief, as it stands on a day (otherwise its last); see :class:`Secure`."""
    grid = _on(belief, today)
    summed = np.cumsum(grid.sum(axis=0))
    low, median, high = (exp(_quantile(summed, share)) for share in (0.1, 0.5, 0.9))
    if belief.fastest is not None:
        median = min(median, float(belief.fastest * ABOVE_TRIED))
        low = min(low, median)
    is_narrow = high - low <= float(goal * WIDEST_SHARE)
    is_enough = belief.passes >= ENOUGH and is_narrow
    return Secure(median, low, high, is_enough, _chance(grid, goal))


def _chance(grid: Grid, tempo: Fraction) -> float:
    return float((grid * _chances(float(tempo))).sum())


def _on(belief: Belief, day: date | None) -> Grid:
    """The grid on a later day on which nothing was played yet."""
    if belief.day is None or day is None or day <= belief.day:
        return belief.grid
    return belief.grid @ _widening(min((day - belief.day).days, _MOST_DAYS))


def _kept(grid: Grid) -> bytes:
    return bytes((grid / grid.max()).astype(_KEPT).tobytes())


def _quantile(summed: Grid, share: float) -> float:
    place = min(int(np.searchsorted(summed, share)), _POINTS - 1)
    before = float(summed[place - 1]) if place else 0.0
    inside = (share - before) / max(float(summed[place]) - before, 1e-12)
    return float(_X[place]) + (inside - 0.5) * _STEP


@lru_cache(maxsize=1024)
def _chances(tempo: float) -> Grid:
    """The chance of a clean pass at a tempo for every point of the grid."""
    rising = (_X - log(tempo)) / _SLOPE + _LOGIT
    found: Grid = (1 - _LAPSES) / (1 + np.exp(-np.clip(rising, -60, 60)))
    return found


@lru_cache(maxsize=1024)
def _marked(tempo: float) -> Grid:
    """The chance that a pass at a tempo is marked clean by who played it."""
    chances = _chances(tempo)
    found: Grid = chances + _FLATTERS * (1 - chances)
    return found


def _matrix(shares: dict[int, float]) -> Grid:
    """What moves each point by so many steps, in shares; what would leave stays at the edge."""
    found = np.zeros((_POINTS, _POINTS))
    for point in range(_POINTS):
        for reach, share in shares.items():
            found[point, min(max(point + reach, 0), _POINTS - 1)] += share
    return found


@lru_cache(maxsize=_MOST_DAYS)
def _widening(days: int) -> Grid:
    """The widening of some days without practice: a random walk."""
    spread = _DRIFT * sqrt(days)
    reach = min(int(3 * spread / _STEP) + 1, _POINTS - 1)
    shares = {i: exp(-(((i * _STEP) / spread) ** 2) / 2) for i in range(-reach, reach + 1)}
    total = sum(shares.values())
    return _matrix({i: share / total for i, share in shares.items()})


def _moving() -> Grid:
    """What one more pass does: spread by less than a step, and a little upward."""
    side, up = (_WITHIN / _STEP) ** 2 / 2, _LEARNED / _STEP / 2
    return _matrix({-1: side - up, 0: 1 - 2 * side, 1: side + up})


_MOVING = _moving()
