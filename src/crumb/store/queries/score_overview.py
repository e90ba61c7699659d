"""Queries of a whole score: as few, however many parts and players it has."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.score.position import Span
from crumb.core.vocabulary import KinVerdict
from crumb.store import tables as t
from crumb.store.codecs.evidence import span_from


@dataclass(frozen=True, slots=True)
class ChunkOn:
    """A chunk in force: where it lies, landing aside, and which seams it has."""

    id: UUID
    span: Span
    opens: bool
    closes: bool


def maps_in_force(
    session: Session, part_ids: Sequence[UUID]
) -> dict[tuple[UUID, UUID | None], list[ChunkOn]]:
    """The chunks of every map of some parts, by part and section (none: everybody's)."""
    maps = session.execute(
        select(t.PartMap.part_id, t.PartMap.section_id, t.ChunkMapVersion.chunk_ids)
        .join(
            t.ChunkMapVersion,
            (t.ChunkMapVersion.map_id == t.PartMap.id)
            & (t.ChunkMapVersion.number == t.PartMap.cursor),
        )
        .where(t.PartMap.part_id.in_(part_ids))
    ).all()
    wanted = sorted({chunk_id for _, _, ids in maps for chunk_id in ids})
    rows = session.execute(
        select(
            t.Chunk.id,
            t.Chunk.start_index,
            t.Chunk.start_at,
            t.Chunk.end_index,
            t.Chunk.end_at,
            t.Chunk.opens,
            t.Chunk.closes,
        ).where(t.Chunk.id.in_(wanted))
    )
    known = {row[0]: ChunkOn(row[0], span_from(*row[1:5]), row[5], row[6]) for row in rows}
    return {
        (part_id, section_id): [known[chunk_id] for chunk_id in ids]
        for part_id, section_id, ids in maps
    }


def players_of(session: Session, part_ids: Sequence[UUID]) -> list[tuple[UUID, UUID]]:
    """Part and section of everybody's music, for some parts."""
    rows = session.execute(
        select(t.PartSection.part_id, t.PartSection.section_id).where(
            t.PartSection.part_id.in_(part_ids)
        )
    )
    return [(row[0], row[1]) for row in rows]


def seats(session: Session, part_ids: Sequence[UUID]) -> dict[UUID, frozenset[UUID]]:
    """Which of some parts each student was ever sent."""
    rows = session.execute(
        select(t.AssignmentStudent.student_id, t.Assignment.part_id)
        .join(t.Assignment, t.Assignment.id == t.AssignmentStudent.assignment_id)
        .where(t.Assignment.part_id.in_(part_ids))
        .distinct()
    )
    found: dict[UUID, set[UUID]] = {}
    for student_id, part_id in rows:
        found.setdefault(student_id, set()).add(part_id)
    return {student_id: frozenset(parts) for student_id, parts in found.items()}


@dataclass(frozen=True, slots=True)
class HeardOn:
    """Faults heard in some measures (both included), of a section or of a student."""

    part_id: UUID
    first: int
    last: int
    section_id: UUID | None
    student_id: UUID | None
    symptom: str


def heard_on(session: Session, part_ids: Sequence[UUID]) -> list[HeardOn]:
    """Open faults on some parts."""
    rows = session.execute(
        select(
            t.Heard.part_id,
            t.Chunk.start_index,
            t.Chunk.end_index,
            t.Heard.section_id,
            t.Heard.student_id,
            t.Heard.symptom,
        )
        .join(t.Chunk, t.Chunk.id == t.Heard.chunk_id)
        .where(t.Heard.part_id.in_(part_ids), t.Heard.ended_at.is_(None))
    )
    return [HeardOn(*row) for row in rows]


def kin_of(session: Session, piece_id: UUID) -> list[tuple[int, int, int, int]]:
    """Measures that are alike and were not said to differ: first and last, both included."""
    rows = session.execute(
        select(t.KinLink.a_first, t.KinLink.a_last, t.KinLink.b_first, t.KinLink.b_last)
        .where(
            t.KinLink.piece_id == piece_id, t.KinLink.verdict.is_distinct_from(KinVerdict.REFUSED)
        )
        .distinct()
    )
    return [(row[0], row[1], row[2], row[3]) for row in rows]
