"""The mastery projection: kept up to date in the transaction that brings evidence in."""

from collections.abc import Iterable
from datetime import datetime
from fractions import Fraction
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.mastery.levels import Repetition, Standing, standing
from crumb.core.score.position import Position, Span
from crumb.services.music import PartInHand
from crumb.store.tables import Chunk, Mastery, PiecePart, RepetitionRow, Retraction


def chunk_span(chunk: Chunk) -> Span:
    """The span a chunk row holds, its landing aside."""
    return Span(
        Position(chunk.start_index, chunk.start_at), Position(chunk.end_index, chunk.end_at)
    )


def evidence_of(row: RepetitionRow) -> Repetition:
    """A stored repetition as the core sees it."""
    return Repetition(
        span=Span(Position(row.start_index, row.start_at), Position(row.end_index, row.end_at)),
        tempo=row.tempo_bpm,
        is_clean=row.is_clean,
        kind=row.kind,
        as_written=row.as_written,
    )


def standing_repetitions(
    session: Session, part_id: UUID, student_id: UUID | None = None
) -> dict[UUID, list[RepetitionRow]]:
    """What counts, by student: repetitions on a part that were not taken back, as played."""
    query = (
        select(RepetitionRow)
        .outerjoin(Retraction, Retraction.repetition_id == RepetitionRow.id)
        .where(RepetitionRow.part_id == part_id, Retraction.repetition_id.is_(None))
        .order_by(RepetitionRow.played_at, RepetitionRow.id)
    )
    if student_id:
        query = query.where(RepetitionRow.student_id == student_id)
    by_student: dict[UUID, list[RepetitionRow]] = {}
    for row in session.scalars(query):
        by_student.setdefault(row.student_id, []).append(row)
    return by_student


def refresh_student(session: Session, part: PiecePart, student_id: UUID, spans: list[Span]) -> None:
    """Bring a student's levels up to date for the chunks inside these spans."""
    chunks = [
        chunk
        for chunk in session.scalars(select(Chunk).where(Chunk.part_id == part.id))
        if any(span.covers(chunk_span(chunk)) for span in spans)
    ]
    rows = standing_repetitions(session, part.id, student_id).get(student_id, [])
    for chunk in chunks:
        _save(session, student_id, chunk, _standing(chunk, part.goal_bpm, rows), _last(chunk, rows))


def refresh_chunks(session: Session, hand: PartInHand, chunk_ids: Iterable[UUID]) -> None:
    """Bring every student's level on these chunks up to date."""
    wanted = list(chunk_ids)
    if not wanted:
        return
    by_student = standing_repetitions(session, hand.row.id)
    chunks = session.scalars(select(Chunk).where(Chunk.id.in_(wanted))).all()
    for chunk in chunks:
        for student_id, rows in by_student.items():
            made = _standing(chunk, hand.row.goal_bpm, rows)
            _save(session, student_id, chunk, made, _last(chunk, rows))


def refresh_part(session: Session, hand: PartInHand) -> None:
    """Bring every level on a part up to date, after its goal changed."""
    ids = session.scalars(select(Chunk.id).where(Chunk.part_id == hand.row.id)).all()
    refresh_chunks(session, hand, ids)


def rebuild(session: Session) -> list[tuple[UUID, UUID, int, int]]:
    """Work out every level anew from evidence, store it, and say where the stored one differed.

    Returns:
        (student, chunk, stored level, true level) for each that differed.
    """
    differing = []
    for part in session.scalars(select(PiecePart)).all():
        by_student = standing_repetitions(session, part.id)
        for chunk in session.scalars(select(Chunk).where(Chunk.part_id == part.id)).all():
            for student_id, rows in by_student.items():
                true = _standing(chunk, part.goal_bpm, rows)
                stored = session.get(Mastery, (student_id, chunk.id))
                before = stored.level if stored else 0
                if before != true.level:
                    differing.append((student_id, chunk.id, before, true.level))
                _save(session, student_id, chunk, true, _last(chunk, rows))
    session.commit()
    return differing


def _standing(chunk: Chunk, goal: Fraction, rows: list[RepetitionRow]) -> Standing:
    return standing(chunk_span(chunk), goal, (evidence_of(row) for row in rows))


def _last(chunk: Chunk, rows: list[RepetitionRow]) -> datetime | None:
    span = chunk_span(chunk)
    return max((r.played_at for r in rows if evidence_of(r).span.covers(span)), default=None)


def _save(
    session: Session, student_id: UUID, chunk: Chunk, made: Standing, last: datetime | None
) -> None:
    values = {
        "level": made.level,
        "proved_bpm": made.proved_tempo,
        "why": made.why,
        "clean": made.clean,
        "slips": made.slips,
        "last_played_at": last,
    }
    if not made.clean and not made.slips and session.get(Mastery, (student_id, chunk.id)) is None:
        return
    session.execute(
        insert(Mastery)
        .values(student_id=student_id, chunk_id=chunk.id, **values)
        .on_conflict_do_update(index_elements=["student_id", "chunk_id"], set_=values),
        execution_options={"populate_existing": True},
    )
