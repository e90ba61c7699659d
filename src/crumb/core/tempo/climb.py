"""The climb: where a player stands in a drill after each repetition.

A fold over repetitions, so that the same evidence always leads to the same place; the practice
session keeps the same rule in the browser and both are held to one table of cases. Rules (common
practice, no source): a step is done after n clean in a row; a slip starts its count anew; two slips
in a row take the tempo down 5, three 10; when all steps are done at one tempo the ladder goes up a
rung. In steps of kind ``set`` a pause of more than eight seconds starts the count anew too. What a
slip does is the step's own policy: in some the tempo stays, in some every repetition counts and a
slip is only noted.

Nobody leaves rungs out: what is played above the next rung over the highest one reached is an
attempt, which is kept and moves nothing. Without a click only steps that ask for none count.

On a staircase a slip leads one rung down at once. With n in a row up it settles where a player is
clean (1/2)^(1/n) of the time: 70.7 % for two, 79.4 % for three, 84.1 % for four (Levitt, J. Acoust.
Soc. Am. 49, 1971, 467-477).

Three up, one back (common practice, no source): after three rungs up the next clean cycle leads one
rung back instead, so that each height is come to twice.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction

from crumb.core.tempo.ladder import SLOWEST_START, next_rung, seconds_of

PAUSE_SECONDS = Fraction(8)
FRESH_SECONDS = Fraction(3 * 3600)
"""After so long a new sitting begins: slips of the last one are not slips in a row any more."""
DOWN_AFTER = {2: Fraction(5), 3: Fraction(10)}
LADDER, STAIRCASE, THREE_UP = "ladder", "staircase", "three-up"
WAYS = (LADDER, STAIRCASE, THREE_UP)
_UP_AND_BACK = 4


@dataclass(frozen=True, slots=True)
class ClimbStep:
    """A step, as the climb needs it; ``quarters`` at the ladder's own tempo."""

    repetitions: int
    quarters: Fraction
    unbroken: bool
    """Whether a pause starts the count anew."""

    slip: str = "down"
    """``down``, ``anew`` (the tempo stays) or ``on`` (it counts all the same)."""

    free: bool = False
    """Whether it counts without a click."""

    @property
    def pace(self) -> Fraction:
        """Its length is that at the ladder's own tempo already."""
        return Fraction(1)


@dataclass(frozen=True, slots=True)
class ClimbPlan:
    """The steps of a drill and the rungs of its ladder."""

    steps: tuple[ClimbStep, ...]
    rungs: tuple[Fraction, ...]
    beat: Fraction
    way: str = LADDER


@dataclass(frozen=True, slots=True)
class Played:
    """One repetition as the climb sees it; ``at`` in seconds on any steady clock, at its end.

    ``tempo`` is None without a click. ``leaps``: rungs may be left out (on paper the whole ladder
    lies before the player).
    """

    step: int
    tempo: Fraction | None
    is_clean: bool
    at: Fraction
    leaps: bool = False


@dataclass(frozen=True, slots=True)
class Climb:
    """The state of a climb; ``reach`` is the highest tempo that it has led to."""

    tempo: Fraction
    reach: Fraction
    step: int = 0
    in_a_row: int = 0
    slips_in_a_row: int = 0
    done: frozenset[int] = field(default=frozenset())
    cycles: int = 0
    is_finished: bool = False
    last_at: Fraction | None = None
    told: str = ""


def visited(rungs: Sequence[Fraction], way: str) -> tuple[Fraction, ...]:
    """The rungs in the order a climb without a slip comes to them, one clean cycle on each."""
    if way != THREE_UP:
        return tuple(rungs)
    path, place = [rungs[0]], 0
    while place < len(rungs) - 1:
        place += -1 if _leads_back(len(path)) else 1
        path.append(rungs[place])
    return tuple(path)


def _leads_back(cycles: int) -> bool:
    return cycles % _UP_AND_BACK == 0


def start_climb(plan: ClimbPlan) -> Climb:
    """At the foot of the ladder."""
    return Climb(tempo=plan.rungs[0], reach=plan.rungs[0])


