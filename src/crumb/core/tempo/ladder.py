"""Tempo arithmetic: rungs of a ladder, burst tempo, minutes, clicks.

Rules and numbers are common practice, no source; beats per minute are exact fractions.
"""

from fractions import Fraction
from math import ceil

from crumb.core.errors import BadTempo

SLOWEST_START = Fraction(30)
SLOWEST, FASTEST = Fraction(10), Fraction(400)
START_SHARE = Fraction(6, 10)
BREATH_SECONDS = Fraction(2)

# The numbers engraved on pendulum metronomes; common practice, from memory.
TRADITIONAL_SCALE = (
    40, 42, 44, 46, 48, 50, 52, 54, 56, 58, 60, 63, 66, 69, 72, 76, 80, 84, 88, 92, 96, 100, 104,
    108, 112, 116, 120, 126, 132, 138, 144, 152, 160, 168, 176, 184, 192, 200, 208,
)  # fmt: skip

CLICKS, PERCENT, TRADITIONAL, COARSE = "clicks", "percent", "traditional", "coarse"
SCALES = (CLICKS, PERCENT, TRADITIONAL, COARSE)
_USUAL_PERCENT = Fraction(10)
_MOST_RUNGS = 6


def start_tempo(goal: Fraction) -> Fraction:
    """A tempo at which a mistake is almost impossible: 60 % of goal, even, at least 30."""
    even = Fraction(2 * round(goal * START_SHARE / 2))
    return min(goal, max(SLOWEST_START, even))


def ladder(
    *, start: Fraction, goal: Fraction, step: Fraction, scale: str = CLICKS
) -> tuple[Fraction, ...]:
    """The tempos from start to goal, both included, the last rung clipped to the goal.

    Args:
        start: beats per minute of the first rung.
        goal: beats per minute of the last.
        step: beats a minute (clicks), per cent of goal (percent) or marks of the traditional
            metronome scale (traditional) from rung to rung; slow, medium and fast (coarse) need
            none.
        scale: one of ``SCALES``.

    Raises:
        BadTempo: start above goal, a step that does not rise, or tempos nobody can play.
    """
    if scale not in SCALES:
        raise BadTempo(f"A ladder goes by {', '.join(SCALES)}; not by {scale}.")
    if not (SLOWEST <= start <= FASTEST and SLOWEST <= goal <= FASTEST):
        raise BadTempo("A tempo lies between 10 and 400 beats a minute.")
    if start > goal:
        raise BadTempo(f"The ladder starts at {start}, above its goal of {goal}.")
    if step <= 0:
        raise BadTempo("A ladder needs a step larger than nothing.")
    if scale == COARSE:
        middle = Fraction(round((start + goal) / 2))
        return tuple(sorted({start, min(max(middle, start), goal), goal}))
    if scale == TRADITIONAL:
        return _traditional(start, goal, step)
    rise = step if scale == CLICKS else goal * step / 100
    count = ceil((goal - start) / rise) + 1
    if count > 400:
        raise BadTempo("That ladder has more than 400 rungs; take a larger step.")
    rungs = [start + i * rise for i in range(count)]
    rungs[-1] = goal
    if scale == PERCENT:
        rungs = sorted({Fraction(round(rung)) for rung in rungs[1:-1]} | {start, goal})
    return tuple(rungs)


def _traditional(start: Fraction, goal: Fraction, step: Fraction) -> tuple[Fraction, ...]:
    if step.denominator != 1:
        raise BadTempo("On the traditional scale a step is a whole number of marks.")
    marks = [Fraction(m) for m in TRADITIONAL_SCALE if start < m < goal]
    rungs = marks[int(step) - 1 :: int(step)]
    return (start, *rungs, goal) if start < goal else (goal,)


def usual_step(start: Fraction, goal: Fraction, scale: str) -> Fraction | None:
    """The step of a scale that makes a ladder for a day: six rungs at most.

    Ten per cent (60, 70, 80, 90, 100 %), or as few marks as do. None by clicks: which of them fit
    depends on the minutes.
    """
    if scale == PERCENT:
        return _USUAL_PERCENT
    if scale != TRADITIONAL:
        return None
    between = sum(start < mark < goal for mark in TRADITIONAL_SCALE)
    return Fraction(max(ceil(Fraction(between + 1, _MOST_RUNGS - 1)), 1))


def next_rung(rungs: tuple[Fraction, ...], tempo: Fraction) -> Fraction:
    """The first rung above a tempo; the top rung when there is none."""
    return next((rung for rung in rungs if rung > tempo), rungs[-1])


def burst_tempo(*, goal: Fraction, shortest: Fraction, unit: Fraction) -> Fraction:
    """The tempo at which a variation's shortest value is as fast as the run at goal.

    Args:
        goal: goal tempo of the passage.
        shortest: shortest value of the variation in quarter notes.
        unit: note value of the run in quarter notes.
    """
    return goal * shortest / unit


def written(tempo: Fraction) -> str:
    """A tempo in a sentence: whole, or to a tenth of a beat a minute."""
    return f"{round(float(tempo), 1):g}"


def seconds_of(quarters: Fraction, *, tempo: Fraction, beat: Fraction) -> Fraction:
    """How long music lasts: ``tempo`` beats a minute of ``beat`` quarter notes each."""
    return quarters / beat * 60 / tempo


def notes_per_second(*, tempo: Fraction, beat: Fraction, unit: Fraction) -> Fraction:
    """Notes of one value each second at a tempo."""
    return tempo * beat / 60 / unit
