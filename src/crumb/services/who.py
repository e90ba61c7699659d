"""Who is asking, and what they may do."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from uuid import UUID

from crumb.core.words import US


class Role(StrEnum):
    """What somebody is in a program."""

    DIRECTOR = "director"
    STUDENT = "student"


class Right(StrEnum):
    """What somebody may do; a role is no more than its rights."""

    KEEP_MUSIC = "bring music in, divide it, make drills of it"
    SEND = "send work, change it, print it"
    SEE_PLAYERS = "see how everybody stands and what that rests on"
    HEAR = "judge what is played, and say what was heard"
    KEEP_PEOPLE = "keep sections, students and other directors"
    PRACTISE = "practice what was sent to oneself"
    READ_ALL = "read every part, and what is written into it"


RIGHTS: Mapping[Role, frozenset[Right]] = {
    Role.DIRECTOR: frozenset(Right) - {Right.PRACTISE},
    Role.STUDENT: frozenset({Right.PRACTISE}),
}


@dataclass(frozen=True, slots=True)
class Who:
    """The signed-in person; every query is scoped by ``program_id``."""

    person_id: UUID
    program_id: UUID
    role: Role
    name: str = ""
    program_name: str = ""
    class_code: str = ""
    time_zone: str = "UTC"
    words: str = US
    paper: str = "us-letter"

    def may(self, right: Right) -> bool:
        """Whether this person has a right."""
        return right in RIGHTS[self.role]
