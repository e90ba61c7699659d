"""When a chunk that was at tempo should be tried cold again: the spacing model of ``fsrs``.

Parameters are the package's own defaults (Free Spaced Repetition Scheduler, version 6); recall that
is wanted is 90 %. A clean cold try counts as *good*, a slip and then a clean pass as *hard*, a
missed try as *again*.
"""

from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, time, timedelta
from enum import Enum

from fsrs import Card, Rating, Scheduler

LEAST_WAIT = timedelta(days=2)
"""The shortest wait after a clean try (our own choice). Without it, misses in between would ask for
a try every day."""
_SCHEDULER = Scheduler(
    desired_retention=0.9, learning_steps=(), relearning_steps=(), enable_fuzzing=False
)


class Try(Enum):
    """How a cold try went."""

    CLEAN = Rating.Good
    SECOND = Rating.Hard
    MISSED = Rating.Again


@dataclass(frozen=True, slots=True)
class SpacingState:
    """Spacing of a chunk: stability in days, difficulty, last try and next."""

    stability: float
    difficulty: float
    last: date
    due: date


def begun(day: date) -> SpacingState:
    """A chunk that reached goal tempo on a day."""
    return _reviewed(Card(card_id=0), day, Rating.Good)


def tried(kept: SpacingState, day: date, how: Try) -> SpacingState:
    """The chunk after a cold try."""
    card = Card(
        card_id=0,
        state=_SCHEDULER.review_card(Card(card_id=0), Rating.Good, _noon(kept.last))[0].state,
        step=None,
        stability=kept.stability,
        difficulty=kept.difficulty,
        due=_noon(kept.due),
        last_review=_noon(kept.last),
    )
    found = _reviewed(card, day, how.value)
    if how is Try.MISSED:
        return found
    return replace(found, due=max(found.due, day + LEAST_WAIT))


def _reviewed(card: Card, day: date, rating: Rating) -> SpacingState:
    made, _ = _SCHEDULER.review_card(card, rating, _noon(day))
    assert made.stability is not None
    assert made.difficulty is not None
    return SpacingState(made.stability, made.difficulty, day, made.due.date())


def _noon(day: date) -> datetime:
    return datetime.combine(day, time(12), UTC)
