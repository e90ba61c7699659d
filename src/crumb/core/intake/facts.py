"""Facts that a decision about a hand-in rests on: arrivals, sent drills, stored state."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from fractions import Fraction
from uuid import UUID

from crumb.core.drills.sent import SentDrill
from crumb.core.evidence.model import Kind, Rhythm, Source
from crumb.core.evidence.plausibility import ExpectedPass, Neighbours
from crumb.core.mastery.chunk import DEFAULTS, Rules
from crumb.core.mastery.replay import ReplayState, Target
from crumb.core.score.position import Span
from crumb.core.tempo.climb import Climb

# What came in ------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class AssignedRepetition:
    """A repetition of a step that was sent. ``tempo`` is None without a click."""

    id: UUID
    item_id: UUID
    step: int
    tempo: Fraction | None
    is_clean: bool
    at: datetime
    reason: str = ""
    source: Source = Source.SELF


@dataclass(frozen=True, slots=True)
class UnassignedEvidence:
    """A repetition or a hearing of a span of a part that belongs to nothing that was sent.

    Raises:
        ValueError: a hearing that is nobody's.
    """

    id: UUID
    part_id: UUID
    span: Span
    at: datetime
    tempo: Fraction | None = None
    is_clean: bool | None = True
    kind: Kind = Kind.PROVE
    as_written: bool = True
    is_aided: bool = False
    rhythm: Rhythm = Rhythm.WRITTEN
    source: Source = Source.SELF
    level: int | None = None
    by_id: UUID | None = None
    reason: str = ""
    expected: ExpectedPass | None = None
    """What one pass is, where it can be told: what nobody can play is doubted."""

    def __post_init__(self) -> None:
        """A hearing names who judged."""
        if self.level is not None and self.by_id is None:
            raise ValueError("a hearing without a judge")


Arrival = AssignedRepetition | UnassignedEvidence

# What was sent -----------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class SentStepFacts:
    """Facts of a sent step; ``quarters`` count at the ladder's own tempo."""

    name: str
    kind: Kind
    as_written: bool
    is_aided: bool
    rhythm: Rhythm
    span: Span
    quarters: Fraction
    attacks: int


@dataclass(frozen=True, slots=True)
class SentDrillFacts:
    """A drill that was sent, as far as evidence depends on it; ``root_id`` is its part's first."""

    id: UUID
    part_id: UUID
    root_id: UUID
    sent_at: datetime
    drill: SentDrill
    steps: Mapping[int, SentStepFacts]


# What was there ----------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class StoredEvidence:
    """Evidence that is stored already."""

    id: UUID
    student_id: UUID
    part_id: UUID
    item_id: UUID | None
    span: Span


@dataclass(frozen=True, slots=True)
class PartFacts:
    """A part as far as levels depend on it; ``carried`` moves measures of the one it replaces."""

    id: UUID
    goal: Fraction
    replaces: UUID | None
    carried: Mapping[int, int]
    rules: Rules = DEFAULTS


@dataclass(frozen=True, slots=True)
class ChunkFacts:
    """A chunk with what a student's evidence on it came to; ``state`` None: by older rules."""

    part_id: UUID
    chunk_id: UUID
    target: Target
    state: ReplayState | None


@dataclass(frozen=True, slots=True)
class ClimbState:
    """A climb with the moment and number of the last repetition in it."""

    climb: Climb
    last: tuple[datetime, int] | None = None


@dataclass(frozen=True, slots=True)
class Before:
    """The state before.

    ``neighbours`` are those of each arrival, in the order in which they were played; ``chunks`` all
    that the measures concerned lie in.
    """

    known: Mapping[UUID, StoredEvidence]
    climbs: Mapping[UUID, ClimbState]
    neighbours: tuple[Neighbours, ...]
    parts: Mapping[UUID, PartFacts]
    chunks: tuple[ChunkFacts, ...] = field(default=())
