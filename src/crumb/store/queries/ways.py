"""Queries of repetitions and ratings of the two ways that a drill compares."""

from collections.abc import Sequence
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.drills.comparison import Rating, Try
from crumb.store import tables as t


def tries(session: Session, item_id: UUID, student_id: UUID) -> list[Try]:
    """The passes of both ways with a click, without what was taken back."""
    rows = session.execute(
        select(t.Evidence.step, t.Evidence.tempo_bpm, t.Evidence.is_clean)
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .where(
            t.Evidence.item_id == item_id,
            t.Evidence.student_id == student_id,
            t.Evidence.step.in_((0, 1)),
            t.Retraction.evidence_id.is_(None),
        )
    )
    return [
        Try(step, tempo, bool(is_clean))
        for step, tempo, is_clean in rows
        if step is not None and tempo is not None
    ]


def ratings(session: Session, item_id: UUID, student_id: UUID) -> list[Rating]:
    """A student's ratings of both ways."""
    rows = session.scalars(
        select(t.WayRating).where(
            t.WayRating.item_id == item_id, t.WayRating.student_id == student_id
        )
    )
    return [Rating(row.way, row.intonation, row.tone) for row in rows]


def keep(
    session: Session, rating_id: UUID, item_id: UUID, student_id: UUID, rating: Rating
) -> None:
    """Keep what was heard of one way; the same rating twice is kept once."""
    session.execute(
        insert(t.WayRating)
        .values(
            id=rating_id,
            item_id=item_id,
            student_id=student_id,
            way=rating.way,
            intonation=rating.intonation,
            tone=rating.tone,
        )
        .on_conflict_do_nothing(index_elements=["id"])
    )


def compared_on(session: Session, student_id: UUID, chunk_id: UUID, drill: str) -> Sequence[UUID]:
    """The comparisons that a student was sent on a chunk, newest first."""
    return session.scalars(
        select(t.AssignmentItem.id)
        .join(t.Assignment, t.Assignment.id == t.AssignmentItem.assignment_id)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .where(
            t.AssignmentItem.chunk_id == chunk_id,
            t.AssignmentItem.drill == drill,
            t.AssignmentStudent.student_id == student_id,
        )
        .order_by(t.Assignment.sent_at.desc())
    ).all()
