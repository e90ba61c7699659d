"""Queries of section leaders, and of students who agreed to be counted."""

from collections.abc import Sequence
from typing import NamedTuple
from uuid import UUID

from sqlalchemy import select, update
from sqlalchemy.orm import Session, aliased

from crumb.store import tables as t


class Led(NamedTuple):
    """A section somebody plays in and one of its leaders."""

    section_id: UUID
    section: str
    shows: bool
    leader_id: UUID
    leader: str


def sections_with_leaders(session: Session, student_id: UUID) -> Sequence[Led]:
    """The sections a student plays in, a row for each of their leaders."""
    leads = aliased(t.SectionMember)
    rows = session.execute(
        select(
            t.Section.id, t.Section.name, t.SectionMember.shows_leader, t.Person.id, t.Person.name
        )
        .join(t.SectionMember, t.SectionMember.section_id == t.Section.id)
        .join(leads, leads.section_id == t.Section.id)
        .join(t.Person, t.Person.id == leads.person_id)
        .where(t.SectionMember.person_id == student_id, leads.is_leader)
        .order_by(t.Section.name, t.Person.name)
    )
    return [Led(*row) for row in rows]


def showing(session: Session, section_id: UUID) -> Sequence[UUID]:
    """Players of a section who let their leader see how far they are."""
    return session.scalars(
        select(t.SectionMember.person_id).where(
            t.SectionMember.section_id == section_id, t.SectionMember.shows_leader
        )
    ).all()


def set_shows(session: Session, student_id: UUID, section_id: UUID, *, shows: bool) -> bool:
    """Let the leader see it or not; whether the student plays there."""
    found = session.execute(
        update(t.SectionMember)
        .where(t.SectionMember.person_id == student_id, t.SectionMember.section_id == section_id)
        .values(shows_leader=shows)
        .returning(t.SectionMember.person_id)
    ).first()
    return found is not None
