"""The student's side: today, the Stand, handing in, one's own map."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api import views
from crumb.api.deps import Db, Student, Today
from crumb.api.schemas import (
    LayoutName,
    MyPartOut,
    PracticeState,
    RepetitionsIn,
    StandOut,
    TodayItemOut,
    to_fraction,
)
from crumb.core.drills import drill_kind
from crumb.services import music, practice, wall

router = APIRouter(prefix="/me", tags=["practice"])


def _state(line: practice.TodayItem) -> PracticeState:
    return PracticeState(item=views.today_out(line), climb=views.climb_out(line.climb))


@router.get("/today", operation_id="getToday")
def get_today(who: Student, session: Db, today: Today) -> list[TodayItemOut]:
    """Today's list in order."""
    return [views.today_out(line) for line in practice.today(session, who, today)]


@router.get("/stand/{item_id}", operation_id="getStand")
def get_stand(
    item_id: UUID, who: Student, session: Db, layout: LayoutName = "phone-snippet"
) -> StandOut:
    """One item for practising."""
    view = practice.stand(session, who, item_id)
    kind = drill_kind(view.line.item.drill)
    return StandOut(
        item=views.today_out(view.line),
        worked=views.worked_out(session, view.line.worked, view.line.chunk, layout, view.hand),
        climb=views.climb_out(view.line.climb),
        clean_means=kind.clean_means,
        on_slip=kind.on_slip,
        caution=kind.caution,
    )


@router.post("/repetitions", operation_id="recordRepetitions")
def record_repetitions(body: RepetitionsIn, who: Student, session: Db) -> list[PracticeState]:
    """Hand repetitions in; the same one twice changes nothing."""
    handed_in = [
        practice.RepetitionIn(
            id=r.id,
            item_id=r.item_id,
            step=r.step,
            tempo=to_fraction(r.tempo_bpm),
            is_clean=r.is_clean,
            played_at=r.played_at.astimezone(),
        )
        for r in body.repetitions
    ]
    return [_state(line) for line in practice.record(session, who, handed_in)]


@router.post("/repetitions/{repetition_id}/retraction", operation_id="retractRepetition")
def retract_repetition(repetition_id: UUID, who: Student, session: Db) -> PracticeState:
    """Take a repetition back; its record stays."""
    return _state(practice.retract(session, who, repetition_id))


@router.get("/map", operation_id="getMyMap")
def get_my_map(who: Student, session: Db) -> list[MyPartOut]:
    """One's own parts, chunks and levels."""
    return [
        MyPartOut(
            part_id=hand.row.id,
            title=music.get_piece(session, who, hand.row.piece_id).title,
            part=hand.row.name,
            chunks=[views.chunk_out(c) for c in chunks],
            cells=[views.cell_out(c) for c in cells],
        )
        for hand, chunks, cells in wall.my_parts(session, who)
    ]
