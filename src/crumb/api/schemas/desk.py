"""Shapes of what needs a director today."""

from datetime import date
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, StringConstraints

from crumb.api.schemas.common import Day, Given
from crumb.api.spoken import Said
from crumb.core.desk import LineKind


class DeskLineOut(BaseModel):
    """A line of the Desk: what, why, about whom, and where it leads."""

    key: str
    kind: LineKind
    say: Said
    why: Said
    student_ids: list[UUID]
    students: list[str]
    part_id: UUID | None
    chunk_id: UUID | None


class DateAheadOut(BaseModel):
    """A date that a plan leads to."""

    plan_id: UUID
    piece_id: UUID
    piece: str
    part: str
    section: str
    on: date
    days: int


class DeskOut(BaseModel):
    """Lines of the Desk: what needs a director today."""

    lines: list[DeskLineOut]
    more: int
    put_off: int
    dates: list[DateAheadOut]


class PutOffIn(Given):
    """A line to be kept away until a day; today brings it back."""

    line: Annotated[str, StringConstraints(min_length=1, max_length=120)]
    until: Day
