"""Levels recomputed where chunks, goals, rules or versions change.

The caller holds the locks of ``store.queries.locks``. Where much was played, the levels are marked
as waiting and recomputed afterwards, student by student (:func:`renew`): nobody's hand-in waits for
all students of a part. A hand-in recomputes by itself what it touches of what waits.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Evidence
from crumb.core.mastery.chunk import Rules
from crumb.core.mastery.replay import Target, replay, standing_of
from crumb.services.evidence.history import by_student
from crumb.services.library.pieces import PartInHand
from crumb.store.codecs.mastery import mastery_row, rules_from
from crumb.store.queries import evidence as kept
from crumb.store.queries import locks
from crumb.store.queries import mastery as ask

AT_ONCE = 2_000
"""Repetitions on a part that are folded within a request, in about half a second."""


@dataclass(frozen=True, slots=True)
class Graded:
    """A part as far as levels depend on it."""

    id: UUID
    goal: Fraction
    rules: Rules


def graded(session: Session, part_id: UUID) -> Graded:
    """A part, its goal, and its program's rules."""
    goal, rules = ask.goal_and_rules(session, part_id)
    return Graded(part_id, goal, rules_from(rules))


def refold(
    session: Session,
    part: Graded,
    chunks: Sequence[tuple[UUID, Target]],
    student_id: UUID | None = None,
) -> dict[UUID, int]:
    """Work levels on some chunks out anew, of one student or of everybody who played.

    Returns:
        The level of each chunk, of the one student.
    """
    if not chunks:
        return {}
    found = by_student(session, part.id, student_id)
    known = ask.kept_on(session, [chunk_id for chunk_id, _ in chunks])
    if student_id is not None:
        found.setdefault(student_id, [])
    else:
        # Who took everything back stands where a beginner does.
        for student in {student for student, _ in known}:
            found.setdefault(student, [])
    rows = [row for student, played in found.items() for row in _rows(chunks, student, played)]
    # Nothing is kept of what was never played; what was taken back is put to nothing.
    rows = [r for r in rows if r["last_id"] or (r["student_id"], r["chunk_id"]) in known]
    kept.put(session, mastery=rows)
    if student_id is None:
        return {}
    return {chunk_id: 0 for chunk_id, _ in chunks} | {r["chunk_id"]: r["level"] for r in rows}


def _rows(
    chunks: Sequence[tuple[UUID, Target]],
    student_id: UUID,
    played: Iterable[Evidence],
) -> list[dict[str, Any]]:
    made = replay([target for _, target in chunks], played)
    return [
        mastery_row(student_id, chunk_id, made[target.span], standing_of(made[target.span], target))
        for chunk_id, target in chunks
    ]


def chunks_of_part(session: Session, part: Graded) -> list[tuple[UUID, Target]]:
    """Every chunk a part ever had, its landing aside."""
    return [
        (chunk_id, Target(span, part.goal, part.rules, edges))
        for chunk_id, span, edges in ask.chunks_on(session, part.id)
    ]


def refresh_chunks(session: Session, hand: PartInHand, chunk_ids: Iterable[UUID]) -> None:
    """Bring every student's level on chunks that are new up to date, or let it wait."""
    wanted = set(chunk_ids)
    if wanted:
        part = graded(session, hand.row.id)
        _refresh(session, part, [c for c in chunks_of_part(session, part) if c[0] in wanted])


def refresh_part(session: Session, part_id: UUID) -> None:
    """Bring every level on a part up to date, or let it wait, after its goal or version changed."""
    part = graded(session, part_id)
    _refresh(session, part, chunks_of_part(session, part))


def _refresh(session: Session, part: Graded, chunks: Sequence[tuple[UUID, Target]]) -> None:
    if kept.is_played_more(session, part.id, AT_ONCE):
        ask.let_wait(session, part.id, [chunk_id for chunk_id, _ in chunks])
    else:
        refold(session, part, chunks)


def renew(session: Session, part_id: UUID, student_id: UUID) -> None:
    """Recompute a student's levels on a part that wait, or that older rules left.

    Takes its locks itself: the part is shared, so that others hand in meanwhile.
    """
    locks.share_parts(session, [part_id])
    locks.have_student(session, student_id)
    waiting = ask.waiting_chunks(session, part_id, student_id)
    part = graded(session, part_id)
    chunks = [c for c in chunks_of_part(session, part) if c[0] in waiting]
    refold(session, part, chunks, student_id)
    ask.drop_unplayed(session, student_id, waiting)
