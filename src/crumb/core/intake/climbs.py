"""Climbs of drills that were sent: one repetition further, or replayed from all of them."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction

from crumb.core.evidence.model import Source
from crumb.core.intake.facts import ClimbState
from crumb.core.tempo.climb import ClimbPlan, Played, advance, start_climb


@dataclass(frozen=True, slots=True)
class ClimbRepetition:
    """A repetition as a climb sees it; ``id`` settles the order of what ended in one moment."""

    at: datetime
    id: int
    step: int
    tempo: Fraction | None
    is_clean: bool
    source: Source

    @property
    def order(self) -> tuple[datetime, int]:
        """Climbs are worked out in this order, whenever something came in."""
        return (self.at, self.id)

    @property
    def played(self) -> Played:
        """In seconds, as the rule of the climb wants it; ticks on paper leave rungs out."""
        seconds = Fraction(int(self.at.timestamp() * 1000), 1000)
        leaps = self.source is Source.PAPER
        return Played(self.step, self.tempo, self.is_clean, seconds, leaps=leaps)


def climb_of(plan: ClimbPlan, state: ClimbState | None) -> ClimbState:
    """A climb as it is stored; one that was not begun is at the foot of its ladder."""
    return state or ClimbState(start_climb(plan))


def advance_climb(plan: ClimbPlan, state: ClimbState, one: ClimbRepetition) -> ClimbState:
    """A climb after one more repetition, which is no earlier than the last."""
    return ClimbState(advance(plan, state.climb, one.played), one.order)


def replay_climb(plan: ClimbPlan, repetitions: Iterable[ClimbRepetition]) -> ClimbState:
    """A climb worked out from all that was played and not taken back, in whatever order."""
    state = ClimbState(start_climb(plan))
    for one in sorted(repetitions, key=lambda one: one.order):
        state = advance_climb(plan, state, one)
    return state
