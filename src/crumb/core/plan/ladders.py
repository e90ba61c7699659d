"""Short ladders: from what is secure to what can be reached in the minutes there are."""

from fractions import Fraction
from math import ceil

from crumb.core.mastery.chunk import IN_A_ROW
from crumb.core.plan.model import ChunkState
from crumb.core.plan.rates import pass_seconds
from crumb.core.tempo.ladder import SLOWEST_START, start_tempo

LEAST_TEMPO = int(SLOWEST_START)
MOST_RUNGS = 6
_EASY = 0.8
"""How far into the upper half of what secure tempo may be a ladder starts: who practises learns,
so that the middle lags a little behind."""
_MOST_ABOVE = 0.07
"""However wide that is, never further above secure tempo than this."""
_STRETCH = 1.22
"""Above what should become secure: where it ends; slips end it sooner."""
_FIRST_END = 0.9
"""Of goal: where the ladder of a first meeting ends: it has to find out where somebody stands."""
_CLOSE = 0.9
"""Of goal: from here on the ladder starts half way up."""
SLIPPING = 1.5
"""Passes for each clean one, as goes with work at the edge (our own choice)."""


def rungs_in(chunk: ChunkState, minutes: float, tempo: float) -> int:
    """How many rungs of a clean row the minutes hold, six at most and one at least."""
    seconds = IN_A_ROW * SLIPPING * pass_seconds(chunk.quarters, chunk.beat, tempo)
    held = int(minutes * 60 / seconds)
    return min(max(held, 1), MOST_RUNGS)


def climb(chunk: ChunkState, secure: float | None, reach: float, minutes: float) -> tuple[int, int]:
    """First and last rung.

    Args:
        chunk: for its length and goal, which is never passed, and how sure its tempo is.
        secure: what is secure now, in beats a minute; None at a first meeting.
        reach: what should be secure after the minutes.
        minutes: how many there are.
    """
    goal = whole(chunk.goal)
    if secure is None:
        start = whole(start_tempo(chunk.goal))
        return start, max(round(goal * _FIRST_END), start)
    from_ = secure
    if chunk.high is not None and chunk.secure is not None:
        from_ *= 1 + min(_EASY * max(chunk.high / chunk.secure - 1, 0.0), _MOST_ABOVE)
    start = min(max(round(from_), min(LEAST_TEMPO, goal)), goal)
    if secure >= _CLOSE * goal:  # few rungs are left: no need for small ones
        start = (start + goal) // 2
    end = min(max(round(reach * _STRETCH), start), goal)
    if rungs_in(chunk, minutes, max(start, 1)) == 1:
        start = end = min(max(round(secure), start), end)
    return start, end


def whole(tempo: Fraction) -> int:
    """A tempo as a whole number, no slower than it is."""
    return ceil(tempo)
