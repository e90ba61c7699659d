"""A ladder that fits a day: where it starts, how many rungs it has, what others would cost.

Five or six rungs a day, none of them a leap, are common practice, no source; so is a start that
lies under the tempo at which the quickest notes of a variation are as fast as the goal.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import ceil
from typing import Protocol

from crumb.core.drills.minutes import Timed, climb_seconds
from crumb.core.tempo.ladder import SLOWEST, ladder, start_tempo

USUAL_MINUTES = 20
FEWEST, MOST = 4, 6
FINE = Fraction(2)
"""Clicks of the ladder that is climbed in the last stretch."""
_UNDER_BURST = Fraction(9, 10)


class Bursting(Timed, Protocol):
    """A step, as far as its ladder depends on it."""

    @property
    def burst(self) -> Fraction | None:
        """Shortest value over run unit, where it changes the rhythm of a run."""


@dataclass(frozen=True, slots=True)
class Climb:
    """A ladder and what climbing it without a slip takes."""

    step: Fraction
    rungs: tuple[Fraction, ...]
    seconds: Fraction


@dataclass(frozen=True, slots=True)
class Fitted:
    """The ladder that fits the minutes, and those beside it: by twos, and with fewer rungs."""

    climb: Climb
    finer: Climb | None
    shorter: Climb | None


def start_of(steps: Iterable[Bursting], goal: Fraction) -> Fraction:
    """The start tempo of a drill: 60 % of goal, but under the tempo of its bursts (goal speed)."""
    usual = start_tempo(goal)
    bursts = [goal * step.burst * step.pace for step in steps if step.burst is not None]
    if not bursts or usual < min(bursts):
        return usual
    even = Fraction(2 * int(min(bursts) * _UNDER_BURST / 2))
    return max(SLOWEST, min(usual, even))


def fitted(
    steps: Sequence[Timed],
    *,
    start: Fraction,
    goal: Fraction,
    beat: Fraction,
    minutes: int = USUAL_MINUTES,
) -> Fitted:
    """The ladder of five or six rungs that fits some minutes; of four where no other does.

    Args:
        steps: of the drill.
        start: beats a minute of the first rung.
        goal: beats a minute of the last.
        beat: what a tempo counts, in quarter notes.
        minutes: what the day holds for it.

    Raises:
        BadTempo: the tempos make no ladder.
    """
    climbs = [_climb(steps, start, goal, beat, count) for count in range(MOST, FEWEST - 1, -1)]
    inside = [climb for climb in climbs if climb.seconds <= minutes * 60]
    chosen = inside[0] if inside else climbs[-1]
    finer = _stepped(steps, start, goal, beat, FINE)
    return Fitted(
        chosen,
        finer if len(finer.rungs) > len(chosen.rungs) else None,
        _shorter(steps, start, goal, beat, len(chosen.rungs)),
    )


def rungs_within(
    steps: Sequence[Timed], *, rungs: Sequence[Fraction], beat: Fraction, seconds: Fraction
) -> int:
    """How many rungs of a ladder some seconds hold, from its start and without a slip."""
    spent = Fraction(0)
    for count, rung in enumerate(rungs):
        spent += climb_seconds(steps, rungs=[rung], beat=beat)
        if spent > seconds:
            return count
    return len(rungs)


def _climb(
    steps: Sequence[Timed], start: Fraction, goal: Fraction, beat: Fraction, count: int
) -> Climb:
    step = Fraction(max(1, ceil((goal - start) / (count - 1))))
    return _stepped(steps, start, goal, beat, step)


def _stepped(
    steps: Sequence[Timed], start: Fraction, goal: Fraction, beat: Fraction, step: Fraction
) -> Climb:
    rungs = ladder(start=start, goal=goal, step=step)
    return Climb(step, rungs, climb_seconds(steps, rungs=rungs, beat=beat))


def _shorter(
    steps: Sequence[Timed], start: Fraction, goal: Fraction, beat: Fraction, count: int
) -> Climb | None:
    for fewer in range(count - 1, 1, -1):
        climb = _climb(steps, start, goal, beat, fewer)
        if len(climb.rungs) < count:
            return climb
    return None
