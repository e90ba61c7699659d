"""The mastery projection: kept up to date in the transaction that brings evidence in."""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from datetime import datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.mastery.levels import Repetition, standings
from crumb.core.score.matching import carried_span
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


Played = tuple[Repetition, datetime]
"""A repetition and when it was played."""


def standing_repetitions(
    session: Session, part_id: UUID, student_id: UUID | None = None
) -> dict[UUID, list[Played]]:
    """What counts, by student: repetitions on a part that were not taken back, as played.

    What was played on an earlier version of the part counts where the music is the same.
    """
    replaces, carried = session.execute(
        select(PiecePart.replaces_id, PiecePart.carried).where(PiecePart.id == part_id)
    ).one()
    found = _own_repetitions(session, part_id, student_id)
    if replaces is None:
        return found
    moved = {int(a): b for a, b in carried.items()}
    spans: dict[Span, Span | None] = {}
    for student, rows in standing_repetitions(session, replaces, student_id).items():
        kept: list[Played] = []
        for made, at in rows:
            if made.span not in spans:
                spans[made.span] = carried_span(made.span, moved)
            span = spans[made.span]
            if span is not None:
                kept.append((replace(made, span=span), at))
        found[student] = sorted([*kept, *found.get(student, [])], key=lambda row: row[1])
    return found


def _own_repetitions(
    session: Session, part_id: UUID, student_id: UUID | None
) -> dict[UUID, list[Played]]:
    # Columns, not objects: a section's history is tens of thousands of rows.
    row_of = RepetitionRow
    query = (
        select(
            row_of.student_id,
            row_of.start_index,
            row_of.start_at,
            row_of.end_index,
            row_of.end_at,
            row_of.tempo_bpm,
            row_of.is_clean,
            row_of.kind,
            row_of.as_written,
            row_of.played_at,
        )
        .outerjoin(Retraction, Retraction.repetition_id == RepetitionRow.id)
        .where(RepetitionRow.part_id == part_id, Retraction.repetition_id.is_(None))
        .order_by(RepetitionRow.played_at, RepetitionRow.id)
    )
    if student_id:
        query = query.where(RepetitionRow.student_id == student_id)
    by_student: dict[UUID, list[Played]] = {}
    spans: dict[tuple[int, Fraction, int, Fraction], Span] = {}
    for (
        student,
        first,
        first_at,
        last,
        last_at,
        tempo,
        is_clean,
        kind,
        as_written,
        at,
    ) in session.execute(query):
        key = (first, first_at, last, last_at)
        if key not in spans:
            spans[key] = Span(Position(first, first_at), Position(last, last_at))
        made = Repetition(spans[key], tempo, is_clean, kind, as_written)
        by_student.setdefault(student, []).append((made, at))
    return by_student


def refresh_student(session: Session, part: PiecePart, student_id: UUID, spans: list[Span]) -> None:
    """Bring a student's levels up to date for the chunks inside these spans."""
    chunks = [
        chunk
        for chunk in session.scalars(select(Chunk).where(Chunk.part_id == part.id))
        if any(span.covers(chunk_span(chunk)) for span in spans)
    ]
    rows = standing_repetitions(session, part.id, student_id).get(student_id, [])
    _save(session, student_id, _worked_out(part, chunks, rows))
    for later in session.scalars(select(PiecePart).where(PiecePart.replaces_id == part.id)):
        moved = {int(a): b for a, b in later.carried.items()}
        carried = [span for span in (carried_span(s, moved) for s in spans) if span is not None]
        refresh_student(session, later, student_id, carried)


def refresh_chunks(session: Session, hand: PartInHand, chunk_ids: Iterable[UUID]) -> None:
    """Bring every student's level on these chunks up to date."""
    chunks = session.scalars(select(Chunk).where(Chunk.id.in_(list(chunk_ids)))).all()
    if not chunks:
        return
    for student_id, rows in standing_repetitions(session, hand.row.id).items():
        _save(session, student_id, _worked_out(hand.row, chunks, rows))


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
        chunks = session.scalars(select(Chunk).where(Chunk.part_id == part.id)).all()
        stored = {
            (student_id, chunk_id): level
            for student_id, chunk_id, level in session.execute(
                select(Mastery.student_id, Mastery.chunk_id, Mastery.level).where(
                    Mastery.chunk_id.in_([chunk.id for chunk in chunks])
                )
            )
        }
        for student_id, rows in standing_repetitions(session, part.id).items():
            worked_out = _worked_out(part, chunks, rows)
            for values in worked_out:
                chunk_id, true = values["chunk_id"], values["level"]
                before = stored.get((student_id, chunk_id), 0)
                if before != true:
                    differing.append((student_id, chunk_id, before, true))
            _save(session, student_id, worked_out)
    session.commit()
    return differing


def _worked_out(
    part: PiecePart, chunks: Sequence[Chunk], rows: Sequence[Played]
) -> list[dict[str, Any]]:
    """A mastery row for each chunk."""
    spans = {chunk.id: chunk_span(chunk) for chunk in chunks}
    found = standings(spans.values(), part.goal_bpm, [made for made, _ in rows])
    made = []
    for chunk_id, span in spans.items():
        shown = found[span]
        made.append(
            {
                "chunk_id": chunk_id,
                "level": shown.level,
                "proved_bpm": shown.proved_tempo,
                "why": shown.why,
                "clean": shown.clean,
                "slips": shown.slips,
                "last_played_at": None if shown.latest is None else rows[shown.latest][1],
            }
        )
    return made


def _save(session: Session, student_id: UUID, rows: list[dict[str, Any]]) -> None:
    if not rows:
        return
    query = insert(Mastery).values([{"student_id": student_id, **row} for row in rows])
    changed = {name: query.excluded[name] for name in rows[0] if name != "chunk_id"}
    session.execute(
        query.on_conflict_do_update(index_elements=["student_id", "chunk_id"], set_=changed),
        execution_options={"populate_existing": True},
    )
