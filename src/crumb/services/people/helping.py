"""Everybody who helps: who they are, whom they look after, and how they leave."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from crumb.services.errors import NotAccepted, NotFound
from crumb.services.people.accounts import Help, check_help, give_charges
from crumb.services.people.roster import get_student
from crumb.services.who import Role, Who
from crumb.store.base import ORDER
from crumb.store.tables import Assignment, Charge, Person, Sheet, SignedIn

_HELP = (Role.ASSISTANT, Role.HELPER)


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


def listed(session: Session, who: Who) -> list[Helping]:
    """Directors, assistants and helpers of the program who can sign in, by name."""
    people = session.scalars(
        select(Person)
        .where(
            Person.program_id == who.program_id,
            Person.role != Role.STUDENT,
            Person.secret_hash != "",
        )
        .order_by(Person.name.collate(ORDER))
    ).all()
    charges = session.scalars(
        select(Charge).where(Charge.person_id.in_([person.id for person in people]))
    ).all()
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
    session: Session, who: Who, person_id: UUID, section_ids: Iterable[UUID]
) -> None:
    """Say which sections an assistant looks after from now on.

    Raises:
        NotFound: no such assistant or section.
        NotAccepted: no section at all.
    """
    person = _person(session, who, person_id, (Role.ASSISTANT,))
    wanted = tuple(section_ids)
    check_help(session, who, Help(Role.ASSISTANT, wanted))
    give_charges(session, person.id, wanted)
    session.commit()


def dismiss(session: Session, who: Who, person_id: UUID) -> None:
    """Whoever helped does so no more: signed out now, and for good. What they judged stays.

    Raises:
        NotFound: nobody of the program who helps.
        NotAccepted: oneself.
    """
    if person_id == who.person_id:
        raise NotAccepted("You cannot dismiss yourself.")
    person = _person(session, who, person_id, (*_HELP, Role.DIRECTOR))
    person.secret_hash, person.email, person.email_key, person.calendar_key = "", None, None, None
    session.execute(delete(SignedIn).where(SignedIn.person_id == person.id))
    give_charges(session, person.id, ())
    session.commit()


def helped(session: Session, who: Who) -> Helped:
    """The student that this person ticks for.

    Raises:
        NotFound: there is none.
    """
    if who.student_id is None:
        raise NotFound("There is no student that you tick for.")
    student = get_student(session, who, who.student_id)
    rows = session.execute(
        select(Sheet.code, Assignment.due_on)
        .join(Assignment, Assignment.id == Sheet.assignment_id)
        .where(Sheet.student_id == student.id, Assignment.withdrawn_at.is_(None))
        .order_by(Assignment.due_on.desc(), Sheet.code)
    )
    return Helped(student.name, tuple((row[0], row[1]) for row in rows))


def _person(session: Session, who: Who, person_id: UUID, roles: tuple[Role, ...]) -> Person:
    person = session.scalar(
        select(Person).where(
            Person.id == person_id,
            Person.program_id == who.program_id,
            Person.role.in_(roles),
            Person.secret_hash != "",
        )
    )
    if person is None:
        raise NotFound("There is nobody like that who helps.")
    return person
