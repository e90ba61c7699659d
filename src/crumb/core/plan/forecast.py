"""The chance to be ready by a date, and the range of days: many students like this one, simulated.

Each draw is a student whose start and pace lie where the evidence leaves room for them. One draw in
four slows down near goal, for no evidence tells beforehand who will. All of them practise on as
large a share of days as this student did, and days go by as the plan shares minutes. Draws are the
same for every question, so that answers compare.
"""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date, timedelta
from functools import lru_cache
from math import log

import numpy as np
from numpy.typing import NDArray

from crumb.core.drills.model import BEGINNER
from crumb.core.mastery.levels import AT_TEMPO, NEW, STEADY
from crumb.core.plan.days import is_off, practice_days
from crumb.core.plan.model import ChunkState, PlanAsk, Ready
from crumb.core.plan.rates import FADING, PROOF, SEAM_MINUTES, costs, open_seams, start_of

LIKELY = 0.7
"""A plan holds if it is at least this likely to (our own choice)."""
NEW_A_DAY: Mapping[str, int] = {BEGINNER: 1}
MOST_NEW = 2
KEPT_SHARE = 0.97
"""Of goal: a chunk at tempo whose secure tempo lies under it needs upkeep."""
KIN_SHARE = 0.6
"""Of its minutes, what a chunk still takes whose kin is learned first."""

_DRAWS = 100
_FURTHEST = 400
"""Practice days that are looked ahead."""
_PACE, _OWN, _DAILY = 0.55, 0.38, 0.3
_TRUST = 60.0
_LEAST_SPREAD = 0.08
_FLOOR, _HELD = 0.02, 0.9
"""What no draw knows: a week in bed, a row that was luck (chosen on simulated learners)."""

_SLOWS_FROM, _SLOWS, _SLOWER = 0.8, 0.25, 2.5
"""The share of goal where some students slow down, their share of students, and how much more each
step takes them."""
_CAME = 4.0
"""Days of full attendance that stand beside the days that were seen."""

Numbers = NDArray[np.float64]


@lru_cache(maxsize=64)
def _noise(chunks: int) -> tuple[Numbers, Numbers, Numbers, Numbers, Numbers]:
    """Standard draws: pace of a student, of each chunk, where each starts, luck and attendance.

    Luck scales the minutes of a day. A student practises on a day if the number of that day, from 0
    to 1, lies under their attendance.

    Chunks are rows and draws are columns, as in all that is worked out from them: sums over chunks
    then run along whole rows.
    """
    random = np.random.default_rng(20_261)
    pace = random.standard_normal((_DRAWS, 1))
    own = random.standard_normal((_DRAWS, chunks))
    start = random.standard_normal((_DRAWS, chunks))
    luck = np.exp(_DAILY * random.standard_normal((_FURTHEST, _DRAWS)))
    comes = random.random((_FURTHEST, _DRAWS))
    return pace.T.copy(), own.T.copy(), start.T.copy(), luck, comes


def chance_of(ask: PlanAsk) -> float:
    """The chance to be ready by the date."""
    most = min(len(practice_days(ask)), _FURTHEST)
    return _told(_days_taken(ask, most, 1.0), most)


def forecast(ask: PlanAsk) -> Ready:
    """The chance of an ask, and its range of days."""
    until = ask.on + timedelta(days=max(90, (ask.on - ask.today).days))
    days = practice_days(ask, until)[:_FURTHEST]
    done = _days_taken(ask, len(days), 0.9)
    within = sum(day < ask.on for day in days)
    chance = _told(done, within)
    first, last = (int(np.quantile(done, share, method="nearest")) for share in (0.1, 0.9))
    return Ready(round(chance, 3), _day(ask, days, first), _day(ask, days, last))


def date_for(ask: PlanAsk, chance: float, latest: date) -> date | None:
    """The first date that a chance is reached for; None if none up to ``latest`` is."""
    days = practice_days(ask, latest)[:_FURTHEST]
    done = _days_taken(replace(ask, on=latest), len(days), 1.0)
    for count in range(1, len(days) + 1):
        if _told(done, count) >= chance:
            return days[count - 1] + timedelta(days=1)
    return None


def _told(done: Numbers, within: int) -> float:
    """The share of draws that are ready in time, less sure than they are unless all is done."""
    if not np.any(done > 0):
        return 1.0
    return _FLOOR + _HELD * float(np.mean(done <= within))


def _day(ask: PlanAsk, days: list[date], count: int) -> date | None:
    if count == 0:
        return ask.today
    return days[count - 1] if count <= len(days) else None


