"""The cost of a drill: clean repetitions times their length, exact."""

from collections.abc import Iterable, Sequence
from fractions import Fraction
from typing import Protocol

from crumb.core.score.model import ZERO
from crumb.core.tempo.ladder import BREATH_SECONDS, seconds_of


class Timed(Protocol):
    """The facts of a step that its cost depends on."""

    @property
    def repetitions(self) -> int:
        """Clean ones asked for."""

    @property
    def quarters(self) -> Fraction:
        """Length of one."""

    @property
    def pace(self) -> Fraction:
        """Share of the ladder's tempo."""


def cycle_seconds(
    steps: Iterable[Timed],
    *,
    tempo: Fraction,
    beat: Fraction,
    breath: Fraction = BREATH_SECONDS,
) -> Fraction:
    """Seconds of one clean cycle: each step's repetitions at its pace, a breath after each."""
    return sum(
        (
            step.repetitions
            * (seconds_of(step.quarters, tempo=tempo * step.pace, beat=beat) + breath)
            for step in steps
        ),
        ZERO,
    )


def climb_seconds(
    steps: Sequence[Timed],
    *,
    rungs: Iterable[Fraction],
    beat: Fraction,
    breath: Fraction = BREATH_SECONDS,
) -> Fraction:
    """Seconds of a climb without a slip: one cycle on each rung."""
    return sum((cycle_seconds(steps, tempo=rung, beat=beat, breath=breath) for rung in rungs), ZERO)
