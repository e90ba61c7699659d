"""The drill bench: a drill on a chunk with its notation, ladder and minutes."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from crumb.core.drills import (
    Drill,
    Step,
    climb_seconds,
    coverage,
    cycle_seconds,
    make_drill,
    passage_of,
)
from crumb.core.drills.ladder_fit import USUAL_MINUTES, Fitted, fitted, start_of
from crumb.core.drills.model import INTERMEDIATE
from crumb.core.score.position import Span
from crumb.core.tempo.climb import LADDER, visited
from crumb.core.tempo.ladder import CLICKS, ladder, start_tempo, usual_step
from crumb.formats.layout import Layout
from crumb.services.library.drawing import drawing
from crumb.services.library.pieces import PartInHand


@dataclass(frozen=True, slots=True)
class LadderSettings:
    """Start, goal and step in beats a minute; without start or step, what fits the minutes.

    ``scale`` says what a step counts (``crumb.core.tempo.ladder.SCALES``), ``way`` how a ladder is
    climbed (``crumb.core.tempo.climb.WAYS``).
    """

    start: Fraction | None
    goal: Fraction
    step: Fraction | None
    minutes: int = USUAL_MINUTES
    scale: str = CLICKS
    way: str = LADDER


@dataclass(frozen=True, slots=True)
class Worked:
    """A drill worked out: steps, rungs, and what it costs.

    ``start`` and ``step`` are those of its ladder, ``fitted`` what other ladders would cost (none
    where there is no ladder to climb).
    """

    drill: Drill
    rungs: tuple[Fraction, ...]
    beat: Fraction
    cycle_seconds: Fraction
    climb_seconds: Fraction
    goal: Fraction
    start: Fraction
    step: Fraction
    fitted: Fitted | None
    turned: tuple[int, int]
    way: str = LADDER

    def seconds_left(self, tempo: Fraction) -> Fraction:
        """Seconds that a climb without a slip still takes from a tempo."""
        left = visited([tempo, *(rung for rung in self.rungs if rung > tempo)], self.way)
        return climb_seconds(self.drill.steps, rungs=left, beat=self.beat)


def work_out(
    hand: PartInHand,
    span: Span,
    drill: str,
    settings: Mapping[str, object],
    tempo: LadderSettings,
    player: str = INTERMEDIATE,
) -> Worked:
    """Make the drill and do its arithmetic; one for goal tempo has that one rung.

    Raises:
        CrumbError: the drill does not fit, or a setting or tempo is not allowed.
    """
    passage = passage_of(hand.part, span, tempo.start or start_tempo(tempo.goal))
    made = make_drill(hand.part, span, drill, settings, level=player, passage=passage)
    beat = hand.part.measures[made.span.start.index].time.beat
    start = tempo.start or start_of(made.steps, tempo.goal)
    found = fitted(made.steps, start=start, goal=tempo.goal, beat=beat, minutes=tempo.minutes)
    step = tempo.step or usual_step(start, tempo.goal, tempo.scale) or found.climb.step
    rungs = made.climbed(ladder(start=start, goal=tempo.goal, step=step, scale=tempo.scale))
    return Worked(
        drill=made,
        rungs=rungs,
        beat=beat,
        cycle_seconds=cycle_seconds(made.steps, tempo=rungs[0], beat=beat),
        climb_seconds=climb_seconds(made.steps, rungs=visited(rungs, tempo.way), beat=beat),
        goal=tempo.goal,
        start=start,
        step=step,
        fitted=None if made.at_goal or made.stays or tempo.scale != CLICKS else found,
        turned=coverage(passage, made),
        way=tempo.way,
    )


def drawn(steps: Sequence[Step], layout: Layout) -> list[str | None]:
    """Drawings of steps; None where there is nothing to read.

    Varied rhythms are no place in the part and bear no measure numbers.
    """
    return [
        drawing(step.part, replace(layout, numbers=step.as_written)) if step.part.is_shown else None
        for step in steps
    ]
