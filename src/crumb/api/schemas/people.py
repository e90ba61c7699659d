"""Sections and students."""

from datetime import date, datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Given, Line
from crumb.api.spoken import Said
from crumb.core.vocabulary import Role


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


class HelpingOut(BaseModel):
    """Somebody with an account who is no student, and whom they look after."""

    id: UUID
    name: str
    email: str
    role: Role
    section_ids: list[UUID]
    student_id: UUID | None
    is_me: bool


class RightsOut(BaseModel):
    """Something that can be done, in words, and what kinds of account may do it."""

    say: Said
    roles: list[Role]


class OpenInvitationOut(BaseModel):
    """An invitation that can still be used."""

    id: UUID
    role: Role
    section_ids: list[UUID]
    student_id: UUID | None
    made_by: str
    expires_at: datetime


class PeopleWhoHelpOut(BaseModel):
    """Everybody who helps, open invitations, and the one table of rights."""

    people: list[HelpingOut]
    invitations: list[OpenInvitationOut]
    rights: list[RightsOut]


class SectionsIn(Given):
    """The sections that an assistant looks after."""

    section_ids: Annotated[list[UUID], Field(min_length=1, max_length=60)]


class HelpedSheet(BaseModel):
    """A practice sheet by its code."""

    code: str
    due_on: date


class HelpedOut(BaseModel):
    """The student that somebody ticks for."""

    name: str
    sheets: list[HelpedSheet]
