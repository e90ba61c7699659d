"""Actors, their roles and their permissions."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from uuid import UUID

from crumb.core.vocabulary import Paper, Role
from crumb.core.words import US


class Permission(StrEnum):
    """What somebody may do; a role is no more than its rights."""

    READ_MUSIC = "read every part with its chunks and marks"
    KEEP_MUSIC = "bring in music, split it, make drills"
    SEND = "send, change and print assignments"
    SEE_PLAYERS = "see levels and their evidence"
    HEAR = "judge hearings, and say what you heard"
    KEEP_PEOPLE = "manage sections, students and helpers"
    KEEP_ACCOUNT = "change your own password"
    TICK = "type in a ticked practice sheet"
    PRACTISE = "practice your own assignments"


RIGHTS: Mapping[Role, frozenset[Permission]] = {
    Role.DIRECTOR: frozenset(Permission) - {Permission.PRACTISE},
    Role.ASSISTANT: frozenset(
        {Permission.READ_MUSIC, Permission.SEE_PLAYERS, Permission.HEAR, Permission.KEEP_ACCOUNT}
    ),
    Role.HELPER: frozenset({Permission.TICK, Permission.KEEP_ACCOUNT}),
    Role.STUDENT: frozenset({Permission.PRACTISE, Permission.TICK}),
}
"""The one table of rights. An assistant has theirs for their sections, a helper for one student, a
student for themselves."""


@dataclass(frozen=True, slots=True)
class Actor:
    """The signed-in person; every query is scoped by ``program_id``.

    ``sections`` are those an assistant looks after (None: everybody's), ``student_id`` is the one a
    helper ticks for.
    """

    person_id: UUID
    program_id: UUID
    role: Role
    name: str = ""
    program_name: str = ""
    class_code: str = ""
    time_zone: str = "UTC"
    words: str = US
    paper: str = Paper.US_LETTER
    sections: frozenset[UUID] | None = None
    student_id: UUID | None = None

    def may(self, right: Permission) -> bool:
        """Whether this person has a right."""
        return right in RIGHTS[self.role]

    def sees(self, section_id: UUID | None) -> bool:
        """Whether a section is among those this person looks after; None is the whole program."""
        return self.sections is None or section_id in self.sections
