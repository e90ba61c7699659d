"""Tasks: takes of some passages, or of one passage out of several.

A passage is anything hashable that names one. Numbers are common practice, no source.
"""

from collections.abc import Hashable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from enum import StrEnum
from fractions import Fraction

from crumb.core.errors import TakeRefused
from crumb.core.takes.alignment import LONGEST_SECONDS

MOST_WANTED = 8
MOST_CHOICES = 4
TOLD_FOR = timedelta(days=14)
"""After its day a task is told for so long, then no more."""


class TaskState(StrEnum):
    """How far a thing that is wanted has come, the least first."""

    OPEN = "open"
    SHORT = "short"
    """Handed in, but shorter than was asked: told, never refused."""
    BEING_MADE = "waiting"
    DONE = "done"


_ORDER = tuple(TaskState)


@dataclass(frozen=True, slots=True)
class Choice:
    """A passage that is asked for, and how many seconds a take of it should last."""

    passage: Hashable
    least_seconds: int


Wanted = Sequence[Choice]
"""One thing that is wanted: a take of any one of these closes it."""


@dataclass(frozen=True, slots=True)
class HandedInTake:
    """A take: of which passage, when it came, how long; None as long as nobody can hear it."""

    passage: Hashable
    at: datetime
    seconds: Fraction | None


def check_wanted(wanted: Sequence[Wanted]) -> None:
    """Whether so much can be asked for.

    Raises:
        TakeRefused: nothing, too much, the same passage twice, or a length that no take has.
    """
    if not wanted or not all(wanted):
        raise TakeRefused("Say what is to be handed in.")
    if len(wanted) > MOST_WANTED:
        raise TakeRefused(f"More than {MOST_WANTED} takes are too many for one task.")
    if any(len(choices) > MOST_CHOICES for choices in wanted):
        raise TakeRefused(f"More than {MOST_CHOICES} passages to choose from are too many.")
    passages = [choice.passage for choices in wanted for choice in choices]
    if len(set(passages)) < len(passages):
        raise TakeRefused("The same passage is asked for twice.")
    for choices in wanted:
        for choice in choices:
            if not 0 < choice.least_seconds <= LONGEST_SECONDS:
                raise TakeRefused(f"A take lasts 1 to {LONGEST_SECONDS} seconds.")


def state_of(choices: Wanted, takes: Iterable[HandedInTake], asked_at: datetime) -> TaskState:
    """How far one thing is: as far as the best take of any of its passages since it was asked."""
    least = {choice.passage: choice.least_seconds for choice in choices}
    states = [
        _state(take, least[take.passage])
        for take in takes
        if take.passage in least and take.at >= asked_at
    ]
    return max(states, key=_ORDER.index, default=TaskState.OPEN)


def is_told(due_on: date, today: date, *, is_closed: bool) -> bool:
    """Whether a student still reads of a task: when its day is over, only of what is open."""
    return today <= due_on or (today - due_on <= TOLD_FOR and not is_closed)


def _state(take: HandedInTake, least: int) -> TaskState:
    if take.seconds is None:
        return TaskState.BEING_MADE
    return TaskState.DONE if take.seconds >= least else TaskState.SHORT
