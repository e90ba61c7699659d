"""Queries of symptoms that a director heard."""

from collections.abc import Sequence
from uuid import UUID

from sqlalchemy import ColumnElement, or_, select
from sqlalchemy.orm import Session

from crumb.store.tables import Chunk, Heard, Person


def of_chunk(
    session: Session, chunk_id: UUID, whose: ColumnElement[bool]
) -> list[tuple[Heard, str]]:
    """Open faults of a chunk, the newest first, with their authors."""
    rows = session.execute(
        select(Heard, Person.name)
        .join(Person, Person.id == Heard.by_id)
        .where(Heard.chunk_id == chunk_id, Heard.ended_at.is_(None), whose)
        .order_by(Heard.said_at.desc(), Heard.id)
    )
    return [(row, name) for row, name in rows]


def is_chunk_of(session: Session, part_id: UUID, chunk_id: UUID) -> bool:
    """Whether a part ever had a chunk."""
    found = select(Chunk.id).where(Chunk.id == chunk_id, Chunk.part_id == part_id)
    return session.scalar(found) is not None


def of_student(student_id: UUID, section_ids: Sequence[UUID]) -> ColumnElement[bool]:
    """Faults heard of a student, or of a section they are in."""
    return or_(Heard.student_id == student_id, Heard.section_id.in_(section_ids))


def on_part(session: Session, part_id: UUID) -> Sequence[Heard]:
    """Open faults on a part, of anybody, the oldest first."""
    return session.scalars(
        select(Heard)
        .where(Heard.part_id == part_id, Heard.ended_at.is_(None))
        .order_by(Heard.said_at, Heard.id)
    ).all()


def row_of(session: Session, program_id: UUID, heard_id: UUID) -> Heard | None:
    """One of a program."""
    return session.scalar(select(Heard).where(Heard.id == heard_id, Heard.program_id == program_id))
