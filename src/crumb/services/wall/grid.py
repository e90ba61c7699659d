"""The Wall: students by chunks, and a student's own map."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.mastery.chunk import stood
from crumb.core.mastery.levels import NEW
from crumb.core.mastery.section import section_standing
from crumb.services.access import Actor
from crumb.services.evidence.levels import graded
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, view_map
from crumb.services.maps.passages import sent_beside
from crumb.services.people.roster import get_section, get_student
from crumb.services.wall.cells import Cell
from crumb.services.wall.kin_credit import raised, with_loans
from crumb.store.queries import mastery as ask
from crumb.store.queries.mastery import Marks

_NO_SEAMS = (False, False)


@dataclass(frozen=True, slots=True)
class WallRow:
    """A student, and for each chunk a level and whether its seams were shown.

    ``due`` are the places of chunks to be tried cold today. There are no words: a wall can have
    thousands of cells, and each one's evidence has them.
    """

    student_id: UUID
    name: str
    levels: tuple[int, ...]
    seams: tuple[tuple[bool, bool], ...]
    due: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class WallView:
    """Students by chunks, and each chunk's standing in words.

    ``deepest`` is how deep the map goes; the last ``beside`` of the chunks are in no map. ``of`` is
    how many students there are; while not all of them are among the rows, nothing stands in words.
    ``waiting`` counts the students in the rows with levels that are being recomputed, ``stuck``
    those whose levels cannot be.
    """

    chunks: tuple[ChunkView, ...]
    standings: tuple[str, ...]
    rows: tuple[WallRow, ...]
    deepest: int
    beside: int
    of: int
    waiting: int
    stuck: int


def wall(
    session: Session,
    actor: Actor,
    part_id: UUID,
    section_id: UUID,
    today: date,
    depth: int = 0,
    first: int | None = None,
) -> WallView:
    """A section on a part as it is split for it now, and on what it was sent beside that.

    Args:
        session: the database.
        actor: asks.
        part_id: of which part.
        section_id: which section, and as whose the part is split.
        today: on which something is to be tried cold.
        depth: how deep in the map: 0 its chunks, 1 and on what they are divided into.
        first: so many students only, the first by name; None: all.

    Raises:
        NotFound: no such part or section.
    """
    hand = load_part(session, actor, part_id)
    section = get_section(session, actor, section_id)
    view = view_map(session, hand, section_id)
    deepest = max(len(view.levels) - 1, 0)
    chunks = view.levels[min(depth, deepest)] if view.levels else ()
    beside = sent_beside(session, hand, section_id, view) if depth == 0 else ()
    chunks = (*chunks, *beside)
    students = section.students[:first]
    rows = tuple(_rows(session, hand, students, chunks, today))
    of = len(section.students)
    said = _standings(rows, len(chunks)) if len(rows) == of else ()
    waiting, stuck = ask.students_waiting(
        session, [student for student, _ in students], [chunk.id for chunk in chunks]
    )
    return WallView(chunks, said, rows, deepest, len(beside), of, waiting, stuck)


def _standings(rows: Sequence[WallRow], chunks: int) -> tuple[str, ...]:
    columns = zip(*(row.levels for row in rows), strict=True) if rows else ((),) * chunks
    return tuple(section_standing(levels) for levels in columns)


def _rows(
    session: Session,
    hand: PartInHand,
    students: Sequence[tuple[UUID, str]],
    chunks: Sequence[ChunkView],
    today: date,
) -> Iterator[WallRow]:
    ids = [student for student, _ in students]
    found = ask.marks_on(session, ids, [chunk.id for chunk in chunks], today)
    levels = {student: [NEW] * len(chunks) for student in ids}
    seams = {student: [_NO_SEAMS] * len(chunks) for student in ids}
    for student, marks in found.items():
        own, joined = levels[student], seams[student]
        for at, (level, seam_in, seam_out) in zip(marks.places, marks.levels, strict=True):
            own[at], joined[at] = level, (seam_in, seam_out)
    raised(session, hand, levels, chunks, today)
    for student, name in students:
        due = tuple(found.get(student, Marks()).due)
        yield WallRow(student, name, tuple(levels[student]), tuple(seams[student]), due)


def most_open(session: Session, actor: Actor) -> tuple[UUID, UUID] | None:
    """Part and section with most that was begun and is open still; None: nothing was begun."""
    return ask.most_open(session, actor.program_id, actor.sections)


def cell_of(
    session: Session, hand: PartInHand, student_id: UUID, chunk: ChunkView, today: date
) -> Cell:
    """A student's standing on a chunk, with what the same chunk in everybody's map lends."""
    chunks = {c.id: c for c in (*view_map(session, hand).chunks, chunk)}
    nothing = _nothing(session, hand)
    wanted = tuple(chunks.values())
    cells = _cells(session, [student_id], wanted)
    cells = with_loans(session, hand, [student_id], wanted, cells, today, nothing)
    return cells.get((student_id, chunk.id), nothing)


MapOfPart = tuple[PartInHand, tuple[ChunkView, ...], list[Cell]]


def my_parts(session: Session, actor: Actor, today: date) -> list[MapOfPart]:
    """A student's own map: each part they were sent, its chunks and their own levels."""
    return _parts_of(session, actor, actor.person_id, today)


def parts_of(session: Session, actor: Actor, student_id: UUID, today: date) -> list[MapOfPart]:
    """Another student's map.

    Raises:
        NotFound: no such student here.
    """
    get_student(session, actor, student_id)
    return _parts_of(session, actor, student_id, today)


def _parts_of(session: Session, actor: Actor, student_id: UUID, today: date) -> list[MapOfPart]:
    result = []
    for part_id, section_id in ask.parts_sent_to(session, student_id).items():
        hand = load_part(session, actor, part_id)
        view = view_map(session, hand, section_id)
        chunks = (*view.chunks, *sent_beside(session, hand, section_id, view))
        nothing = _nothing(session, hand)
        cells = _cells(session, [student_id], chunks)
        cells = with_loans(session, hand, [student_id], chunks, cells, today, nothing)
        result.append((hand, chunks, [cells.get((student_id, c.id), nothing) for c in chunks]))
    return result


def _nothing(session: Session, hand: PartInHand) -> Cell:
    """The standing of a student who has played nothing."""
    part = graded(session, hand.row.id)
    found = stood((), part.goal, rules=part.rules)
    return Cell(found.level, found.why, None, found.next)


def cells_on(
    session: Session,
    hand: PartInHand,
    students: Sequence[UUID],
    chunks: Sequence[ChunkView],
) -> dict[tuple[UUID, UUID], Cell]:
    """Cells of some students on some chunks of a part."""
    nothing = _nothing(session, hand)
    found = _cells(session, list(students), tuple(chunks))
    return {(s, c.id): found.get((s, c.id), nothing) for s in students for c in chunks}


def _cells(
    session: Session, students: list[UUID], chunks: tuple[ChunkView, ...]
) -> dict[tuple[UUID, UUID], Cell]:
    return {
        (row.student_id, row.chunk_id): Cell(
            row.level,
            row.why,
            row.last_played_at,
            row.next_step,
            row.seam_in,
            row.seam_out,
            row.due_on,
        )
        for row in ask.standings(session, students, [c.id for c in chunks])
    }
