"""Levels are kept up to date in the transaction that brings evidence in; they can be made anew.

Whoever calls here holds the locks of ``store.queries.locks``.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Evidence
from crumb.core.mastery.levels import Fold, folded, folds, standing_of
from crumb.core.score.matching import carried_span
from crumb.core.score.position import Position, Span
from crumb.services.evidence.read import by_student
from crumb.services.music.library import PartInHand
from crumb.store.codecs.mastery import fold_from, mastery_row
from crumb.store.queries import evidence as kept
from crumb.store.tables import Chunk, Mastery, PiecePart


@dataclass(frozen=True, slots=True)
class Graded:
    """A part as far as levels depend on it, and the versions that came after it."""

    id: UUID
    goal: Fraction
    later: tuple[tuple["Graded", dict[int, int]], ...] = ()

    def everything(self) -> Iterator["Graded"]:
        """It and every later version."""
        yield self
        for version, _ in self.later:
            yield from version.everything()


def graded(session: Session, part_id: UUID) -> Graded:
    """A part with its later versions."""
    rows = session.execute(
        select(PiecePart.id, PiecePart.goal_bpm, PiecePart.replaces_id, PiecePart.carried).where(
            (PiecePart.id == part_id) | (PiecePart.replaces_id == part_id)
        )
    ).all()
    goal = next(row.goal_bpm for row in rows if row.id == part_id)
    later = tuple(
        (graded(session, row.id), {int(a): b for a, b in row.carried.items()})
        for row in rows
        if row.id != part_id
    )
    return Graded(part_id, goal, later)


def fold_in(
    session: Session, part: Graded, student_id: UUID, evidence: Sequence[Evidence]
) -> dict[UUID, int]:
    """Bring a student's levels up to date with new evidence, at a cost that history does not raise.

    Evidence older than what was folded in already (a device was without a network) makes the
    chunks it touches be folded anew.

    Returns:
        The level of every chunk that it changed anything on.
    """
    if not evidence:
        return {}
    in_order = sorted(evidence, key=lambda one: one.order)
    rows: list[dict[str, Any]] = []
    again: list[tuple[UUID, Span]] = []
    for chunk in kept.folds_within(session, part.id, student_id, {e.span for e in in_order}):
        inside = [e for e in in_order if e.span.covers(chunk.span)]
        if any(chunk.fold.comes_after(e) for e in inside):
            again.append((chunk.chunk_id, chunk.span))
            continue
        fold = chunk.fold
        for one in inside:
            fold = folded(fold, one)
        if fold != chunk.fold:
            rows.append(mastery_row(student_id, chunk.chunk_id, fold, standing_of(fold, part.goal)))
    kept.save_mastery(session, rows)
    changed = {row["chunk_id"]: row["level"] for row in rows}
    changed |= refold(session, part, again, student_id)
    for later, moved in part.later:
        carried = [(one, carried_span(one.span, moved)) for one in in_order]
        here = [_at(one, span) for one, span in carried if span is not None]
        changed |= fold_in(session, later, student_id, here)
    return changed


def _at(one: Evidence, span: Span) -> Evidence:
    return Evidence(
        **{name: getattr(one, name) for name in Evidence.__slots__ if name != "span"}, span=span
    )


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


def refold_spans(
    session: Session, part: Graded, student_id: UUID, spans: Sequence[Span]
) -> dict[UUID, int]:
    """Work a student's levels out anew on the chunks inside some spans, in later versions too."""
    if not spans:
        return {}
    chunks = [
        (chunk.chunk_id, chunk.span)
        for chunk in kept.folds_within(session, part.id, student_id, spans)
    ]
    changed = refold(session, part, chunks, student_id)
    for later, moved in part.later:
        carried = [span for span in (carried_span(s, moved) for s in spans) if span is not None]
        changed |= refold_spans(session, later, student_id, carried)
    return changed


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
