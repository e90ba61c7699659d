"""Queries of sections, their members, and students."""

from collections.abc import Iterable, Sequence
from uuid import UUID

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from crumb.core.names import name_key
from crumb.core.vocabulary import Role
from crumb.store.base import ORDER
from crumb.store.tables import Person, Program, Section, SectionMember, SignedIn


def sections_of_program(session: Session, program_id: UUID) -> Sequence[Section]:
    """Sections by name."""
    return session.scalars(
        select(Section)
        .where(Section.program_id == program_id)
        .order_by(Section.name.collate(ORDER))
    ).all()


def members_of_program(session: Session, program_id: UUID) -> list[tuple[UUID, UUID, str]]:
    """Section, player and the player's name, by name."""
    rows = session.execute(
        select(SectionMember.section_id, Person.id, Person.name)
        .join(Person, Person.id == SectionMember.person_id)
        .where(Person.program_id == program_id)
        .order_by(Person.name.collate(ORDER))
    )
    return [(row[0], row[1], row[2]) for row in rows]


def memberships(session: Session, people: Sequence[UUID]) -> list[tuple[UUID, UUID]]:
    """Player and section, of some players."""
    rows = session.execute(
        select(SectionMember.person_id, SectionMember.section_id).where(
            SectionMember.person_id.in_(people)
        )
    )
    return [(row[0], row[1]) for row in rows]


def leaders(session: Session, program_id: UUID) -> list[tuple[UUID, UUID]]:
    """Section and player, of every section leader."""
    rows = session.execute(
        select(SectionMember.section_id, SectionMember.person_id)
        .join(Section, Section.id == SectionMember.section_id)
        .where(Section.program_id == program_id, SectionMember.is_leader)
    )
    return [(row[0], row[1]) for row in rows]


def sections_led(session: Session, person_id: UUID) -> list[UUID]:
    """The sections that somebody leads."""
    return list(
        session.scalars(
            select(SectionMember.section_id).where(
                SectionMember.person_id == person_id, SectionMember.is_leader
            )
        )
    )


def person_of(session: Session, program_id: UUID, person_id: UUID, role: str) -> Person | None:
    """Somebody of a program who has a role there."""
    return session.scalar(
        select(Person).where(
            Person.id == person_id, Person.program_id == program_id, Person.role == role
        )
    )


def taken_names(session: Session, program_id: UUID, role: str, keys: Iterable[str]) -> set[str]:
    """Which of some names, by their keys, somebody of a role has in a program."""
    return set(
        session.scalars(
            select(Person.name_key).where(
                Person.program_id == program_id,
                Person.role == role,
                Person.name_key.in_(list(keys)),
            )
        )
    )


def sign_out(session: Session, person_id: UUID) -> None:
    """End all sessions of somebody."""
    session.execute(delete(SignedIn).where(SignedIn.person_id == person_id))


def is_anybody(session: Session) -> bool:
    """Whether an account was ever made here."""
    return session.scalar(select(Person.id).limit(1)) is not None


def lock_first_account(session: Session) -> None:
    """Wait until nobody else makes the first account; held until the transaction ends."""
    session.execute(select(func.pg_advisory_xact_lock(727_001)))


def by_email(session: Session, email: str) -> Person | None:
    """The person with an e-mail address."""
    return session.scalar(select(Person).where(Person.email_key == name_key(email)))


def student_by_name(session: Session, class_code: str, name: str) -> Person | None:
    """The student of that name in the program with that class code."""
    return session.scalar(
        select(Person)
        .join(Program, Program.id == Person.program_id)
        .where(
            Program.class_code == class_code.strip().upper(),
            Person.name_key == name_key(name),
            Person.role == Role.STUDENT,
        )
    )
