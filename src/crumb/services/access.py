"""Actors, their roles and their permissions."""

from collections.abc import Mapping
from dataclasses import dataclass
from uuid import UUID

from crumb.core.vocabulary import Paper, Permission, Role
from crumb.core.words import US
from crumb.services.errors import NotAllowed

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
RIGHT_TEXTS: Mapping[Permission, str] = {
    Permission.READ_MUSIC: "read every part with its chunks and marks",
    Permission.KEEP_MUSIC: "bring in music, split it, make drills",
    Permission.SEND: "send, change and print assignments",
    Permission.SEE_PLAYERS: "see levels and their evidence",
    Permission.HEAR: "judge hearings, and say what you heard",
    Permission.KEEP_PEOPLE: "manage sections, students and helpers",
    Permission.KEEP_ACCOUNT: "change your own password",
    Permission.TICK: "type in a ticked practice sheet",
    Permission.PRACTISE: "practice your own assignments",
}
"""Each right after *may*."""


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

    def demand(self, right: Permission) -> None:
        """Go on only with a right.

        Raises:
            NotAllowed: this person does not have it.
        """
        if not self.may(right):
            raise NotAllowed(f"Your account may not {RIGHT_TEXTS[right]}.")

    def sees(self, section_id: UUID | None) -> bool:
        """Whether a section is among those this person looks after; None is the whole program."""
        return self.sections is None or section_id in self.sections
