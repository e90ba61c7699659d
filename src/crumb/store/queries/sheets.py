"""Queries of practice sheets: codes, owners, ticked boxes."""

from collections.abc import Sequence
from fractions import Fraction
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Source
from crumb.store import tables as t
from crumb.store.base import ORDER

Receiver = tuple[t.Assignment, str, UUID, str]
"""What was sent, in which section, to whom, and their name."""


def receivers_in_order(session: Session, program_id: UUID, sending_id: UUID) -> list[Receiver]:
    """Everybody who was sent something in one go, by section and name."""
    rows = session.execute(
        select(t.Assignment, t.Section.name, t.Person.id, t.Person.name)
        .join(t.Section, t.Section.id == t.Assignment.section_id)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .join(t.Person, t.Person.id == t.AssignmentStudent.student_id)
        .where(t.Assignment.sending_id == sending_id, t.Assignment.program_id == program_id)
        .order_by(t.Section.name.collate(ORDER), t.Person.name.collate(ORDER))
    )
    return [(row[0], row[1], row[2], row[3]) for row in rows]


def code_of(session: Session, assignment_id: UUID, student_id: UUID) -> str | None:
    """The code of a student's sheet, if one was printed."""
    return session.scalar(
        select(t.Sheet.code).where(
            t.Sheet.assignment_id == assignment_id, t.Sheet.student_id == student_id
        )
    )


def sheet_with(
    session: Session, program_id: UUID, code: str
) -> tuple[t.Sheet, t.Assignment] | None:
    """The sheet of a program with a code, and what was sent on it."""
    row = session.execute(
        select(t.Sheet, t.Assignment)
        .join(t.Assignment, t.Assignment.id == t.Sheet.assignment_id)
        .where(t.Sheet.code == code, t.Sheet.program_id == program_id)
    ).one_or_none()
    return None if row is None else (row[0], row[1])


def ticked(
    session: Session, student_id: UUID, item_ids: Sequence[UUID]
) -> dict[UUID, set[Fraction]]:
    """The tempos that a student ticked on paper, by drill."""
    rows = session.execute(
        select(t.Evidence.item_id, t.Evidence.tempo_bpm)
        .where(
            t.Evidence.item_id.in_(item_ids),
            t.Evidence.student_id == student_id,
            t.Evidence.source == Source.PAPER,
        )
        .distinct()
    )
    found: dict[UUID, set[Fraction]] = {item_id: set() for item_id in item_ids}
    for item_id, tempo in rows:
        if item_id is not None and tempo is not None:
            found[item_id].add(tempo)
    return found
