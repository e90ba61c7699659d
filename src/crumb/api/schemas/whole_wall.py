"""The Wall of a piece, of a student and of a week, and acts on several cells at once."""

from datetime import date
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import DailyMinutes, Day, Given, GivenOnce, PositionOut
from crumb.api.schemas.practice import MyPartOut


class PlayerRowOut(BaseModel):
    """A player on each passage: their level on the weakest chunk there (none: they rest).

    ``open`` tells where a seam is still missing.
    """

    student_id: UUID
    name: str
    levels: list[int | None]
    open: list[bool]


class DeskRowsOut(BaseModel):
    """A section with its part; ``chunk_ids`` are where to look closer, by passage."""

    section_id: UUID
    part_id: UUID
    section: str
    part: str
    standings: list[str]
    chunk_ids: list[UUID | None]
    rows: list[PlayerRowOut]


class PieceWallOut(BaseModel):
    """Everybody who plays in a piece, by passage; ``standings`` are those of all of them."""

    title: str
    passages: list[str]
    standings: list[str]
    desks: list[DeskRowsOut]


class StudentWallOut(BaseModel):
    """A student's parts, with their levels and what was said of each chunk."""

    name: str
    parts: list[MyPartOut]


class DoneInWeekOut(BaseModel):
    """A student's week of practice. It does not say how well they play."""

    student_id: UUID
    name: str
    section: str
    days: int
    minutes: int
    repetitions: int
    takes: int
    has_log: bool


class DoneWeekOut(BaseModel):
    """A week from Monday to Sunday."""

    first: date
    last: date
    rows: list[DoneInWeekOut]


class OpeningOut(BaseModel):
    """The part on which the Wall best opens; none: nothing was begun."""

    part_id: UUID | None
    section_id: UUID | None


class CellIn(Given):
    """A cell of the Wall."""

    student_id: UUID
    chunk_id: UUID


Cells = Annotated[list[CellIn], Field(min_length=1, max_length=2000)]


class SendCellsIn(GivenOnce):
    """A drill for every chosen cell."""

    cells: Cells
    drill: Annotated[str, Field(max_length=40)]
    due_on: Day
    minutes_a_day: DailyMinutes = 15


class CellsSentOut(BaseModel):
    """Chunks that some students were sent together, or why they were not."""

    chunks: list[str]
    students: int
    why_not: str


class SayCellsIn(GivenOnce):
    """A fault heard in every chosen cell."""

    cells: Cells
    words: Annotated[str, Field(max_length=200)]


class SaidOfOut(BaseModel):
    """Of how many students it was said."""

    students: int


class NoteSlipsOut(BaseModel):
    """How often one note slipped."""

    at: PositionOut
    count: int


class SlipStretchOut(BaseModel):
    """Neighbouring notes with most of the slips around them, and how the place is called."""

    label: str
    start: PositionOut
    count: int
    notes: int


class TroubleOut(BaseModel):
    """Slips of a part by note, and the stretches to take out, the worst first."""

    total: int
    of_notes: int
    notes: list[NoteSlipsOut]
    stretches: list[SlipStretchOut]
