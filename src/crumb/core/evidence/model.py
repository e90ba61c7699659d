"""The one model of evidence."""

from dataclasses import dataclass
from datetime import date, datetime
from enum import StrEnum
from fractions import Fraction

from crumb.core.score.position import Span


class What(StrEnum):
    """The kind of observation."""

    REPETITION = "repetition"
    HEARING = "hearing"


class Kind(StrEnum):
    """The purpose of a repetition; only proof moves mastery past the notes."""

    LEARN = "learn"
    SET = "set"
    PROVE = "prove"


class Rhythm(StrEnum):
    """Whether the printed rhythm was played, on whatever pitches."""

    WRITTEN = "written"
    FREE = "free"


class Source(StrEnum):
    """The source of a piece of evidence."""

    SELF = "self"
    HELPER = "helper"
    PAPER = "paper"
    HEARING = "hearing"
    MEASURED = "measured"
    REHEARSED = "rehearsed"
    """With the whole room: kept, and proof of nothing."""


class Doubt(StrEnum):
    """Why something is kept but proves nothing."""

    NONE = ""
    EARLY = "early"
    LATE = "late"
    FAST = "fast"
    HURRIED = "hurried"
    TWICE = "twice"
    JUMP = "jump"


_SHORT = frozenset({Doubt.FAST, Doubt.HURRIED, Doubt.JUMP})


@dataclass(frozen=True, slots=True)
class Evidence:
    """One repetition, or one hearing that sets a level.

    ``at`` is the moment it ended, ``id`` settles the order of what ended in one moment. ``tempo``
    counts beats a minute; None: without a click.
    """

    span: Span
    at: datetime
    id: int = 0
    what: What = What.REPETITION
    tempo: Fraction | None = None
    is_clean: bool = True
    kind: Kind = Kind.PROVE
    as_written: bool = True
    is_aided: bool = False
    rhythm: Rhythm = Rhythm.WRITTEN
    source: Source = Source.SELF
    level: int | None = None
    doubt: Doubt = Doubt.NONE
    day: date | None = None
    """The program's day of it; None: that of ``at``."""

    @property
    def counts(self) -> bool:
        """Whether it proves anything.

        A slip does, though older rules took it for too quick: a pass that breaks is short.
        """
        if self.doubt in _SHORT:
            return not self.is_clean
        return self.doubt is Doubt.NONE

    @property
    def order(self) -> tuple[datetime, int]:
        """Evidence is folded in this order, whenever it came in."""
        return (self.at, self.id)
