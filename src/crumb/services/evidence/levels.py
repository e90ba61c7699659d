"""Levels worked out anew: where chunks, goals or versions change, and to prove what is kept.

Whoever calls here holds the locks of ``store.queries.locks``.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Evidence
from crumb.core.mastery.levels import Fold, folds, standing_of
from crumb.core.score.position import Position, Span
from crumb.services.evidence.read import by_student
from crumb.services.library.pieces import PartInHand
from crumb.store.codecs.mastery import fold_from, mastery_row
from crumb.store.queries import evidence as kept
from crumb.store.tables import Chunk, Mastery, PiecePart


@dataclass(frozen=True, slots=True)
class Graded:
    """A part as far as levels depend on it."""

    id: UUID
    goal: Fraction


def graded(session: Session, part_id: UUID) -> Graded:
    """A part, and its goal."""
    goal = session.execute(select(PiecePart.goal_bpm).where(PiecePart.id == part_id)).scalar_one()
    return Graded(part_id, goal)


def refold(
    session: Session,
    part: Graded,
    chunks: Sequence[tuple[UUID, Span]],
    student_id: UUID | None = None,
) -> dict[UUID, int]:
    """Work levels on some chunks out anew, of one student or of everybody who played.

    Returns:
        The level of each chunk, of the one student.
    """
    if not chunks:
        return {}
    found = by_student(session, part.id, student_id)
    if student_id is not None:
        found.setdefault(student_id, [])
    else:
        # Who took everything back stands where a beginner does.
        ids = [chunk_id for chunk_id, _ in chunks]
        for known in session.scalars(
            select(Mastery.student_id).where(Mastery.chunk_id.in_(ids)).distinct()
        ):
            found.setdefault(known, [])
    rows = [
        row for student, played in found.items() for row in _rows(part, chunks, student, played)
    ]
    kept.save_mastery(session, rows)
    return {row["chunk_id"]: row["level"] for row in rows} if student_id is not None else {}


def _rows(
    part: Graded,
    chunks: Sequence[tuple[UUID, Span]],
    student_id: UUID,
    played: Iterable[Evidence],
) -> list[dict[str, Any]]:
    made = folds({span for _, span in chunks}, played)
    return [
        mastery_row(student_id, chunk_id, made[span], standing_of(made[span], part.goal))
        for chunk_id, span in chunks
    ]


def chunks_of_part(session: Session, part_id: UUID) -> list[tuple[UUID, Span]]:
    """Every chunk a part ever had, its landing aside."""
    rows = session.execute(
        select(Chunk.id, Chunk.start_index, Chunk.start_at, Chunk.end_index, Chunk.end_at).where(
            Chunk.part_id == part_id
        )
    )
    return [(row[0], Span(Position(row[1], row[2]), Position(row[3], row[4]))) for row in rows]


def refresh_chunks(session: Session, hand: PartInHand, chunk_ids: Iterable[UUID]) -> None:
    """Bring every student's level on chunks that are new up to date."""
    wanted = set(chunk_ids)
    if wanted:
        chunks = [c for c in chunks_of_part(session, hand.row.id) if c[0] in wanted]
        refold(session, Graded(hand.row.id, hand.row.goal_bpm), chunks)


def refresh_part(session: Session, hand: PartInHand) -> None:
    """Bring every level on a part up to date, after it took the place of another."""
    part = Graded(hand.row.id, hand.row.goal_bpm)
    refold(session, part, chunks_of_part(session, hand.row.id))


def regrade_part(session: Session, hand: PartInHand) -> None:
    """Hold what was proved on a part against its goal, after that changed."""
    rows = session.scalars(
        select(Mastery)
        .join(Chunk, Chunk.id == Mastery.chunk_id)
        .where(Chunk.part_id == hand.row.id)
        .order_by(Mastery.student_id, Mastery.chunk_id)
    )
    for row in rows:
        shown = standing_of(fold_of(row), hand.row.goal_bpm)
        row.level, row.why = shown.level, shown.why
    session.flush()


def fold_of(row: Mastery) -> Fold:
    """What a stored level rests on."""
    return fold_from(
        row.fold,
        clean=row.clean,
        slips=row.slips,
        proved=row.proved_bpm,
        last_at=row.last_played_at,
        last_id=row.last_id,
    )
