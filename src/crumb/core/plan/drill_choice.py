"""The drill of a chunk on a day: by heard faults, slips, its music and its level.

What each stage asks for is common practice, no source. No drill comes on a third day running while
another one fits.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

from crumb.core.drill_names import DrillName
from crumb.core.drills import CATALOGUE
from crumb.core.drills.ranking import FEW_DAYS, must_rest
from crumb.core.instruments.table import instrument_named
from crumb.core.mastery.levels import NEW, NOTES, RHYTHM
from crumb.core.plan.cures import cures_for
from crumb.core.plan.model import ChunkState

ALONE = DrillName.ALONE
SEAMS = DrillName.SEAMS
IN_CONTEXT = DrillName.IN_CONTEXT
RUN_THROUGH = DrillName.RUN_THROUGH
WARM_UP = DrillName.WARM_UP

READING = (DrillName.NAME_IT, DrillName.COUNT_IT, DrillName.SING_AND_FINGER)
_NEW = (DrillName.CUMULATIVE, DrillName.ALONE, DrillName.PITCHES_ONLY)
_NOTES = (DrillName.CUMULATIVE, DrillName.SUBDIVISION_CLICK, DrillName.TWO_NOTES, DrillName.ALONE)
_RHYTHM = (DrillName.CUMULATIVE, DrillName.STANDARD_SET, DrillName.BACKWARD, DrillName.TWO_NOTES)
_STEADY = (DrillName.STANDARD_SET, DrillName.BACKWARD, DrillName.CUMULATIVE, DrillName.HOLD_CYCLE)
_QUICK = (DrillName.BACKWARD, DrillName.STOPS, DrillName.ADD_A_NOTE, DrillName.STANDARD_SET)
_FRAGMENTS = (DrillName.STOPS, DrillName.ADD_A_NOTE, DrillName.CLOSE_GAPS, DrillName.LOOK_AHEAD)
_NEAR = (ALONE, IN_CONTEXT, DrillName.CLOSE_GAPS)
_FOR_SLIPS = (DrillName.TWO_NOTES, DrillName.HOLD_ARRIVAL, DrillName.CUE_WORD)
_NEAR_SHARE, _QUICK_SHARE = 0.9, 0.78
_TELLING = 3
"""With fewer slips than this at one place nothing is made of it."""


@dataclass(frozen=True, slots=True)
class Chosen:
    """A drill, what spoke for it (a sentence without its stop), and what no drill can do beside."""

    drill: str
    why: str
    advice: str = ""


def chosen(
    chunk: ChunkState,
    day: date,
    *,
    level: int,
    share: float,
    done: Sequence[tuple[str, date]],
    days_left: int,
    instrument: str,
    dropped: frozenset[tuple[str, str]],
    gets_there: bool = False,
    fits: Callable[[str], bool] = lambda _: True,
) -> Chosen:
    """The drill for a chunk on a day.

    Args:
        chunk: with what was heard of it.
        day: which.
        level: the chunk's, as it will be then.
        share: of goal tempo, that is secure.
        done: what was drilled on it and when.
        days_left: to the date.
        instrument: whose family some drills are for.
        dropped: chunks and drills that the director does not want together.
        gets_there: whether it is to reach its goal that day: then it is shown as written, once
            what was heard and where it slips have their cure.
        fits: whether a whole cycle of a drill fits in the minutes.
    """
    stage, why = _stage(level, _NEAR_SHARE if gets_there else share, days_left)
    fitting = _cures(chunk, level, share)
    if level >= RHYTHM and share < _NEAR_SHARE and not gets_there:
        fitting += [Chosen(drill, "It fits these notes") for drill in chunk.fitting]
    fitting += [Chosen(drill, why) for drill in stage]
    playable = [
        one
        for one in fitting
        if (chunk.id, one.drill) not in dropped and _plays(one.drill, instrument)
    ]
    awake = [one for one in playable if not must_rest(done, one.drill, day)]
    whole = [one for one in awake if fits(one.drill)]
    return next(iter(whole or awake or playable or [Chosen(ALONE, "Plain, with a click")]))


def _cures(chunk: ChunkState, level: int, share: float) -> list[Chosen]:
    """Drills for what was heard and for where it slips; none for what is new or nearly there."""
    found: list[Chosen] = []
    if level == NEW or share >= _NEAR_SHARE:
        return found
    for cure in cures_for(chunk.symptoms):
        why = f"Heard: {cure.heard[0].lower()}{cure.heard[1:]} ({cure.likely})"
        found += [Chosen(drill, why, cure.advice) for drill in cure.drills]
    where = max(chunk.slips, key=lambda w: chunk.slips[w], default=None)
    if where is not None and chunk.slips[where] >= _TELLING:
        total = sum(chunk.slips.values())
        why = f"{chunk.slips[where]} of {total} slips fall on {where}"
        found += [Chosen(drill, why) for drill in _FOR_SLIPS]
    return found


def _stage(level: int, share: float, days_left: int) -> tuple[tuple[str, ...], str]:
    if level == NEW:
        return _NEW, "New: small pieces, slowly"
    if level == NOTES:
        return _NOTES, "The notes are there: rhythm next"
    if share >= _NEAR_SHARE:
        return _NEAR, "Nearly there: show it as written"
    if days_left <= FEW_DAYS and share >= 0.55:
        return _FRAGMENTS, "Few days are left: short pieces at goal tempo"
    if share >= _QUICK_SHARE:
        return _QUICK, "Steady: now quicker"
    if level == RHYTHM:
        return _RHYTHM, "In rhythm: make it steady"
    return _STEADY, "Steady: raise it"


def reading(chunk: ChunkState, instrument: str, dropped: frozenset[tuple[str, str]]) -> str | None:
    """The reading drill before the first note of a new chunk; None if the director wants none."""
    fitting = (one for one in READING if (chunk.id, one) not in dropped and _plays(one, instrument))
    return next(fitting, None)


@lru_cache(maxsize=512)
def _plays(drill: str, instrument: str) -> bool:
    kind = next((k for k in CATALOGUE if k.name == drill), None)
    if kind is None or not kind.families:
        return kind is not None
    return instrument_named(instrument).family in kind.families
