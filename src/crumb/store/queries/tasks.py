"""Queries of take tasks, and of the styles of passages."""

from collections.abc import Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import NamedTuple
from uuid import UUID

from sqlalchemy import delete, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.vocabulary import TakeState
from crumb.store import tables as t


class TakeOn(NamedTuple):
    """A take that can count: whose, of what, how long once it is ready, since when it is there."""

    student_id: UUID
    chunk_id: UUID
    seconds: Decimal | None
    handed_in_at: datetime


def task_of(session: Session, program_id: UUID, task_id: UUID) -> t.TakeTask | None:
    """A task of a program."""
    return session.scalar(
        select(t.TakeTask).where(t.TakeTask.id == task_id, t.TakeTask.program_id == program_id)
    )


def standing(session: Session, section_ids: Sequence[UUID], since: date) -> Sequence[t.TakeTask]:
    """Tasks of some sections that stand and are due on a day or after it, the next due first."""
    return session.scalars(
        select(t.TakeTask)
        .where(
            t.TakeTask.section_id.in_(section_ids),
            t.TakeTask.due_on >= since,
            t.TakeTask.withdrawn_at.is_(None),
        )
        .order_by(t.TakeTask.due_on, t.TakeTask.made_at)
    ).all()


def sections_of(session: Session, student_id: UUID) -> Sequence[UUID]:
    """The sections a student plays in."""
    return session.scalars(
        select(t.SectionMember.section_id).where(t.SectionMember.person_id == student_id)
    ).all()


def choices_of(session: Session, task_ids: Sequence[UUID]) -> Sequence[tuple[t.TakeChoice, str]]:
    """Passages that tasks ask for, of music that is there, in order, with the piece's title."""
    rows = session.execute(
        select(t.TakeChoice, t.Piece.title)
        .join(t.PiecePart, t.PiecePart.id == t.TakeChoice.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .where(
            t.TakeChoice.task_id.in_(task_ids),
            t.Piece.deleted_at.is_(None),
            t.Piece.replaced_by_id.is_(None),
        )
        .order_by(t.TakeChoice.task_id, t.TakeChoice.thing, t.TakeChoice.place)
    )
    return [(row[0], row[1]) for row in rows]


def takes_on(
    session: Session, chunk_ids: Sequence[UUID], student_ids: Sequence[UUID]
) -> Sequence[TakeOn]:
    """Takes of some students on some chunks; those that could not be read do not count."""
    rows = session.execute(
        select(t.Take.student_id, t.Take.chunk_id, t.Take.seconds, t.Take.handed_in_at).where(
            t.Take.chunk_id.in_(chunk_ids),
            t.Take.student_id.in_(student_ids),
            t.Take.state != TakeState.FAILED,
        )
    )
    return [TakeOn(*row) for row in rows]


def styles_of(session: Session, part_id: UUID) -> Sequence[tuple[t.StyleBrief, t.Chunk]]:
    """Notes on the style of a part's passages, in the order of the music."""
    rows = session.execute(
        select(t.StyleBrief, t.Chunk)
        .join(t.Chunk, t.Chunk.id == t.StyleBrief.chunk_id)
        .where(t.StyleBrief.part_id == part_id)
        .order_by(t.Chunk.start_index, t.Chunk.start_at, t.Chunk.end_index)
    )
    return [(row[0], row[1]) for row in rows]


def set_style(session: Session, part_id: UUID, chunk_id: UUID, text: str, by_id: UUID) -> None:
    """Say how a passage is to be played; with no words, say nothing any more."""
    if not text:
        session.execute(delete(t.StyleBrief).where(t.StyleBrief.chunk_id == chunk_id))
        return
    said = {"text": text, "by_id": by_id, "said_at": func.now()}
    row = insert(t.StyleBrief).values(chunk_id=chunk_id, part_id=part_id, **said)
    session.execute(row.on_conflict_do_update(index_elements=["chunk_id"], set_=said))
