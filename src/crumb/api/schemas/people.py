"""Sections and students."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Given, Line


class StudentRow(BaseModel):
    """A student in a list."""

    id: UUID
    name: str
    is_leader: bool


class LeaderIn(Given):
    """Whether a student leads the section."""

    is_leader: bool


class SectionOut(BaseModel):
    """A section and who plays in it."""

    id: UUID
    name: str
    students: list[StudentRow]


class SectionIn(Given):
    """A new section."""

    name: Line


class StudentsIn(Given):
    """New students, by name."""

    names: Annotated[list[Annotated[str, StringConstraints(max_length=80)]], Field(max_length=100)]


class PinOut(BaseModel):
    """A PIN in clear, shown once."""

    student_id: UUID
    name: str
    pin: str
