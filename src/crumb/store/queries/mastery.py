"""Queries of levels: the chunks and rules they depend on, and where students stand."""

from collections.abc import Iterable, Sequence, Set
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import (
    ARRAY,
    ColumnElement,
    Integer,
    Uuid,
    case,
    cast,
    column,
    delete,
    exists,
    func,
    literal,
    null,
    select,
    true,
    update,
)
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.mastery.chunk import Edges
from crumb.core.mastery.levels import AT_TEMPO, KEPT
from crumb.core.score.position import Position, Span
from crumb.store.codecs.mastery import LEVEL_RULES, SET_ASIDE, WAITS
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Chunk,
    ChunkMapVersion,
    Evidence,
    Mastery,
    PartMap,
    PartSection,
    Person,
    Piece,
    PiecePart,
    Program,
    SectionMember,
)


def goal_and_rules(session: Session, part_id: UUID) -> tuple[Fraction, dict[str, Any] | None]:
    """A part's goal, and the rules of its program as they are stored."""
    row = session.execute(
        select(PiecePart.goal_bpm, Program.mastery_rules)
        .join(Program, Program.id == PiecePart.program_id)
        .where(PiecePart.id == part_id)
    ).one()
    return row[0], row[1]


def kept_on(session: Session, chunk_ids: Sequence[UUID]) -> set[tuple[UUID, UUID]]:
    """Student and chunk of each stored level on some chunks."""
    rows = session.execute(
        select(Mastery.student_id, Mastery.chunk_id).where(Mastery.chunk_id.in_(chunk_ids))
    )
    return {(row[0], row[1]) for row in rows}


def chunks_on(session: Session, part_id: UUID) -> list[tuple[UUID, Span, Edges]]:
    """Every chunk a part ever had: where it lies, landing aside, and which seams it has."""
    rows = session.execute(
        select(
            Chunk.id,
            Chunk.start_index,
            Chunk.start_at,
            Chunk.end_index,
            Chunk.end_at,
            Chunk.opens,
            Chunk.closes,
        ).where(Chunk.part_id == part_id)
    )
    return [
        (
            row[0],
            Span(Position(row[1], row[2]), Position(row[3], row[4])),
            Edges(not row[5], not row[6]),
        )
        for row in rows
    ]


def standings(
    session: Session, student_ids: Sequence[UUID], chunk_ids: Sequence[UUID]
) -> Sequence[Any]:
    """What of some levels is seen: no folds, which are long."""
    return session.execute(
        select(
            Mastery.student_id,
            Mastery.chunk_id,
            Mastery.level,
            Mastery.why,
            Mastery.last_played_at,
            Mastery.next_step,
            Mastery.seam_in,
            Mastery.seam_out,
            Mastery.due_on,
        ).where(Mastery.student_id.in_(student_ids), Mastery.chunk_id.in_(chunk_ids))
    ).all()


LevelSeams = tuple[int, bool, bool]
"""A level, and whether the seams in and out were shown."""


@dataclass(frozen=True, slots=True)
class Marks:
    """What of a student's levels thousands of cells show: three lists of one length, and ``due``.

    ``places`` are those of the chunks asked for; a chunk that was never played is in none of them.
    ``secure`` is None where too little was played to be sure; ``due`` are places to be tried cold.
    """

    places: Sequence[int] = ()
    levels: Sequence[LevelSeams] = ()
    secure: Sequence[float | None] = ()
    due: Sequence[int] = ()


_SEEN: tuple[LevelSeams, ...] = tuple(
    (level, bool(seams & 2), bool(seams & 1)) for level in range(KEPT + 1) for seams in range(4)
)
_IS_DUE, _PLACES = 32, 64


def marks(
    session: Session, student_ids: Sequence[UUID], chunk_ids: Sequence[UUID]
) -> dict[UUID, Marks]:
    """The levels of some students on some chunks and what is secure, one row for each student."""
    secure = case((Mastery.is_enough, Mastery.secure_bpm))
    rows = _by_student(session, student_ids, chunk_ids, literal(0), func.array_agg(secure))
    return {i: _marks(cells, tempos) for i, cells, tempos in rows}


