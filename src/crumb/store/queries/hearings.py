"""Queries of hearings, and of faults that several students share."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from crumb.store import tables as t


def known(session: Session, hearing_id: UUID) -> t.Hearing | None:
    """A hearing by its id."""
    return session.get(t.Hearing, hearing_id)


def of_chunk(
    session: Session, chunk_id: UUID, student_ids: Sequence[UUID]
) -> dict[UUID, tuple[t.Hearing, str]]:
    """The last hearing of each of some students on a chunk that still stands, and who judged."""
    whose = t.Hearing.student_id.in_(student_ids)
    found = _standing(session, t.Hearing.chunk_id == chunk_id, whose)
    return {row.student_id: (row, name) for row, name in found}


def of_student(session: Session, student_id: UUID) -> dict[UUID, tuple[t.Hearing, str]]:
    """The last hearing of a student on each chunk that still stands, and who judged."""
    found = _standing(session, t.Hearing.student_id == student_id)
    return {row.chunk_id: (row, name) for row, name in found}


def _standing(session: Session, *which: ColumnElement[bool]) -> list[tuple[t.Hearing, str]]:
    """Hearings that were not taken back, the newest last, with who judged."""
    rows = session.execute(
        select(t.Hearing, t.Person.name)
        .join(t.Person, t.Person.id == t.Hearing.by_id)
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Hearing.evidence_id)
        .where(*which, t.Retraction.evidence_id.is_(None))
        .order_by(t.Hearing.heard_at)
    )
    return [(row, name) for row, name in rows]


def faults_on(session: Session, part_id: UUID) -> Sequence[Any]:
    """Open faults heard of students on a part: chunk, symptom, student, name."""
    return session.execute(
        select(t.Heard.chunk_id, t.Heard.symptom, t.Person.id, t.Person.name)
        .join(t.Person, t.Person.id == t.Heard.student_id)
        .where(t.Heard.part_id == part_id, t.Heard.ended_at.is_(None))
        .order_by(t.Heard.chunk_id, t.Heard.symptom, t.Person.name)
        .distinct()
    ).all()


def standing_on(session: Session, student_id: UUID, chunk_id: UUID) -> tuple[int, str]:
    """The level of a student on a chunk as it is kept, and why."""
    found = session.execute(
        select(t.Mastery.level, t.Mastery.why).where(
            t.Mastery.student_id == student_id, t.Mastery.chunk_id == chunk_id
        )
    ).one_or_none()
    return (0, "") if found is None else (found.level, found.why)
