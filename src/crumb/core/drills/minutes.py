"""What a drill costs: clean repetitions times their length, exactly."""

from collections.abc import Iterable, Sequence
from fractions import Fraction

from crumb.core.drills.model import Step
from crumb.core.score.model import ZERO
from crumb.core.tempo.ladder import BREATH_SECONDS, seconds_of


def cycle_seconds(
    steps: Iterable[Step],
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
    steps: Sequence[Step],
    *,
    rungs: Iterable[Fraction],
    beat: Fraction,
    breath: Fraction = BREATH_SECONDS,
) -> Fraction:
    """Seconds of a climb without a slip: one cycle on each rung."""
    return sum((cycle_seconds(steps, tempo=rung, beat=beat, breath=breath) for rung in rungs), ZERO)