def marks_on(
    session: Session, student_ids: Sequence[UUID], chunk_ids: Sequence[UUID], day: date
) -> dict[UUID, Marks]:
    """The same with what is to be tried cold on a day, in order, and nothing of tempos."""
    due = case((Mastery.due_on <= day, _IS_DUE), else_=0)
    rows = _by_student(session, student_ids, chunk_ids, due, null())
    return {i: _marks(cells, ()) for i, cells, _ in rows}


def _marks(cells: Sequence[int], secure: Sequence[float | None]) -> Marks:
    return Marks(
        places=[cell // _PLACES for cell in cells],
        levels=[_SEEN[cell % _IS_DUE] for cell in cells],
        secure=secure,
        due=sorted(cell // _PLACES for cell in cells if cell & _IS_DUE),
    )


def _by_student(
    session: Session,
    student_ids: Sequence[UUID],
    chunk_ids: Sequence[UUID],
    due: ColumnElement[int],
    more: ColumnElement[Any],
) -> Iterable[Any]:
    wanted = (
        func.unnest(cast(list(chunk_ids), ARRAY(Uuid)))
        .table_valued(column("chunk_id", Uuid), with_ordinality="place")
        .render_derived(name="wanted")
    )
    # One list of whole numbers is read many times as quickly as a list for each thing.
    cell = (
        _PLACES * cast(wanted.c.place - 1, Integer)
        + due
        + 4 * Mastery.level
        + 2 * cast(Mastery.seam_in, Integer)
        + cast(Mastery.seam_out, Integer)
    )
    return session.execute(
        select(Mastery.student_id, func.array_agg(cell), more)
        .join(wanted, wanted.c.chunk_id == Mastery.chunk_id)
        .where(Mastery.student_id.in_(student_ids))
        .group_by(Mastery.student_id)
    )


def most_open(
    session: Session, program_id: UUID, sections: Set[UUID] | None = None
) -> tuple[UUID, UUID] | None:
    """Part and section with most that was begun and is not at tempo yet; none: nothing was."""
    count = func.count()
    row = session.execute(
        select(Chunk.part_id, SectionMember.section_id)
        .join(Mastery, Mastery.chunk_id == Chunk.id)
        .join(SectionMember, SectionMember.person_id == Mastery.student_id)
        .join(
            PartSection,
            (PartSection.part_id == Chunk.part_id)
            & (PartSection.section_id == SectionMember.section_id),
        )
        .join(PiecePart, PiecePart.id == Chunk.part_id)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .where(
            PiecePart.program_id == program_id,
            Piece.deleted_at.is_(None),
            Mastery.level < AT_TEMPO,
            true() if sections is None else SectionMember.section_id.in_(sections),
        )
        .group_by(Chunk.part_id, SectionMember.section_id)
        .order_by(count.desc(), Chunk.part_id, SectionMember.section_id)
        .limit(1)
    ).first()
    return None if row is None else (row[0], row[1])


def levels_on(session: Session, chunk_id: UUID) -> dict[UUID, int]:
    """The level of everybody who has one on a chunk."""
    rows = session.execute(
        select(Mastery.student_id, Mastery.level).where(Mastery.chunk_id == chunk_id)
    )
    return {row[0]: row[1] for row in rows}


def folds_on(
    session: Session, students: Sequence[UUID], chunk_ids: Sequence[UUID]
) -> list[tuple[Chunk, Mastery]]:
    """Levels of some students on some chunks with all that is kept of them."""
    rows = session.execute(
        select(Chunk, Mastery)
        .join(Mastery, Mastery.chunk_id == Chunk.id)
        .where(Mastery.student_id.in_(students), Chunk.id.in_(chunk_ids))
    )
    return [(chunk, mastery) for chunk, mastery in rows]


def let_wait(session: Session, part_id: UUID, chunk_ids: Sequence[UUID]) -> None:
    """Mark the levels of everybody who played on a part, on some of its chunks, as waiting."""
    session.flush()
    root = select(PiecePart.root_id).where(PiecePart.id == part_id).scalar_subquery()
    versions = select(PiecePart.id).where(PiecePart.root_id == root)
    has_played = exists().where(Evidence.student_id == Person.id, Evidence.part_id.in_(versions))
    program = select(PiecePart.program_id).where(PiecePart.id == part_id).scalar_subquery()
    chunk = func.unnest(cast(list(chunk_ids), ARRAY(Uuid))).table_valued(column("id", Uuid))
    chunk = chunk.render_derived(name="wanted")
    row: dict[str, ColumnElement[Any]] = {
        "student_id": Person.id.expression,
        "chunk_id": chunk.c.id,
        "level": literal(0),
        "why": literal(""),
        "clean": literal(0),
        "slips": literal(0),
        "rules": literal(WAITS),
    }
    rows = (
        select(*row.values())
        .join(chunk, true())
        .where(Person.program_id == program, has_played)
        .order_by(Person.id, chunk.c.id)
    )
    put = insert(Mastery).from_select(list(row), rows)
    session.execute(
        put.on_conflict_do_update(
            index_elements=["student_id", "chunk_id"], set_={"rules": put.excluded.rules}
        )
    )


def is_any_waiting(session: Session) -> bool:
    """Whether any level waits to be recomputed (of older rules: no)."""
    return session.scalar(select(exists().where(Mastery.rules == WAITS))) or False


def waiting(session: Session) -> list[tuple[UUID, UUID]]:
    """Part and student of each level that waits to be recomputed or that older rules left."""
    rows = session.execute(
        select(Chunk.part_id, Mastery.student_id)
        .join(Mastery, Mastery.chunk_id == Chunk.id)
        .where(Mastery.rules.not_in((LEVEL_RULES, SET_ASIDE)))
        .distinct()
        .order_by(Chunk.part_id, Mastery.student_id)
    )
    return [(part_id, student_id) for part_id, student_id in rows]


def waiting_chunks(session: Session, part_id: UUID, student_id: UUID) -> set[UUID]:
    """The chunks of a part on which a student's level waits, or is of older rules."""
    return set(
        session.scalars(
            select(Mastery.chunk_id)
            .join(Chunk, Chunk.id == Mastery.chunk_id)
            .where(
                Chunk.part_id == part_id,
                Mastery.student_id == student_id,
                Mastery.rules != LEVEL_RULES,
            )
        )
    )


def students_waiting(
    session: Session, student_ids: Sequence[UUID], chunk_ids: Sequence[UUID]
) -> tuple[int, int]:
    """Of some students, how many have levels among some chunks that wait or were set aside."""
    row = session.execute(
        select(_students_of(WAITS), _students_of(SET_ASIDE)).where(
            Mastery.rules <= 0,
            Mastery.student_id.in_(student_ids),
            Mastery.chunk_id.in_(chunk_ids),
        )
    ).one()
    return row[0], row[1]


def students_set_aside(session: Session) -> int:
    """How many students have levels that could not be recomputed."""
    return session.scalar(select(_students_of(SET_ASIDE)).where(Mastery.rules <= 0)) or 0


def _students_of(rules: int) -> ColumnElement[int]:
    return func.count(case((Mastery.rules == rules, Mastery.student_id)).distinct())


def set_aside(session: Session, part_id: UUID, student_id: UUID) -> None:
    """Keep a student's levels on a part as they are, for they cannot be recomputed."""
    drop_unplayed(session, student_id, waiting_chunks(session, part_id, student_id))
    chunks = select(Chunk.id).where(Chunk.part_id == part_id)
    session.execute(
        update(Mastery)
        .where(
            Mastery.student_id == student_id,
            Mastery.chunk_id.in_(chunks),
            Mastery.rules != LEVEL_RULES,
        )
        .values(rules=SET_ASIDE)
    )


def drop_unplayed(session: Session, student_id: UUID, chunk_ids: Set[UUID]) -> None:
    """Remove levels of a student on some chunks that nothing was played for."""
    session.execute(
        delete(Mastery).where(
            Mastery.student_id == student_id,
            Mastery.chunk_id.in_(chunk_ids),
            Mastery.last_id.is_(None),
        )
    )


def parts_of(session: Session, program_id: UUID) -> list[UUID]:
    """Every part of a program on which anybody has a level."""
    return list(
        session.scalars(
            select(Chunk.part_id)
            .join(Mastery, Mastery.chunk_id == Chunk.id)
            .join(PiecePart, PiecePart.id == Chunk.part_id)
            .where(PiecePart.program_id == program_id)
            .distinct()
            .order_by(Chunk.part_id)
        )
    )


def chunks_in_force(session: Session, part_id: UUID) -> set[UUID]:
    """The chunks of every map of a part as it is now, at its first depth."""
    rows = session.scalars(
        select(ChunkMapVersion.chunk_ids)
        .join(
            PartMap,
            (PartMap.id == ChunkMapVersion.map_id) & (PartMap.cursor == ChunkMapVersion.number),
        )
        .where(PartMap.part_id == part_id)
    )
    return {chunk_id for ids in rows for chunk_id in ids}


def rules_kept(session: Session, program_id: UUID) -> dict[str, Any] | None:
    """A program's rules as they are stored."""
    return session.scalar(select(Program.mastery_rules).where(Program.id == program_id))


def keep_rules(session: Session, program_id: UUID, rules: dict[str, Any] | None) -> None:
    """Store other rules; every level of the program then waits."""
    session.execute(update(Program).where(Program.id == program_id).values(mastery_rules=rules))
    mine = (
        select(Chunk.id)
        .join(PiecePart, PiecePart.id == Chunk.part_id)
        .where(PiecePart.program_id == program_id)
    )
    session.execute(update(Mastery).where(Mastery.chunk_id.in_(mine)).values(rules=WAITS))


def chunks_sent_to(session: Session, part_id: UUID, section_id: UUID) -> Sequence[UUID]:
    """Chunks of a part in a section's assignments by hand that stand, each once."""
    return session.scalars(
        select(AssignmentItem.chunk_id)
        .join(Assignment, Assignment.id == AssignmentItem.assignment_id)
        .where(
            Assignment.part_id == part_id,
            Assignment.section_id == section_id,
            Assignment.plan_id.is_(None),
            Assignment.withdrawn_at.is_(None),
            AssignmentItem.removed_at.is_(None),
        )
        .distinct()
    ).all()


def parts_sent_to(session: Session, student_id: UUID) -> dict[UUID, UUID]:
    """Parts that a student was sent, each with the section they have it with."""
    rows = session.execute(
        select(PiecePart.id, Assignment.section_id)
        .join(Assignment, Assignment.part_id == PiecePart.id)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .where(AssignmentStudent.student_id == student_id, Piece.deleted_at.is_(None))
        .order_by(Assignment.sent_at)
    )
    return {row[0]: row[1] for row in rows}


def levels_on_spans(
    session: Session, part_id: UUID, students: Sequence[UUID]
) -> Sequence[tuple[UUID, int, int, Fraction, int, Fraction]]:
    """Student, level, and where the chunk starts and ends (measure and offset, twice)."""
    rows = session.execute(
        select(
            Mastery.student_id,
            Mastery.level,
            Chunk.start_index,
            Chunk.start_at,
            Chunk.end_index,
            Chunk.end_at,
        )
        .join(Chunk, Chunk.id == Mastery.chunk_id)
        .where(Chunk.part_id == part_id, Mastery.student_id.in_(students))
    )
    return list(rows)


def stored_levels(session: Session, part_id: UUID) -> Sequence[Mastery]:
    """Every stored level on a part's chunks, as the database has it now."""
    chunks = select(Chunk.id).where(Chunk.part_id == part_id)
    query = select(Mastery).where(Mastery.chunk_id.in_(chunks))
    return session.scalars(query.execution_options(populate_existing=True)).all()