def is_jump(plan: ClimbPlan, state: Climb, tempo: Fraction) -> bool:
    """Whether a tempo leaves out rungs that were never reached."""
    return state.reach < plan.rungs[-1] and tempo > next_rung(plan.rungs, state.reach)


def climb(plan: ClimbPlan, repetitions: Iterable[Played]) -> Climb:
    """The climb after all of these repetitions."""
    state = start_climb(plan)
    for repetition in repetitions:
        state = advance(plan, state, repetition)
    return state


def advance(plan: ClimbPlan, state: Climb, played: Played) -> Climb:
    """The climb after one more repetition.

    Raises:
        ValueError: the repetition names a step the drill does not have.
    """
    if not 0 <= played.step < len(plan.steps):
        raise ValueError(f"no step {played.step}")
    step = plan.steps[played.step]
    tempo = state.tempo if played.tempo is None else played.tempo
    has_no_click = played.tempo is None and not step.free
    if has_no_click or (not played.leaps and is_jump(plan, state, tempo)):
        return replace(state, told="attempt", last_at=played.at)
    state = replace(state, told="", reach=max(state.reach, tempo))
    if state.last_at is not None and played.at - state.last_at > FRESH_SECONDS:
        state = replace(state, slips_in_a_row=0)
    if tempo != state.tempo:
        state = replace(state, tempo=tempo, in_a_row=0, done=frozenset())
    if played.step != state.step:
        state = replace(state, step=played.step, in_a_row=0)
    if step.unbroken and _paused(plan, step, state, played) and state.in_a_row:
        state = replace(state, in_a_row=0, told="pause")
    state = replace(state, last_at=played.at)
    if played.is_clean or step.slip == "on":
        return _counted(plan, state, step)
    return _slip(plan, state, step)


def _paused(plan: ClimbPlan, step: ClimbStep, state: Climb, played: Played) -> bool:
    if state.last_at is None:
        return False
    length = seconds_of(step.quarters, tempo=state.tempo, beat=plan.beat)
    return played.at - state.last_at - length > PAUSE_SECONDS


def _counted(plan: ClimbPlan, state: Climb, step: ClimbStep) -> Climb:
    state = replace(state, in_a_row=state.in_a_row + 1, slips_in_a_row=0)
    if state.in_a_row < step.repetitions:
        return state
    done = state.done | {state.step}
    left = [i for i in range(len(plan.steps)) if i not in done]
    if left:
        ahead = next((i for i in left if i > state.step), left[0])
        return replace(state, step=ahead, in_a_row=0, done=done, told="step")
    state = replace(state, step=0, in_a_row=0, done=frozenset(), cycles=state.cycles + 1)
    if state.tempo >= plan.rungs[-1]:
        return replace(state, is_finished=True, told="finished")
    if plan.way == THREE_UP and _leads_back(state.cycles):
        below = [rung for rung in plan.rungs if rung < state.tempo]
        if below:
            return replace(state, tempo=below[-1], told="back")
    tempo = next_rung(plan.rungs, state.tempo)
    return replace(state, tempo=tempo, reach=max(state.reach, tempo), told="up")


def _slip(plan: ClimbPlan, state: Climb, step: ClimbStep) -> Climb:
    if state.is_finished:  # what follows success cannot take anything away
        return replace(state, in_a_row=0, slips_in_a_row=0, told="bonus")
    if plan.way == STAIRCASE and step.slip == "down":
        below = [rung for rung in plan.rungs if rung < state.tempo]
        tempo = below[-1] if below else state.tempo
        told = "down" if below else "again"
        return replace(
            state, tempo=tempo, in_a_row=0, done=frozenset(), slips_in_a_row=0, told=told
        )
    slips = state.slips_in_a_row + 1
    drop = DOWN_AFTER.get(slips) if step.slip == "down" else None
    if drop is None:
        return replace(state, in_a_row=0, slips_in_a_row=slips, told="again")
    return replace(
        state,
        tempo=max(min(state.tempo, SLOWEST_START), state.tempo - drop),
        in_a_row=0,
        done=frozenset(),
        slips_in_a_row=slips if slips < max(DOWN_AFTER) else 0,
        told="down",
    )
