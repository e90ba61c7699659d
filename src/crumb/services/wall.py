"""The Wall: students by chunks, and the evidence behind a cell."""

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.mastery.section import section_standing
from crumb.core.score.position import Span
from crumb.services import standings
from crumb.services.music import PartInHand, load_part
from crumb.services.people import get_section, get_student
from crumb.services.splitting import ChunkView, get_chunk, view_map
from crumb.services.who import Who
from crumb.store.tables import (
    Assignment,
    AssignmentStudent,
    Mastery,
    PiecePart,
    RepetitionRow,
    Retraction,
)


@dataclass(frozen=True, slots=True)
class Cell:
    """Where one student stands on one chunk."""

    level: int
    why: str
    last_played_at: datetime | None


NOTHING = Cell(0, "Nothing played yet.", None)


@dataclass(frozen=True, slots=True)
class WallRow:
    """A student with a cell for each chunk."""

    student_id: UUID
    name: str
    cells: tuple[Cell, ...]


@dataclass(frozen=True, slots=True)
class WallView:
    """Students by chunks, and each chunk's standing in words."""

    chunks: tuple[ChunkView, ...]
    standings: tuple[str, ...]
    rows: tuple[WallRow, ...]


@dataclass(frozen=True, slots=True)
class Evidence:
    """A stored repetition and whether it was taken back."""

    row: RepetitionRow
    is_retracted: bool


def wall(session: Session, who: Who, part_id: UUID, section_id: UUID) -> WallView:
    """A section on the chunks of a part as it is split now."""
    hand = load_part(session, who, part_id)
    section = get_section(session, who, section_id)
    chunks = view_map(session, hand).chunks
    cells = _cells(session, [s for s, _ in section.students], chunks)
    rows = tuple(
        WallRow(student, name, tuple(cells.get((student, c.id), NOTHING) for c in chunks))
        for student, name in section.students
    )
    said = tuple(section_standing([row.cells[i].level for row in rows]) for i in range(len(chunks)))
    return WallView(chunks, said, rows)


def evidence(
    session: Session, who: Who, part_id: UUID, student_id: UUID, chunk_id: UUID
) -> tuple[str, ChunkView, Cell, list[Evidence]]:
    """What a level rests on: every repetition that touches the chunk, newest first."""
    hand = load_part(session, who, part_id)
    student = get_student(session, who, student_id)
    chunk = get_chunk(session, hand, chunk_id)
    cell = _cells(session, [student_id], (chunk,)).get((student_id, chunk_id), NOTHING)
    rows = session.execute(
        select(RepetitionRow, Retraction.repetition_id)
        .outerjoin(Retraction, Retraction.repetition_id == RepetitionRow.id)
        .where(RepetitionRow.student_id == student_id, RepetitionRow.part_id == part_id)
        .order_by(RepetitionRow.played_at.desc(), RepetitionRow.id.desc())
    )
    touching = [
        Evidence(row, retracted is not None)
        for row, retracted in rows
        if _touches(standings.evidence_of(row).span, chunk)
    ]
    return student.name, chunk, cell, touching


def my_parts(
    session: Session, who: Who
) -> list[tuple[PartInHand, tuple[ChunkView, ...], list[Cell]]]:
    """A student's own map: each part they were sent, its chunks and their own levels."""
    part_ids = session.scalars(
        select(PiecePart.id)
        .join(Assignment, Assignment.part_id == PiecePart.id)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .where(AssignmentStudent.student_id == who.person_id)
        .distinct()
    ).all()
    result = []
    for part_id in part_ids:
        hand = load_part(session, who, part_id)
        chunks = view_map(session, hand).chunks
        cells = _cells(session, [who.person_id], chunks)
        result.append((hand, chunks, [cells.get((who.person_id, c.id), NOTHING) for c in chunks]))
    return result


def _touches(span: Span, chunk: ChunkView) -> bool:
    return span.start < chunk.span.end and chunk.span.start < span.end


def _cells(
    session: Session, students: list[UUID], chunks: tuple[ChunkView, ...]
) -> dict[tuple[UUID, UUID], Cell]:
    rows = session.scalars(
        select(Mastery).where(
            Mastery.student_id.in_(students), Mastery.chunk_id.in_([c.id for c in chunks])
        )
    )
    return {(m.student_id, m.chunk_id): Cell(m.level, m.why, m.last_played_at) for m in rows}
