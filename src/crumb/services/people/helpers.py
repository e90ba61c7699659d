"""Everybody who helps: who they are, whom they look after, and how they leave."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.vocabulary import Role
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.people.accounts import Help, check_help
from crumb.services.people.roster import get_student
from crumb.store.queries import helping as ask
from crumb.store.tables import Person

_NO_STUDENT = (Role.DIRECTOR, Role.ASSISTANT, Role.HELPER)


@dataclass(frozen=True, slots=True)
class Helping:
    """Somebody with an account who is no student, and whom they look after."""

    person_id: UUID
    name: str
    email: str
    role: Role
    section_ids: tuple[UUID, ...]
    student_id: UUID | None


@dataclass(frozen=True, slots=True)
class Helped:
    """The student that somebody ticks for: sheets in force by code, and when each is due."""

    name: str
    sheets: tuple[tuple[str, date], ...]


def listed(session: Session, actor: Actor) -> list[Helping]:
    """Directors, assistants and helpers of the program who can sign in, by name."""
    people = ask.people_of(session, actor.program_id, _NO_STUDENT)
    charges = ask.charges_of(session, (person.id for person in people))
    return [
        Helping(
            person.id,
            person.name,
            person.email or "",
            Role(person.role),
            tuple(c.section_id for c in charges if c.person_id == person.id and c.section_id),
            next(
                (c.student_id for c in charges if c.person_id == person.id and c.student_id), None
            ),
        )
        for person in people
    ]


def change_sections(
    session: Session, actor: Actor, person_id: UUID, section_ids: Iterable[UUID]
) -> None:
    """Say which sections an assistant looks after from now on.

    Raises:
        NotFound: no such assistant or section.
        NotAccepted: no section at all.
    """
    person = _person(session, actor, person_id, (Role.ASSISTANT,))
    wanted = tuple(section_ids)
    check_help(session, actor, Help(Role.ASSISTANT, wanted))
    ask.give_charges(session, person.id, wanted)


def dismiss(session: Session, actor: Actor, person_id: UUID) -> None:
    """Dismiss a helper: signed out now, and for good, with whom they invited. Their verdicts stay.

    Raises:
        NotFound: nobody of the program who helps.
        NotAccepted: oneself.
    """
    if person_id == actor.person_id:
        raise NotAccepted("You cannot dismiss yourself.")
    person = _person(session, actor, person_id, _NO_STUDENT)
    person.secret_hash, person.email, person.email_key, person.calendar_key = "", None, None, None
    ask.sign_out_everywhere(session, person.id)
    ask.end_invitations_of(session, person.id)
    ask.give_charges(session, person.id, ())


def helped(session: Session, actor: Actor) -> Helped:
    """The student that this person ticks for.

    Raises:
        NotFound: there is none.
    """
    if actor.student_id is None:
        raise NotFound("There is no student that you tick for.")
    student = get_student(session, actor, actor.student_id)
    return Helped(student.name, tuple(ask.sheets_of(session, student.id)))


def _person(session: Session, actor: Actor, person_id: UUID, roles: tuple[Role, ...]) -> Person:
    found = ask.people_of(session, actor.program_id, roles)
    person = next((one for one in found if one.id == person_id), None)
    if person is None:
        raise NotFound("No helper of that name is here.")
    return person
