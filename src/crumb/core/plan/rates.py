"""How quickly a student learns: a prior by load and player, corrected by what came of it so far.

A chunk of usual difficulty wants about ninety passes from 60 % of goal to goal (our own choice: an
etude then takes about a month of twenty minutes a day, and a hard spot of two lines some days,
common practice, no source). What a minute more on the same day adds falls off, so that short blocks
on many chunks beat one long one.
"""

from collections.abc import Mapping, Sequence
from fractions import Fraction
from itertools import pairwise
from math import exp, fsum, log

from crumb.core.drills.model import ADVANCED, BEGINNER
from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan.model import ChunkState, PlanAsk
from crumb.core.tempo.ladder import BREATH_SECONDS

FADING = 12.0
"""Minutes on one chunk in a day after which the next adds a third of what the first did."""
_SHARES = (0.5, 0.5, 0.55, 0.65, 0.78, 1.0, 1.0)
"""Of the goal, by level: what is secure where nobody has counted yet."""

_BREATH = float(BREATH_SECONDS)
_PASSES = 90 / log(1 / 0.6)
_AT = 0.8
"""Of goal: the tempo that passes have on the way to it, on the whole."""
_BY_PLAYER: Mapping[str, float] = {BEGINNER: 1.4, ADVANCED: 0.75}
_LOAD_POWER = 0.7
_TRUST = 30.0
"""Minutes of practice that weigh as much as the prior."""
_LEAST_TOLD = 4.0
"""Minutes of the usual pace that stand beside the practice of each chunk."""
SEAM_MINUTES = 3.0
"""Minutes that it takes to show a seam (our own choice)."""


def pass_seconds(quarters: Fraction, beat: Fraction, tempo: float) -> float:
    """Seconds of one pass, with the breath after it."""
    return beats_seconds(float(quarters / beat), tempo)


def beats_seconds(beats: float, tempo: float) -> float:
    """The same of a pass of so many beats."""
    return beats * 60 / tempo + _BREATH


def start_of(chunk: ChunkState) -> float:
    """The tempo that is secure now, as far as is known."""
    goal = float(chunk.goal)
    if chunk.secure is not None:
        return max(chunk.secure, 0.15 * goal)
    if chunk.sight is not None:
        return min(chunk.sight, goal)
    return goal * _SHARES[chunk.level]


def priors_of(ask: PlanAsk) -> dict[str, float]:
    """Minutes that each chunk takes anybody for a gain of one in the logarithm of its tempo."""
    load = sum(max(c.load, 0.0) for c in ask.chunks) / max(len(ask.chunks), 1) or 1.0
    return {c.id: _prior(ask, c, load) for c in ask.chunks}


def costs(ask: PlanAsk) -> dict[str, float]:
    """The same for this student, by what came of the minutes so far."""
    chunks = ask.chunks
    if not chunks:
        return {}
    priors = priors_of(ask)
    pace = _pace(chunks, priors)
    return {c.id: priors[c.id] * pace * _own(c, priors[c.id] * pace) for c in chunks}


def _prior(ask: PlanAsk, chunk: ChunkState, load: float) -> float:
    harder = min(max(max(chunk.load, 0.0) / load, 0.25), 4.0) ** _LOAD_POWER
    one_pass = pass_seconds(chunk.quarters, chunk.beat, _AT * float(chunk.goal))
    return float(_PASSES * one_pass / 60 * _BY_PLAYER.get(ask.player, 1.0) * harder)


def _pace(chunks: Sequence[ChunkState], priors: dict[str, float]) -> float:
    """The minutes that this student needs for each minute of the prior.

    It is the median of the chunks, weighed by their minutes: a stuck chunk makes no other one dear.
    """
    ratios = sorted(
        ((c.minutes + _LEAST_TOLD) / (priors[c.id] * _gain(c) + _LEAST_TOLD), c.minutes)
        for c in chunks
        if c.minutes > 0
    )
    spent = fsum(minutes for _, minutes in ratios)
    middle, passed = 1.0, 0.0
    for ratio, minutes in ratios:
        middle, passed = ratio, passed + minutes
        if passed >= spent / 2:
            break
    return float(min(max(middle ** (spent / (spent + _TRUST)), 0.3), 4.0))


def _own(chunk: ChunkState, cost: float) -> float:
    ratio = (_TRUST + chunk.minutes) / (_TRUST + cost * _gain(chunk))
    return min(max(ratio, 0.5), 2.5)


def _gain(chunk: ChunkState) -> float:
    """What came of its minutes, as a logarithm."""
    now = start_of(chunk)
    before = now - chunk.gained
    if chunk.minutes <= 0 or before <= 0 or chunk.gained <= 0:
        return 0.0
    return min(log(now / before), 2.0)


def effect(minutes: float) -> float:
    """The effect of minutes on one chunk in a day, in minutes of a fresh start."""
    return FADING * (1 - exp(-minutes / FADING))


def minutes_worth(effective: float) -> float:
    """Minutes in a day that are worth as much as so many fresh ones."""
    share = min(effective / FADING, 0.8)
    return -FADING * log(1 - share)


def seconds_left(ask: PlanAsk) -> Fraction:
    """Seconds that chunks (more where they slipped of late), seams and cold checks still take."""
    cost = costs(ask)
    needs = (left_of(c, cost[c.id]) * (1 + min(sum(c.slips.values()), 20) / 40) for c in ask.chunks)
    checks = sum(c.due is not None and c.due < ask.on for c in ask.chunks)
    return Fraction(round((sum(needs) + SEAM_MINUTES * open_seams(ask) + checks) * 60))


def open_seams(ask: PlanAsk) -> int:
    """How many seams between neighbours are not shown."""
    chunks = ask.chunks
    return sum(b.follows and not (a.seam_out and b.seam_in) for a, b in pairwise(chunks))


def left_of(chunk: ChunkState, cost: float) -> float:
    """Fresh minutes that a chunk still takes to goal; 0 where it stands there."""
    return left_at(float(chunk.goal), start_of(chunk), chunk.level, cost)


def left_at(goal: float, secure: float, level: int, cost: float) -> float:
    """The same of a chunk that stands at a tempo and a level."""
    if level >= AT_TEMPO:
        return 0.0
    return cost * max(log(goal / secure), 0.0) + PROOF


PROOF = 1.5
"""Minutes that showing it takes, once it is there."""