def _days_taken(ask: PlanAsk, most: int, enough: float) -> Numbers:
    """Practice days until each draw is ready; one more than ``most`` if it is not by then.

    Nobody looks further than the day on which ``enough`` of the draws are ready and the date is
    past.
    """
    chunks = ask.chunks
    if not chunks:
        return np.zeros(_DRAWS)
    left = _left(ask)
    seams = np.full(_DRAWS, SEAM_MINUTES * open_seams(ask))
    begun = np.array([[c.level > NEW or c.minutes > 0 or c.last is not None] for c in chunks])
    waiting = [i for i in _first_met(ask) if not begun[i, 0]]
    new_a_day = NEW_A_DAY.get(ask.player, MOST_NEW)
    luck, comes = _noise(len(chunks))[3:]
    is_there = comes < attendance(ask)
    run = sum(float(c.quarters / c.beat) / start_of(c) for c in chunks)
    minutes = max(ask.minutes_a_day - ask.warm_up_minutes, 0)
    within = len(practice_days(ask)) if enough < 1 else 0
    done = np.where(np.all(left <= 0, axis=0) & (seams <= 0), 0.0, float(most + 1))
    for day in range(most):
        for place in waiting[:new_a_day]:
            begun[place, 0] = True
        del waiting[:new_a_day]
        here = float(minutes if day or ask.today_minutes is None else ask.today_minutes)
        if not waiting:
            here -= min(run, 0.3 * here)
        open_ = np.maximum(left, 0.0)
        if waiting:
            open_ *= begun
        total = open_.sum(axis=0)
        for_seams = np.where(total > 0, np.minimum(seams, 0.2 * here), seams)
        for_seams = np.minimum(for_seams, here) * is_there[day]
        seams = seams - for_seams
        open_ *= (here * is_there[day] - for_seams) / np.maximum(total, 1e-9)
        np.minimum(open_, 1.6 * FADING, out=open_)
        # What a minute more on the same day adds falls off.
        gained = np.expm1(np.divide(open_, -FADING, out=open_), out=open_)
        gained *= FADING * luck[day]
        left += gained
        ready = (left.max(axis=0) <= 1e-6) & (seams <= 1e-6)
        done = np.where(ready & (done > day + 1), day + 1.0, done)
        if not waiting and day >= within and np.count_nonzero(ready) >= enough * _DRAWS:
            break
    return done


def _left(ask: PlanAsk) -> Numbers:
    """Fresh minutes that each chunk (a row) still takes, in every draw (a column)."""
    chunks = ask.chunks
    cost = costs(ask)
    pace, own, start = _noise(len(chunks))[:3]
    spent = sum(c.minutes for c in chunks)
    wide = _PACE * (_TRUST / (_TRUST + spent)) ** 0.5
    shares = np.exp(wide * pace + _OWN * own)
    spread = np.array([[_spread(c)] for c in chunks])
    centre = np.array([[log(float(c.goal) / start_of(c))] for c in chunks])
    # What was shown at goal and is not sure any more is still to be done, as far as that.
    shown = np.array([[c.level >= AT_TEMPO] for c in chunks])
    known = np.array([[c.secure is not None] for c in chunks])
    centre = centre + np.where(shown, log(KEPT_SHARE), 0.0)
    gap = np.maximum(centre + spread * start, 0.0)
    price = np.array([[cost[c.id] * _lent(ask, i)] for i, c in enumerate(chunks)])
    faded = shown & known & (gap > 0)
    slows = np.arange(_DRAWS) < _SLOWS * _DRAWS
    steep = gap + slows * (_SLOWER - 1) * np.minimum(gap, -log(_SLOWS_FROM))
    found: Numbers = np.where(~shown | faded, steep * price * shares + PROOF, 0.0)
    return found


def attendance(ask: PlanAsk) -> float:
    """The share of practice days with a drill since the first one, from 0 to 1."""
    came = {day for chunk in ask.chunks for _, day in chunk.drills if day < ask.today}
    if not came:
        return 1.0
    since = (ask.today - min(came)).days
    days = [ask.today - timedelta(days=n) for n in range(1, since + 1)]
    there_were = sum(not is_off(ask, day) for day in days)
    return min((len(came) + _CAME) / (there_were + _CAME), 1.0)


def _spread(chunk: ChunkState) -> float:
    low, high = chunk.low, chunk.high
    if low is None or high is None or low <= 0 or high <= low:
        return 0.0 if chunk.level >= AT_TEMPO else 0.15
    return min(max(log(high / low) / 2.563, _LEAST_SPREAD), 0.5)


def _lent(ask: PlanAsk, place: int) -> float:
    """Of its minutes, what a chunk still takes after its kin."""
    chunk = ask.chunks[place]
    if not chunk.kin or chunk.level != NEW or chunk.last is not None:
        return 1.0
    ahead = (c.id for i, c in enumerate(ask.chunks) if i < place or c.level >= STEADY)
    return KIN_SHARE if set(chunk.kin).intersection(ahead) - {chunk.id} else 1.0


def _first_met(ask: PlanAsk) -> list[int]:
    """Places of chunks, in the order that they are met in; which, matters little here."""
    return sorted(range(len(ask.chunks)), key=lambda i: -ask.chunks[i].load)
