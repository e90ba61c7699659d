"""Setting up, signing in, the account."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Given, Line, Secret
from crumb.core.vocabulary import Paper, Permission, Role, SchoolWords


class SetupState(BaseModel):
    """Whether the first director is still to be made."""

    is_empty: bool


class FirstDirector(Given):
    """The first account of a server."""

    program: Line
    name: Line
    email: Annotated[str, StringConstraints(pattern=r"^\S+@\S+$", max_length=200)]
    password: Secret
    time_zone: Annotated[str, StringConstraints(max_length=64)] = "UTC"


class DirectorSignIn(Given):
    """A director's address and password."""

    email: Annotated[str, StringConstraints(max_length=200)]
    password: Secret


class StudentSignIn(Given):
    """A student's sign-in: class code, name, PIN."""

    class_code: Annotated[str, StringConstraints(max_length=12)]
    name: Annotated[str, StringConstraints(max_length=80)]
    pin: Annotated[str, StringConstraints(max_length=12)]


class Me(BaseModel):
    """The signed-in person, and what they may do."""

    name: str
    role: Role
    rights: list[Permission]
    program: str
    class_code: str
    time_zone: str
    words: SchoolWords
    paper: Paper


class PasswordIn(Given):
    """The old password and the new one."""

    old: Secret
    new: Secret


class EndedOut(BaseModel):
    """How many other sessions were ended."""

    ended: int


class ProgramIn(Given):
    """Time zone (Europe/Lisbon, say), words and paper of a school; or some of these."""

    time_zone: Annotated[str, StringConstraints(max_length=64)] | None = None
    words: SchoolWords | None = None
    paper: Paper | None = None


class HelpIn(Given):
    """How somebody is to help: an assistant with sections, a helper with one student."""

    role: Literal[Role.DIRECTOR, Role.ASSISTANT, Role.HELPER]
    section_ids: Annotated[list[UUID], Field(max_length=60)] = []
    student_id: UUID | None = None


class InvitationOut(BaseModel):
    """An invitation for somebody who helps: its token is shown this once."""

    id: UUID
    token: str
    days: int


class InvitedOut(BaseModel):
    """The program and the role of an invitation."""

    program: str
    role: Role


class AcceptIn(Given):
    """The account that somebody was invited to make."""

    name: Line
    email: Annotated[str, StringConstraints(pattern=r"^\S+@\S+$", max_length=200)]
    password: Secret
