"""Marks in a part: the director's, section leaders', a student's own."""

from fractions import Fraction
from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Member, Player, release
from crumb.api.schemas.marks import MarkIn, MarkOut, MyScoreOut
from crumb.api.views.marks import mark_out
from crumb.api.views.music import measures_out
from crumb.formats.layout import LAYOUTS
from crumb.services.library import marks as marking
from crumb.services.library import pieces
from crumb.services.library.drawing import drawing

router = APIRouter(tags=["marks"])


@router.get("/parts/{part_id}/marks", operation_id="listMarks")
def list_marks(part_id: UUID, actor: Member, session: Db) -> list[MarkOut]:
    """The marks that reach this person."""
    marking.part_for(session, actor, part_id)
    return [mark_out(mark, actor) for mark in marking.list_marks(session, actor, part_id)]


@router.post("/parts/{part_id}/marks", operation_id="addMark", status_code=201)
def add_mark(part_id: UUID, body: MarkIn, actor: Member, session: Db) -> MarkOut:
    """Write something into a part."""
    wish = marking.MarkWish(
        kind=body.kind,
        text=body.text,
        index=body.at.index,
        at=Fraction(body.at.at),
        section_id=body.section_id,
        as_leader=body.as_leader,
    )
    return mark_out(marking.add_mark(session, actor, part_id, wish), actor)


@router.delete("/marks/{mark_id}", operation_id="removeMark")
def remove_mark(mark_id: UUID, actor: Member, session: Db) -> MarkOut:
    """Take a mark away; it can be brought back."""
    return mark_out(marking.take_away(session, actor, mark_id), actor)


@router.post("/marks/{mark_id}/back", operation_id="restoreMark")
def restore_mark(mark_id: UUID, actor: Member, session: Db) -> MarkOut:
    """Bring a mark back."""
    return mark_out(marking.take_away(session, actor, mark_id, back=True), actor)


@router.get("/me/parts/{part_id}", operation_id="getMyScore")
def get_my_score(part_id: UUID, actor: Player, session: Db) -> MyScoreOut:
    """A part that was sent to this student, engraved with the marks that reach them."""
    hand = marking.part_for(session, actor, part_id)
    piece = pieces.get_piece(session, actor, hand.row.piece_id)
    drawn = marking.marked_hand(session, actor, hand)
    marks = [mark_out(mark, actor) for mark in marking.list_marks(session, actor, part_id)]
    leads = marking.leads(session, actor)
    release(session)
    return MyScoreOut(
        title=piece.title,
        part=hand.row.name,
        measures=measures_out(hand),
        svg=drawing(drawn.part, LAYOUTS["phone-page"]),
        marks=marks,
        leads=leads,
    )
