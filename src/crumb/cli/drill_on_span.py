"""A drill made on a span with its tempos, for the verbs that make one."""

import argparse
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from functools import cached_property

from crumb.cli.common import WrongCall
from crumb.core.drills import (
    Drill,
    coverage,
    drill_kind,
    make_drill,
    passage_of,
)
from crumb.core.drills.ladder_fit import (
    Fitted,
    fitted,
    start_of,
)
from crumb.core.drills.sent import SentDrill, sent_drill
from crumb.core.score.address import find_span
from crumb.core.score.glance import UNSAID_GOAL
from crumb.core.score.model import Part
from crumb.core.score.position import Span
from crumb.core.tempo.ladder import (
    FASTEST,
    SLOWEST,
    ladder,
    start_tempo,
)


def _settings(pairs: Sequence[str]) -> dict[str, object]:
    settings: dict[str, object] = {}
    for pair in pairs:
        name, equals, value = pair.partition("=")
        if not equals:
            raise WrongCall(f"Say --set name=value, not --set {pair}.")
        settings[name] = value
    return settings


def _default_goal(part: Part, span: Span) -> Fraction:
    tempo = part.measures[span.start.index].tempo
    beat = part.measures[span.start.index].time.beat
    return tempo.quarters / beat if tempo else UNSAID_GOAL


@dataclass(frozen=True)
class DrillOnSpan:
    """A drill on a span with its tempos: what is told of it, played and printed."""

    part: Part
    drill: Drill
    goal: Fraction
    beat: Fraction
    rungs: tuple[Fraction, ...]
    found: Fitted
    turned: tuple[int, int]

    @cached_property
    def sent(self) -> SentDrill:
        """The drill as it would be sent."""
        return sent_drill(
            self.part,
            drill_kind(self.drill.name),
            self.drill,
            goal=self.goal,
            rungs=self.rungs,
            turned=self.turned,
        )


def drill_on_span(args: argparse.Namespace, part: Part, name: str) -> DrillOnSpan:
    """A drill as the arguments ask for it.

    Raises:
        WrongCall: tempos or minutes that nobody plays.
    """
    span = find_span(part, args.span)
    goal = args.goal or _default_goal(part, span)
    beat = part.measures[span.start.index].time.beat
    for tempo in (goal, args.tempo or goal):
        if not SLOWEST <= tempo <= FASTEST:
            raise WrongCall("A tempo lies between 10 and 400 beats a minute.")
    if not 1 <= args.minutes <= 240:
        raise WrongCall("--minutes lies between 1 and 240.")
    passage = passage_of(part, span, args.tempo or start_tempo(goal))
    drill = make_drill(part, span, name, _settings(args.set), level=args.level, passage=passage)
    start = args.tempo or start_of(drill.steps, goal)
    top = max(goal, start)
    found = fitted(drill.steps, start=start, goal=top, beat=beat, minutes=args.minutes)
    rungs = ladder(start=start, goal=top, step=args.step or found.climb.step)
    return DrillOnSpan(
        part, drill, goal, beat, drill.climbed(rungs), found, coverage(passage, drill)
    )
