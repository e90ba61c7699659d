"""The Wall: students by chunks, and the evidence behind a cell."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Kind, Rhythm, Source, What
from crumb.core.mastery.chunk import Noted, Standing, stood
from crumb.core.mastery.levels import NOTHING_PLAYED
from crumb.core.mastery.section import section_standing
from crumb.services.evidence.read import Kept, touching
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, get_chunk, view_map
from crumb.services.people.roster import get_section, get_student
from crumb.services.who import Who
from crumb.store.tables import (
    Assignment,
    AssignmentStudent,
    Mastery,
    Piece,
    PiecePart,
)


@dataclass(frozen=True, slots=True)
class Cell:
    """Where one student stands on one chunk."""

    level: int
    why: str
    last_played_at: datetime | None


NOTHING = Cell(0, NOTHING_PLAYED, None)


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


@dataclass(frozen=True, slots=True)
class Resting:
    """What a level rests on: everything that touches the chunk, newest first, and its tempos.

    ``tempos`` is None where nothing was played as written with a click.
    """

    student: str
    chunk: ChunkView
    cell: Cell
    kept: list[Kept]
    goal: Fraction
    tempos: Standing | None


def evidence(
    session: Session, who: Who, part_id: UUID, student_id: UUID, chunk_id: UUID
) -> Resting:
    """What the level of a student on a chunk rests on."""
    hand = load_part(session, who, part_id)
    student = get_student(session, who, student_id)
    chunk = get_chunk(session, hand, chunk_id)
    cell = _cells(session, [student_id], (chunk,)).get((student_id, chunk_id), NOTHING)
    kept = touching(session, part_id, student_id, chunk.span)
    goal = hand.row.goal_bpm
    return Resting(student.name, chunk, cell, kept, goal, _tempos(kept, chunk, goal))


def _tempos(kept: Sequence[Kept], chunk: ChunkView, goal: Fraction) -> Standing | None:
    """Secure tempo, solid and best single by what was played of the whole chunk."""
    played = [
        Noted(
            one.row.local_day,
            tempo=one.row.tempo_bpm,
            is_clean=bool(one.row.is_clean),
            kind=Kind(one.row.kind),
            as_written=one.row.as_written,
            rhythm=Rhythm(one.row.rhythm),
            source=Source(one.row.source),
            is_aided=one.row.is_aided,
        )
        for one in reversed(kept)
        if one.row.what == What.REPETITION
        and not (one.is_retracted or one.row.doubt)
        and one.span.covers(chunk.span)
    ]
    found = stood(played, goal)
    return found if found.passes else None


def my_parts(
    session: Session, who: Who
) -> list[tuple[PartInHand, tuple[ChunkView, ...], list[Cell]]]:
    """A student's own map: each part they were sent, its chunks and their own levels."""
    part_ids = session.scalars(
        select(PiecePart.id)
        .join(Assignment, Assignment.part_id == PiecePart.id)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .where(AssignmentStudent.student_id == who.person_id, Piece.deleted_at.is_(None))
        .distinct()
    ).all()
    result = []
    for part_id in part_ids:
        hand = load_part(session, who, part_id)
        chunks = view_map(session, hand).chunks
        cells = _cells(session, [who.person_id], chunks)
        result.append((hand, chunks, [cells.get((who.person_id, c.id), NOTHING) for c in chunks]))
    return result


def _cells(
    session: Session, students: list[UUID], chunks: tuple[ChunkView, ...]
) -> dict[tuple[UUID, UUID], Cell]:
    rows = session.scalars(
        select(Mastery).where(
            Mastery.student_id.in_(students), Mastery.chunk_id.in_([c.id for c in chunks])
        )
    )
    return {(m.student_id, m.chunk_id): Cell(m.level, m.why, m.last_played_at) for m in rows}
