"""Queries of takes."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from uuid import UUID

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from crumb.core.vocabulary import TakeState
from crumb.store import tables as t


def take_of(session: Session, program_id: UUID, take_id: UUID) -> t.Take | None:
    """A take of a program."""
    return session.scalar(
        select(t.Take).where(t.Take.id == take_id, t.Take.program_id == program_id)
    )


def any_take(session: Session, take_id: UUID) -> t.Take | None:
    """A take by its id, whoever's it is."""
    return session.get(t.Take, take_id)


def of_student(session: Session, student_id: UUID) -> Sequence[t.Take]:
    """A student's takes, the newest first."""
    return session.scalars(
        select(t.Take)
        .where(t.Take.student_id == student_id)
        .order_by(t.Take.recorded_at.desc(), t.Take.id)
    ).all()


def kept_by(session: Session, student_id: UUID) -> tuple[int, int]:
    """How many takes of a student are kept, and how many bytes they have."""
    row = session.execute(
        select(func.count(), func.coalesce(func.sum(t.Take.bytes), 0)).where(
            t.Take.student_id == student_id
        )
    ).one()
    return row[0], int(row[1])


def on_chunk(
    session: Session, chunk_id: UUID, student_ids: Sequence[UUID]
) -> dict[UUID, list[t.Take]]:
    """Takes of some students on a chunk that can be heard, the newest first."""
    rows = session.scalars(
        select(t.Take)
        .where(
            t.Take.chunk_id == chunk_id,
            t.Take.student_id.in_(student_ids),
            t.Take.state == TakeState.READY,
        )
        .order_by(t.Take.recorded_at.desc(), t.Take.id)
    )
    found: dict[UUID, list[t.Take]] = {}
    for row in rows:
        found.setdefault(row.student_id, []).append(row)
    return found


def unheard(session: Session, program_id: UUID) -> Sequence[tuple[UUID, UUID, UUID, datetime]]:
    """Takes that nobody heard yet: part, chunk, student, when handed in; the oldest first."""
    rows = session.execute(
        select(t.Take.part_id, t.Take.chunk_id, t.Take.student_id, t.Take.handed_in_at)
        .join(t.PiecePart, t.PiecePart.id == t.Take.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .where(
            t.Take.program_id == program_id,
            t.Take.state == TakeState.READY,
            t.Take.hearing_id.is_(None),
            t.Piece.deleted_at.is_(None),
        )
        .order_by(t.Take.handed_in_at)
    )
    return [(row[0], row[1], row[2], row[3]) for row in rows]


def over(session: Session) -> Sequence[UUID]:
    """Takes whose weeks are over, those handed in first before the others."""
    weeks = t.Program.take_weeks * timedelta(weeks=1)
    return session.scalars(
        select(t.Take.id)
        .join(t.Program, t.Program.id == t.Take.program_id)
        .where(t.Take.handed_in_at + weeks < func.now())
        .order_by(t.Take.handed_in_at)
    ).all()


def erase(session: Session, take_id: UUID) -> str | None:
    """Delete a take as it is now; the key of its sound, None if it is gone already.

    Whoever is making its sound playable has ended, or finds it gone.
    """
    return session.scalar(delete(t.Take).where(t.Take.id == take_id).returning(t.Take.sound))


def rules_of(session: Session, program_id: UUID) -> tuple[bool, int]:
    """Whether a program has takes, and for how many weeks it keeps them."""
    row = session.execute(
        select(t.Program.has_takes, t.Program.take_weeks).where(t.Program.id == program_id)
    ).one()
    return row[0], row[1]


def set_rules(session: Session, program_id: UUID, *, is_on: bool, weeks: int) -> None:
    """Say whether a program has takes, and for how long."""
    session.execute(
        update(t.Program)
        .where(t.Program.id == program_id)
        .values(has_takes=is_on, take_weeks=weeks)
    )
