"""Queries of the Desk: practice of the last days, due chunks, dates ahead, lines put off."""

from collections.abc import Sequence
from datetime import UTC, date, datetime, time
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.store import tables as t


def put_off_until(session: Session, person_id: UUID, today: date) -> set[str]:
    """Lines that somebody does not want to see today."""
    return set(
        session.scalars(
            select(t.PutOff.line).where(t.PutOff.person_id == person_id, t.PutOff.until > today)
        )
    )


def put_off(session: Session, person_id: UUID, line: str, until: date) -> None:
    """Keep a line away until a day; a day that has come brings it back."""
    row = {"person_id": person_id, "line": line, "until": until}
    session.execute(
        insert(t.PutOff)
        .values(row)
        .on_conflict_do_update(index_elements=["person_id", "line"], set_={"until": until})
    )


def last_days(
    session: Session, program_id: UUID, today: date
) -> list[tuple[UUID, datetime, datetime | None]]:
    """Students with open work, when it was first sent to them, and when each practised last.

    Work is open that is not withdrawn and not over yet.
    """
    last = (
        select(func.max(t.Mastery.last_played_at))
        .where(t.Mastery.student_id == t.AssignmentStudent.student_id)
        .correlate(t.AssignmentStudent)
        .scalar_subquery()
    )
    rows = session.execute(
        select(t.AssignmentStudent.student_id, func.min(t.Assignment.sent_at), last)
        .join(t.Assignment, t.Assignment.id == t.AssignmentStudent.assignment_id)
        .where(
            t.Assignment.program_id == program_id,
            t.Assignment.withdrawn_at.is_(None),
            t.Assignment.due_on >= today,
        )
        .group_by(t.AssignmentStudent.student_id)
    )
    return [(row[0], row[1], row[2]) for row in rows]


def week_on(session: Session, student_ids: Sequence[UUID], since: date) -> Sequence[Any]:
    """Practice on each drill since a day: days, clean repetitions, slips, levels.

    By student, so that it reads their last days alone.
    """
    if not student_ids:
        return []
    recent = (
        select(
            t.Evidence.item_id,
            t.Evidence.student_id,
            func.count(t.Evidence.local_day.distinct()).label("days"),
            func.count().filter(t.Evidence.is_clean.is_(True)).label("clean"),
            func.count().filter(t.Evidence.is_clean.is_(False)).label("slips"),
        )
        .where(
            t.Evidence.student_id.in_(student_ids),
            t.Evidence.played_at >= datetime.combine(since, time.min, UTC),
            t.Evidence.item_id.is_not(None),
        )
        .group_by(t.Evidence.item_id, t.Evidence.student_id)
        .subquery()
    )
    return session.execute(
        select(
            recent.c.student_id,
            t.Assignment.part_id,
            t.AssignmentItem.chunk_id,
            recent.c.days,
            recent.c.clean,
            recent.c.slips,
            t.ClimbRow.tempo,
            t.AssignmentItem.goal_bpm,
        )
        .join(t.AssignmentItem, t.AssignmentItem.id == recent.c.item_id)
        .join(t.Assignment, t.Assignment.id == t.AssignmentItem.assignment_id)
        .join(
            t.ClimbRow,
            (t.ClimbRow.item_id == recent.c.item_id)
            & (t.ClimbRow.student_id == recent.c.student_id),
        )
        .where(t.ClimbRow.is_finished.is_(False), recent.c.days >= 2)
    ).all()


def due_before(session: Session, program_id: UUID, day: date) -> Sequence[Any]:
    """Chunks that were kept and are due since before a day: student, part, chunk, since when.

    Only those of maps as they are now.
    """
    in_force = (
        select(t.PartMap.part_id, func.unnest(t.ChunkMapVersion.chunk_ids).label("chunk_id"))
        .join(
            t.ChunkMapVersion,
            (t.ChunkMapVersion.map_id == t.PartMap.id)
            & (t.ChunkMapVersion.number == t.PartMap.cursor),
        )
        .join(t.PiecePart, t.PiecePart.id == t.PartMap.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .where(
            t.PiecePart.program_id == program_id,
            t.Piece.deleted_at.is_(None),
            t.Piece.replaced_by_id.is_(None),
        )
        .distinct()
        .subquery()
    )
    return session.execute(
        select(t.Mastery.student_id, in_force.c.part_id, t.Mastery.chunk_id, t.Mastery.due_on)
        .join(in_force, in_force.c.chunk_id == t.Mastery.chunk_id)
        .where(t.Mastery.due_on < day)
    ).all()


def dates_ahead(session: Session, program_id: UUID, today: date) -> Sequence[Any]:
    """Plans in force with what they are of, the nearest date first."""
    return session.execute(
        select(
            t.PlanRow.id,
            t.Piece.title,
            t.PiecePart.name.label("part"),
            t.Section.name.label("section"),
            t.PlanRow.section_id,
            t.PlanRow.ends_on,
            t.Piece.id.label("piece_id"),
        )
        .join(t.PiecePart, t.PiecePart.id == t.PlanRow.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .join(t.Section, t.Section.id == t.PlanRow.section_id)
        .where(
            t.PlanRow.program_id == program_id,
            t.PlanRow.withdrawn_at.is_(None),
            t.PlanRow.ends_on >= today,
            t.Piece.deleted_at.is_(None),
        )
        .order_by(t.PlanRow.ends_on, t.PiecePart.place)
    ).all()
