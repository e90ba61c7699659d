"""Assignments on the wire."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import DailyMinutes, Day, Given, GivenOnce
from crumb.api.schemas.drills import DrillWish
from crumb.api.spoken import Said
from crumb.core.vocabulary import ItemRole

ExceptionKind = Literal["absent", "injured", "ahead", "own order", "smaller"]


class WishedItem(DrillWish):
    """A drill on a chunk, this week's focus or last week's upkeep."""

    role: ItemRole = ItemRole.FOCUS
    every: Annotated[int, Field(ge=1, le=60)] = 1
    """For every so-many-th day of practice."""


class AssignIn(GivenOnce):
    """A request to send drills; ``only`` narrows sections to some students."""

    part_id: UUID
    section_ids: Annotated[list[UUID], Field(max_length=40)]
    due_on: Day
    minutes_a_day: DailyMinutes
    items: Annotated[list[WishedItem], Field(max_length=60)]
    left_out: Annotated[list[UUID], Field(max_length=300)] = []
    only: Annotated[list[UUID], Field(max_length=300)] | None = None
    exceptions: Annotated[dict[UUID, ExceptionKind], Field(max_length=300)] = {}


class ItemGotOut(BaseModel):
    """A line of a student's first day."""

    chunk: str
    drill: str
    seconds: int
    level: int
    role: ItemRole
    note: Said


class StudentGetsOut(BaseModel):
    """The drills that one student will get, and of which part."""

    student_id: UUID
    name: str
    section: str
    part: str
    is_left_out: bool
    exception: str
    due_on: date
    why_nothing: Said
    plays: str
    """Another part of the piece, if they were sent that and never this one."""
    items: list[ItemGotOut]


class AssignPreview(BaseModel):
    """An assignment before it is sent."""

    students: list[StudentGetsOut]
    climb_seconds: int
    available_seconds: int
    days: int


class AssignedItem(BaseModel):
    """A drill on a chunk, in a list."""

    id: UUID
    chunk: str
    drill: str
    role: ItemRole
    every: int
    note: Said
    removed: bool


class ChangeAssignment(Given):
    """Another date, other minutes, for everybody it was sent to."""

    due_on: Day | None = None
    minutes_a_day: DailyMinutes | None = None


class AssignmentOut(BaseModel):
    """An assignment in the director's list; what was sent in one go shares ``sending_id``."""

    id: UUID
    sending_id: UUID
    exception: str
    title: str
    part: str
    part_id: UUID
    section: str
    section_id: UUID
    due_on: date
    minutes_a_day: int
    sent_at: datetime
    withdrawn: bool
    students: int
    items: list[AssignedItem]
