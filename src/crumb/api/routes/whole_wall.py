"""The Wall of a piece, of a student and of a week, and acts on several cells at once."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Hearer, Sender, Today, Watcher
from crumb.api.once import answered_once
from crumb.api.schemas.common import Day
from crumb.api.schemas.whole_wall import (
    CellsSentOut,
    DeskRowsOut,
    DoneInWeekOut,
    DoneWeekOut,
    NoteSlipsOut,
    OpeningOut,
    PieceWallOut,
    PlayerRowOut,
    SaidOfOut,
    SayCellsIn,
    SendCellsIn,
    SlipStretchOut,
    StudentWallOut,
    TroubleOut,
)
from crumb.api.views.hearing import my_part_out
from crumb.api.views.places import position_out
from crumb.core.score.naming import span_label
from crumb.services import hearing
from crumb.services.library import pieces
from crumb.services.people.roster import get_student
from crumb.services.wall import grid, piece_wall, selected_cells, slip_map, weeks
from crumb.services.wall.piece_wall import DeskRows, PlayerRow

router = APIRouter(prefix="/wall", tags=["wall"])


@router.get("/opening", operation_id="getWallOpening")
def get_opening(actor: Watcher, session: Db) -> OpeningOut:
    """The part on which the Wall best opens."""
    found = grid.most_open(session, actor)
    return OpeningOut(part_id=found[0] if found else None, section_id=found[1] if found else None)


@router.get("/week", operation_id="getWeek")
def get_week(actor: Watcher, session: Db, today: Today, day: Day | None = None) -> DoneWeekOut:
    """Everybody's practice in the week of a day."""
    week = weeks.week_of(session, actor, day or today)
    return DoneWeekOut(
        first=week.first,
        last=week.last,
        rows=[
            DoneInWeekOut(
                student_id=row.student_id,
                name=row.name,
                section=row.section,
                days=row.days,
                minutes=row.minutes,
                repetitions=row.repetitions,
                takes=row.takes,
                has_log=row.has_log,
            )
            for row in week.rows
        ],
    )


@router.get("/pieces/{piece_id}", operation_id="getPieceWall")
def get_piece_wall(piece_id: UUID, actor: Watcher, session: Db) -> PieceWallOut:
    """Everybody who plays in a piece, by passage."""
    found = piece_wall.piece_wall(session, actor, piece_id)
    return PieceWallOut(
        title=found.piece.title,
        passages=list(found.passages),
        standings=list(found.standings),
        desks=[_desk_rows(rows) for rows in found.desks],
    )


def _desk_rows(rows: DeskRows) -> DeskRowsOut:
    return DeskRowsOut(
        section_id=rows.desk.section.id,
        part_id=rows.desk.hand.row.id,
        section=rows.desk.name,
        part=rows.desk.hand.row.name,
        standings=list(rows.standings),
        chunk_ids=list(rows.chunks),
        rows=[_player_row(row) for row in rows.rows],
    )


def _player_row(row: PlayerRow) -> PlayerRowOut:
    return PlayerRowOut(
        student_id=row.student_id,
        name=row.name,
        levels=[None if one is None else one.level for one in row.on],
        open=[one is not None and not one.joins for one in row.on],
    )


@router.get("/students/{student_id}", operation_id="getStudentWall")
def get_student_wall(student_id: UUID, actor: Watcher, session: Db, today: Today) -> StudentWallOut:
    """All that one student was sent: levels by chunk, and what was said there."""
    student = get_student(session, actor, student_id)
    heard = hearing.last_of(session, student_id)
    return StudentWallOut(
        name=student.name,
        parts=[
            my_part_out(one, pieces.get_piece(session, actor, one[0].row.piece_id).title, heard)
            for one in grid.parts_of(session, actor, student_id, today)
        ],
    )


@router.post("/{part_id}/cells/send", operation_id="sendCells", status_code=201)
def send_cells(
    part_id: UUID, body: SendCellsIn, actor: Sender, session: Db, today: Today
) -> list[CellsSentOut]:
    """Send a drill to each student on just the chunks that were chosen for them."""
    wish = selected_cells.CellsRequest(
        tuple((one.student_id, one.chunk_id) for one in body.cells),
        body.drill,
        body.due_on,
        body.minutes_a_day,
    )

    def send() -> list[CellsSentOut]:
        return [
            CellsSentOut(chunks=list(one.chunks), students=one.students, why_not=one.why_not)
            for one in selected_cells.send(session, actor, part_id, wish, today)
        ]

    return answered_once(session, actor, body.id, "send cells", send, list[CellsSentOut])


@router.post("/{part_id}/cells/heard", operation_id="sayCells", status_code=201)
def say_cells(part_id: UUID, body: SayCellsIn, actor: Hearer, session: Db) -> SaidOfOut:
    """Say of every chosen cell what was heard there."""
    chosen = [(one.student_id, one.chunk_id) for one in body.cells]

    def say() -> SaidOfOut:
        return SaidOfOut(students=selected_cells.say(session, actor, part_id, chosen, body.words))

    return answered_once(session, actor, body.id, "say cells", say, SaidOfOut)


@router.get("/{part_id}/trouble", operation_id="getTrouble")
def get_trouble(
    part_id: UUID,
    actor: Watcher,
    session: Db,
    section_id: UUID | None = None,
    student_id: UUID | None = None,
) -> TroubleOut:
    """Where slips fall on a part: of a student, of a section, or of everybody."""
    hand, found = slip_map.of_part(
        session, actor, part_id, section_id=section_id, student_id=student_id
    )
    return TroubleOut(
        total=found.total,
        of_notes=found.of_notes,
        notes=[NoteSlipsOut(at=position_out(one.at), count=one.count) for one in found.notes],
        stretches=[
            SlipStretchOut(
                label=span_label(hand.part, one.span),
                start=position_out(one.span.start),
                count=one.count,
                notes=one.notes,
            )
            for one in found.stretches
        ],
    )
