"""The ranking of drills for a chunk today, with reasons; and the drills that have had their turn.

Weights are our own; what speaks for a drill is common practice, no source: what is heard or found
hard asks for its cure, few days ask for work at tempo, a new chunk asks for reading, and any one
way works only for so long.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta

from crumb.core.drill_names import DrillName
from crumb.core.drills import CATALOGUE, make_drill
from crumb.core.drills.model import INTERMEDIATE, DrillKind
from crumb.core.drills.passage import Passage
from crumb.core.errors import CrumbError, DrillDoesNotFit
from crumb.core.survey.model import Spot

FEW_DAYS = 7
DAYS_RUNNING = 2
"""A drill done on this many days running rests on the next while others fit."""

_MOST_CURES = 4
_HEARD, _NEXT_CURE = 6.0, 1.5
"""What somebody heard speaks louder than what is found hard in the notes."""
_FOR_RUNS = (
    DrillName.STANDARD_SET,
    DrillName.EVERY_NOTE,
    DrillName.LONG_SHORT,
    DrillName.BLOCKS,
    DrillName.SHORT_LONG,
    DrillName.HOLD_CYCLE,
    DrillName.LONG_QUICK_THREE,
)
_CURES: Mapping[str, tuple[str, ...]] = {
    "speed": (
        DrillName.STANDARD_SET,
        DrillName.LONG_SHORT,
        DrillName.SHORT_LONG,
        DrillName.BLOCKS,
        DrillName.LONG_QUICK_THREE,
    ),
    "tongue": (
        DrillName.ARTICULATION,
        DrillName.LONG_BEFORE_FAST,
        DrillName.QUICK_REPEATS,
        DrillName.EVERY_NOTE,
    ),
    "fingering": (
        DrillName.TWO_NOTES,
        DrillName.HAND_ORDER,
        DrillName.EACH_NOTE,
        DrillName.TWO_WAYS,
    ),
    "valves": (DrillName.TWO_NOTES, DrillName.HAND_ORDER, DrillName.EACH_NOTE),
    "break": (DrillName.TWO_NOTES, DrillName.EACH_NOTE, DrillName.PREPARE, DrillName.HAND_ORDER),
    "partial": (DrillName.HOLD_ARRIVAL, DrillName.TWO_NOTES),
    "slide": (
        DrillName.HOLD_ARRIVAL,
        DrillName.HAND_ORDER,
        DrillName.TWO_NOTES,
        DrillName.TWO_WAYS,
    ),
    "leap": (DrillName.HOLD_ARRIVAL, DrillName.TWO_NOTES, DrillName.OCTAVE),
    "mallet-leap": (DrillName.HOLD_ARRIVAL, DrillName.TWO_NOTES, DrillName.PREPARE),
    "shift": (DrillName.HOLD_ARRIVAL, DrillName.TWO_NOTES, DrillName.PREPARE),
    "thumb": (DrillName.HOLD_ARRIVAL, DrillName.PREPARE),
    "crossing": (DrillName.ONE_LAYER, DrillName.BOW_PLAN, DrillName.ARTICULATION),
    "double-stop": (DrillName.VOICES_APART, DrillName.PITCHES_ONLY),
    "chord": (DrillName.VOICES_APART,),
    "stretch": (DrillName.VOICES_APART, DrillName.TWO_NOTES),
    "accidental": (DrillName.NAME_IT, DrillName.TWO_NOTES),
    "changed-note": (DrillName.NAME_IT, DrillName.TWO_NOTES, DrillName.CUE_WORD),
    "enharmonic": (DrillName.RESPELL, DrillName.NAME_IT),
    "syncopation": (DrillName.COUNT_IT, DrillName.SUBDIVISION_CLICK, DrillName.OFF_BEAT_CLICK),
    "off-beat": (DrillName.COUNT_IT, DrillName.OFF_BEAT_CLICK),
    "subdivision": (DrillName.COUNT_IT, DrillName.SUBDIVISION_CLICK),
    "tuplet": (DrillName.COUNT_IT, DrillName.SUBDIVISION_CLICK),
    "rest-count": (DrillName.COUNT_IT, DrillName.SUBDIVISION_CLICK, DrillName.CUE_WORD),
    "fermata-rest": (DrillName.COUNT_IT, DrillName.CUE_WORD),
    "dynamic": (DrillName.REST_GAP, DrillName.ONE_LAYER),
    "pizz-arco": (DrillName.REST_GAP, DrillName.PREPARE),
    "mute": (DrillName.REST_GAP, DrillName.PREPARE),
    "technique": (DrillName.REST_GAP, DrillName.PREPARE),
    "pattern-break": (DrillName.DIFFERENCE, DrillName.CUE_WORD, DrillName.LEAN),
    "rudiment": (DrillName.HAND_ORDER, DrillName.QUICK_REPEATS, DrillName.COUNT_IT),
    "sticking": (DrillName.HAND_ORDER, DrillName.TWO_WAYS),
    "range": (DrillName.SING_AND_FINGER, DrillName.OCTAVE, DrillName.PITCHES_ONLY),
    "breath": (DrillName.SING_AND_FINGER, DrillName.SLOW_DIRECTION),
    "slowing": (DrillName.COUNT_SLOWING,),
}
_BY_LEVEL: Mapping[int, tuple[str, ...]] = {
    0: (
        DrillName.NAME_IT,
        DrillName.COUNT_IT,
        DrillName.PITCHES_ONLY,
        DrillName.SING_AND_FINGER,
        DrillName.GUIDED_PASS,
    ),
    1: (
        DrillName.COUNT_IT,
        DrillName.SUBDIVISION_CLICK,
        DrillName.ALONE,
        DrillName.BLOCKS,
        DrillName.TWO_NOTES,
    ),
    2: (
        DrillName.ALONE,
        DrillName.STANDARD_SET,
        DrillName.BACKWARD,
        DrillName.CUMULATIVE,
        DrillName.BEAT_WEIGHT,
    ),
    3: (DrillName.BACKWARD, DrillName.STANDARD_SET, DrillName.SEAMS, DrillName.HOLD_CYCLE),
    4: (DrillName.STOPS, DrillName.ADD_A_NOTE, DrillName.IN_CONTEXT, DrillName.CLOSE_GAPS),
    5: (DrillName.IN_CONTEXT, DrillName.RUN_THROUGH, DrillName.SEAMS),
    6: (DrillName.RUN_THROUGH, DrillName.IN_CONTEXT),
}
_LEVEL_SAYS = {
    0: "The chunk is new.",
    1: "The notes are there; the rhythm is next.",
    2: "It is ready to be made steady.",
    3: "Steady: make it quicker and join it to its neighbours.",
    4: "Joined: now goal tempo.",
    5: "At tempo: keep it, in its place.",
    6: "Kept: only check it.",
}


@dataclass(frozen=True, slots=True)
class Situation:
    """Facts that the ranking uses besides the music.

    ``level`` is the mastery of the players, ``days_left`` the days to the date (None: no date),
    ``recent`` what was drilled on this chunk and when, ``heard`` what was said of it: each thing in
    words, with the drills that mend it, best first.
    """

    level: int = 0
    days_left: int | None = None
    recent: Sequence[tuple[str, date]] = ()
    today: date = date.max
    player: str = INTERMEDIATE
    heard: tuple[tuple[str, tuple[str, ...]], ...] = ()


@dataclass(frozen=True, slots=True)
class Ranked:
    """A drill that fits (or says why not): the higher the score, the sooner."""

    kind: DrillKind
    score: float
    reasons: tuple[str, ...] = ()
    refused: str = ""
    rests: bool = False
    steps: int = 0
    warnings: tuple[str, ...] = field(default=())


def cures_of(spots: Iterable[Spot]) -> tuple[str, ...]:
    """Drills that the spots of a place ask for, best first; whether they fit is not asked."""
    merits: dict[str, float] = {}
    for spot in spots:
        for place, name in enumerate(_CURES.get(spot.kind, ())):
            weight = (spot.weight + 0.2) * (1 - 0.15 * place)
            merits[name] = min(merits.get(name, 0.0) + weight, 3.0)
    return tuple(sorted(merits, key=lambda name: -merits[name])[:_MOST_CURES])


def days_running(recent: Sequence[tuple[str, date]], name: str, today: date) -> int:
    """On how many days before today, without a gap, the drill was done."""
    days = {day for drill, day in recent if drill == name}
    count = 0
    while today - timedelta(days=count + 1) in days:
        count += 1
    return count


def must_rest(recent: Sequence[tuple[str, date]], name: str, today: date) -> bool:
    """Whether one more day of this drill would be the third running, or later."""
    return days_running(recent, name, today) >= DAYS_RUNNING


def ranked(passage: Passage, spots: Sequence[Spot], situation: Situation) -> list[Ranked]:
    """Every drill of the catalogue: those that fit, best first; then those that do not, with why.

    Args:
        passage: the chunk.
        spots: what the survey found in it.
        situation: the players, the date, what was done lately.
    """
    made = [_rank(passage, kind, spots, situation) for kind in CATALOGUE]
    fit = [one for one in made if not one.refused]
    others = any(not one.rests for one in fit)
    return sorted(
        made,
        key=lambda one: (bool(one.refused), one.rests and others, -one.score),
    )


def _rank(passage: Passage, kind: DrillKind, spots: Sequence[Spot], situation: Situation) -> Ranked:
    if kind.families and passage.instrument.family not in kind.families:
        return Ranked(
            kind, 0.0, refused=f"For other instruments than the {passage.instrument.name}."
        )
    try:
        drill = make_drill(
            passage.part,
            passage.span,
            kind.name,
            {},
            level=situation.player,
            passage=passage,
            offer=False,
        )
    except CrumbError as error:
        return Ranked(kind, 0.0, refused=error.message)
    score, reasons = _merits(passage, kind, spots, situation)
    rests = must_rest(situation.recent, kind.name, situation.today)
    if rests:
        count = days_running(situation.recent, kind.name, situation.today)
        reasons = [f"Rests today: it was done on {count} days running."]
    warnings = []
    if situation.level < kind.least_level:
        score -= 1.5
        needed = "the notes known" if kind.least_level == 1 else "the rhythm known"
        warnings.append(f"Wants {needed} first.")
    return Ranked(
        kind,
        score,
        tuple(reasons[:3]),
        rests=rests,
        steps=len(drill.steps),
        warnings=tuple(warnings),
    )


def _merits(
    passage: Passage, kind: DrillKind, spots: Sequence[Spot], situation: Situation
) -> tuple[float, list[str]]:
    score = 0.0
    reasons: list[tuple[float, str]] = []
    weights: dict[str, tuple[float, str]] = {}
    for spot in spots:
        if kind.name in _CURES.get(spot.kind, ()):
            place = _CURES[spot.kind].index(kind.name)
            weight = (spot.weight + 0.2) * (1 - 0.15 * place)
            total = weights.get(spot.kind, (0.0, ""))[0] + weight
            weights[spot.kind] = (min(total, 1.5), weights.get(spot.kind, (0, spot.why))[1])
    for weight, why in weights.values():
        score += weight
        reasons.append((weight, why if why.endswith(".") else f"{why}."))
    for said, cures in situation.heard:
        if kind.name in cures:
            merit = _HEARD - _NEXT_CURE * cures.index(kind.name)
            score += merit
            reasons.append((merit, f"Heard: {said}."))
    if kind.name in _FOR_RUNS and situation.level >= 1 and (run := _longest_run(passage)):
        merit = 1.5 - 0.15 * _FOR_RUNS.index(kind.name)
        score += merit
        reasons.append((merit, f"A run of {run} equal notes."))
    fitting = _BY_LEVEL[max(0, min(situation.level, 6))]
    if kind.name in fitting:
        merit = 1.2 - 0.2 * fitting.index(kind.name)
        score += merit
        reasons.append((merit, _LEVEL_SAYS[max(0, min(situation.level, 6))]))
    if situation.days_left is not None and situation.days_left <= FEW_DAYS and kind.at_goal:
        score += 1.0
        reasons.append((1.0, f"{_days(situation.days_left)} left: work at goal tempo."))
    last = max((day for name, day in situation.recent if name == kind.name), default=None)
    if last is not None and situation.today - last <= timedelta(days=1):
        score -= 0.6
    return score, [text for _, text in sorted(reasons, reverse=True)]


def _longest_run(passage: Passage) -> int:
    try:
        return max((run.count for run in passage.runs), default=0)
    except DrillDoesNotFit:
        return 0


def _days(count: int) -> str:
    return "1 day" if count == 1 else f"{count} days"
