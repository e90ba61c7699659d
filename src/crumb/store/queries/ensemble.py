"""How a whole score stands: few questions, whatever the number of parts and players."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.score.position import Span
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
    """What was heard in some measures (both included), of a section or of a student."""

    part_id: UUID
    first: int
    last: int
    section_id: UUID | None
    student_id: UUID | None
    symptom: str


def heard_on(session: Session, part_ids: Sequence[UUID]) -> list[HeardOn]:
    """What was heard on some parts and still stands."""
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
        .where(t.KinLink.piece_id == piece_id, t.KinLink.verdict.is_distinct_from("refused"))
        .distinct()
    )
    return [(row[0], row[1], row[2], row[3]) for row in rows]


# Rehearsals ---------------------------------------------------------------------------------------


def rehearsal_row(
    session: Session, program_id: UUID, rehearsal_id: UUID, *, for_change: bool = False
) -> t.RehearsalRow | None:
    """A rehearsal of a program."""
    query = select(t.RehearsalRow).where(
        t.RehearsalRow.id == rehearsal_id, t.RehearsalRow.program_id == program_id
    )
    return session.scalar(query.with_for_update() if for_change else query)


def rehearsals_of(
    session: Session, program_id: UUID, most: int
) -> list[tuple[t.RehearsalRow, str, str | None]]:
    """The last rehearsals, the newest first, with piece and section."""
    rows = session.execute(
        select(t.RehearsalRow, t.Piece.title, t.Section.name)
        .join(t.Piece, t.Piece.id == t.RehearsalRow.piece_id)
        .outerjoin(t.Section, t.Section.id == t.RehearsalRow.section_id)
        .where(t.RehearsalRow.program_id == program_id, t.Piece.deleted_at.is_(None))
        .order_by(t.RehearsalRow.day.desc(), t.RehearsalRow.made_at.desc())
        .limit(most)
    )
    return [(row, title, section) for row, title, section in rows]


# The Desk -----------------------------------------------------------------------------------------


def put_off_until(session: Session, person_id: UUID, today: date) -> set[str]:
    """Lines that somebody does not want to see today."""
    return set(
        session.scalars(
            select(t.PutOff.line).where(t.PutOff.person_id == person_id, t.PutOff.until > today)
        )
    )


def put_off(session: Session, person_id: UUID, line: str, until: date) -> None:
    """Keep a line away until a day; a day that has come brings it back."""
    row = {"person_id": person_id, "line": line, "until": until}
    session.execute(
        insert(t.PutOff)
        .values(row)
        .on_conflict_do_update(index_elements=["person_id", "line"], set_={"until": until})
    )


def last_days(
    session: Session, program_id: UUID, today: date
) -> list[tuple[UUID, datetime, datetime | None]]:
    """Students with open work, when it was first sent to them, and when each practised last.

    Work is open that is not withdrawn and not over yet.
    """
    last = (
        select(func.max(t.Mastery.last_played_at))
        .where(t.Mastery.student_id == t.AssignmentStudent.student_id)
        .correlate(t.AssignmentStudent)
        .scalar_subquery()
    )
    rows = session.execute(
        select(t.AssignmentStudent.student_id, func.min(t.Assignment.sent_at), last)
        .join(t.Assignment, t.Assignment.id == t.AssignmentStudent.assignment_id)
        .where(
            t.Assignment.program_id == program_id,
            t.Assignment.withdrawn_at.is_(None),
            t.Assignment.due_on >= today,
        )
        .group_by(t.AssignmentStudent.student_id)
    )
    return [(row[0], row[1], row[2]) for row in rows]


def week_on(session: Session, student_ids: Sequence[UUID], since: date) -> Sequence[Any]:
    """What students played on each drill since a day: days, clean ones, slips, where they stand.

    By student, so that it reads their last days alone.
    """
    if not student_ids:
        return []
    recent = (
        select(
            t.Evidence.item_id,
            t.Evidence.student_id,
            func.count(t.Evidence.local_day.distinct()).label("days"),
            func.count().filter(t.Evidence.is_clean.is_(True)).label("clean"),
            func.count().filter(t.Evidence.is_clean.is_(False)).label("slips"),
        )
        .where(
            t.Evidence.student_id.in_(student_ids),
            t.Evidence.played_at >= datetime.combine(since, time.min, UTC),
            t.Evidence.item_id.is_not(None),
        )
        .group_by(t.Evidence.item_id, t.Evidence.student_id)
        .subquery()
    )
    return session.execute(
        select(
            recent.c.student_id,
            t.Assignment.part_id,
            t.AssignmentItem.chunk_id,
            recent.c.days,
            recent.c.clean,
            recent.c.slips,
            t.ClimbRow.tempo,
            t.AssignmentItem.goal_bpm,
        )
        .join(t.AssignmentItem, t.AssignmentItem.id == recent.c.item_id)
        .join(t.Assignment, t.Assignment.id == t.AssignmentItem.assignment_id)
        .join(
            t.ClimbRow,
            (t.ClimbRow.item_id == recent.c.item_id)
            & (t.ClimbRow.student_id == recent.c.student_id),
        )
        .where(t.ClimbRow.is_finished.is_(False), recent.c.days >= 2)
    ).all()


def due_before(session: Session, program_id: UUID, day: date) -> Sequence[Any]:
    """Chunks that were kept and are due since before a day: student, part, chunk, since when.

    Only those of maps as they are now.
    """
    in_force = (
        select(t.PartMap.part_id, func.unnest(t.ChunkMapVersion.chunk_ids).label("chunk_id"))
        .join(
            t.ChunkMapVersion,
            (t.ChunkMapVersion.map_id == t.PartMap.id)
            & (t.ChunkMapVersion.number == t.PartMap.cursor),
        )
        .join(t.PiecePart, t.PiecePart.id == t.PartMap.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .where(
            t.PiecePart.program_id == program_id,
            t.Piece.deleted_at.is_(None),
            t.Piece.replaced_by_id.is_(None),
        )
        .distinct()
        .subquery()
    )
    return session.execute(
        select(t.Mastery.student_id, in_force.c.part_id, t.Mastery.chunk_id, t.Mastery.due_on)
        .join(in_force, in_force.c.chunk_id == t.Mastery.chunk_id)
        .where(t.Mastery.due_on < day)
    ).all()


def dates_ahead(session: Session, program_id: UUID, today: date) -> Sequence[Any]:
    """Plans in force with what they are of, the nearest date first."""
    return session.execute(
        select(
            t.PlanRow.id,
            t.Piece.title,
            t.PiecePart.name.label("part"),
            t.Section.name.label("section"),
            t.PlanRow.section_id,
            t.PlanRow.ends_on,
            t.Piece.id.label("piece_id"),
        )
        .join(t.PiecePart, t.PiecePart.id == t.PlanRow.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .join(t.Section, t.Section.id == t.PlanRow.section_id)
        .where(
            t.PlanRow.program_id == program_id,
            t.PlanRow.withdrawn_at.is_(None),
            t.PlanRow.ends_on >= today,
            t.Piece.deleted_at.is_(None),
        )
        .order_by(t.PlanRow.ends_on, t.PiecePart.place)
    ).all()
