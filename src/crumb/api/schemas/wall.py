"""Students' levels, as schemas."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import Given
from crumb.api.schemas.splitting import ChunkOut
from crumb.api.spoken import Said
from crumb.core.evidence.model import What


class CellOut(BaseModel):
    """Standing of a student on a chunk."""

    level: int
    why: Said
    last_played_at: datetime | None
    next: Said
    """What would raise it."""
    seam_in: bool
    seam_out: bool
    due_on: date | None
    """When it should be tried cold."""


Seams = Literal["", "in", "out", "both"]
"""Which of a chunk's two seams were shown."""


class WallRowOut(BaseModel):
    """A student's row, a place for each chunk: level, seams, and where a cold check is due.

    No words: a wall can hold thousands of cells, and each one's evidence has them.
    """

    student_id: UUID
    name: str
    levels: list[int]
    seams: list[Seams]
    due: list[int]
    """Places of the chunks that should be tried cold today."""


class WallOut(BaseModel):
    """Students by chunks.

    ``deepest`` is how deep the map goes; the last ``beside`` chunks were sent and are in no map.
    ``of`` is how many students there are; there are no ``standings`` while rows are missing.
    ``waiting`` counts the students whose levels are being recomputed after a change, ``stuck``
    those whose levels cannot be.
    """

    deepest: int
    beside: int
    of: int
    waiting: int
    stuck: int
    chunks: list[ChunkOut]
    standings: list[str]
    rows: list[WallRowOut]


class EvidenceRow(BaseModel):
    """A repetition or a hearing as it is kept."""

    what: What
    played_at: datetime
    day: date
    step_name: Said
    kind: str
    as_written: bool
    span: str
    tempo_bpm: float | None
    is_clean: bool | None
    is_retracted: bool
    source: str
    doubt: str
    """Why it proves nothing, in words; empty where it does."""
    reason: str
    level: int | None
    by: str


class SecureOut(BaseModel):
    """Secure tempo: the median, and between what it lies four times of five.

    ``solid`` is the fastest proved tempo, ``best`` the fastest single clean pass.
    """

    median: float
    low: float
    high: float
    enough: bool
    goal: float
    solid: float | None
    best: float | None


class DayStoodOut(BaseModel):
    """A student's standing in the evening of a day; tempos in beats a minute."""

    day: date
    level: int
    secure: float | None
    low: float | None
    high: float | None
    solid: float | None


class PassesOut(BaseModel):
    """How often the chunk went, and how often it slipped, on a day at a tempo."""

    day: date
    tempo: float
    clean: int
    slips: int


class SlipsOut(BaseModel):
    """How often a smaller piece of the chunk slipped."""

    place: str
    count: int


class JoinsOut(BaseModel):
    """Clean crossings in a row at a seam, of how many, at what tempo or more; none: no seam."""

    into: int | None
    out: int | None
    of: int
    tempo: float


class CureOut(BaseModel):
    """Something that can be heard, what it likely is, and the drills that mend it, best first."""

    key: str
    heard: str
    likely: str
    drills: list[str]
    advice: str


class HeardIn(Given):
    """A fault heard on a chunk, of one student or of a section: a key of the list, or words."""

    chunk_id: UUID
    words: Annotated[str, Field(max_length=200)]
    student_id: UUID | None = None
    section_id: UUID | None = None


class HeardOut(BaseModel):
    """A fault that was heard and is not mended yet."""

    id: UUID
    cure: CureOut
    by: str
    said_at: datetime
    is_of_section: bool


class EvidenceOut(BaseModel):
    """The evidence of a level; ``ways``: results of comparisons of two ways.

    ``longest`` is the longest stretch of the chunk that went at goal. ``repetitions`` are the
    newest ones; ``older`` ones are not told one by one.
    """

    student: str
    chunk: str
    cell: CellOut
    ways: list[str]
    secure: SecureOut | None
    days: list[DayStoodOut]
    passes: list[PassesOut]
    slips: list[SlipsOut]
    joins: JoinsOut
    longest: str | None
    heard: list[HeardOut]
    repetitions: list[EvidenceRow]
    older: int
