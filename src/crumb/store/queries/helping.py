"""Queries of assistants, helpers and directors, and whom they look after."""

from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime
from uuid import UUID, uuid4

from sqlalchemy import Select, delete, select
from sqlalchemy.orm import Session

from crumb.store import tables as t
from crumb.store.base import ORDER


def people_of(session: Session, program_id: UUID, roles: Iterable[str]) -> Sequence[t.Person]:
    """People of some roles who can sign in, by name."""
    return session.scalars(
        select(t.Person)
        .where(
            t.Person.program_id == program_id,
            t.Person.role.in_(list(roles)),
            t.Person.secret_hash != "",
        )
        .order_by(t.Person.name.collate(ORDER))
    ).all()


def charges_of(session: Session, people: Iterable[UUID]) -> Sequence[t.Charge]:
    """The charges of some helpers."""
    return session.scalars(select(t.Charge).where(t.Charge.person_id.in_(list(people)))).all()


def give_charges(
    session: Session, person_id: UUID, section_ids: Iterable[UUID], student_id: UUID | None = None
) -> None:
    """Say whom somebody looks after from now on, in the place of what was before."""
    session.execute(delete(t.Charge).where(t.Charge.person_id == person_id))
    session.add_all(
        t.Charge(id=uuid4(), person_id=person_id, section_id=section_id)
        for section_id in dict.fromkeys(section_ids)
    )
    if student_id is not None:
        session.add(t.Charge(id=uuid4(), person_id=person_id, student_id=student_id))
    session.flush()


def sign_out_everywhere(session: Session, person_id: UUID) -> None:
    """End every session of somebody."""
    session.execute(delete(t.SignedIn).where(t.SignedIn.person_id == person_id))


def sheets_of(session: Session, student_id: UUID) -> list[tuple[str, date]]:
    """A student's practice sheets in force by code, and when each is due; the latest first."""
    rows = session.execute(
        select(t.Sheet.code, t.Assignment.due_on)
        .join(t.Assignment, t.Assignment.id == t.Sheet.assignment_id)
        .where(t.Sheet.student_id == student_id, t.Assignment.withdrawn_at.is_(None))
        .order_by(t.Assignment.due_on.desc(), t.Sheet.code)
    )
    return [(row[0], row[1]) for row in rows]


def invitation_by(session: Session, token_hash: bytes, *, for_use: bool) -> t.Invitation | None:
    """An invitation that can still be used; locked where it is about to be used."""
    query = _open().where(t.Invitation.token_hash == token_hash)
    return session.scalar(query.with_for_update(of=t.Invitation) if for_use else query)


def open_invitations(session: Session, program_id: UUID) -> list[tuple[t.Invitation, str]]:
    """Every invitation of a program that can still be used, and the name of who made it."""
    rows = session.execute(
        _open()
        .add_columns(t.Person.name)
        .where(t.Invitation.program_id == program_id)
        .order_by(t.Invitation.expires_at, t.Invitation.id)
    )
    return [(row[0], row[1]) for row in rows]


def _open() -> Select[t.Invitation]:
    """Neither used nor run out, and made by somebody who can still sign in."""
    return (
        select(t.Invitation)
        .join(t.Person, t.Person.id == t.Invitation.made_by)
        .where(
            t.Invitation.used_at.is_(None),
            t.Invitation.expires_at > datetime.now(UTC),
            t.Person.secret_hash != "",
        )
    )


def end_invitation(session: Session, program_id: UUID, invitation_id: UUID) -> bool:
    """Delete an invitation of a program that was not used; whether there was one."""
    gone = session.scalar(
        delete(t.Invitation)
        .where(
            t.Invitation.id == invitation_id,
            t.Invitation.program_id == program_id,
            t.Invitation.used_at.is_(None),
        )
        .returning(t.Invitation.id)
    )
    return gone is not None


def end_invitations_of(session: Session, person_id: UUID) -> None:
    """Delete the invitations that somebody made and nobody used."""
    session.execute(
        delete(t.Invitation).where(
            t.Invitation.made_by == person_id, t.Invitation.used_at.is_(None)
        )
    )
