"""Pieces, parts, engraving, chunk maps."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, File, UploadFile

from crumb.api import views
from crumb.api.deps import Db, Director, Files
from crumb.api.schemas import (
    EngravingOut,
    GoalIn,
    LayoutName,
    MapEdit,
    MapOut,
    PartDetail,
    PieceOut,
    to_fraction,
)
from crumb.core.errors import UnreadableFile
from crumb.formats.engraving import LAYOUTS
from crumb.formats.musicxml.container import MAX_FILE_BYTES
from crumb.services import music, splitting, standings

router = APIRouter(tags=["music"])


@router.get("/pieces", operation_id="listPieces")
def list_pieces(who: Director, session: Db) -> list[PieceOut]:
    """All pieces, newest first."""
    return [views.piece_out(piece, parts) for piece, parts in music.list_pieces(session, who)]


@router.post("/pieces", operation_id="uploadPiece", status_code=201)
def upload_piece(
    file: Annotated[UploadFile, File()], who: Director, session: Db, files: Files
) -> PieceOut:
    """Bring in a MusicXML file or .mxl container."""
    data = file.file.read(MAX_FILE_BYTES + 1)
    if len(data) > MAX_FILE_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_FILE_BYTES // 1_000_000} MB.")
    made = music.import_piece(session, files, who, file_name=file.filename or "", data=data)
    for piece, parts in music.list_pieces(session, who):
        if piece.id == made.id:
            return views.piece_out(piece, parts)
    raise AssertionError("a piece just stored is not listed")


@router.get("/parts/{part_id}", operation_id="getPart")
def get_part(part_id: UUID, who: Director, session: Db) -> PartDetail:
    """A part with its measures."""
    hand = music.load_part(session, who, part_id)
    return views.part_detail(music.get_piece(session, who, hand.row.piece_id), hand)


@router.put("/parts/{part_id}/goal", operation_id="setGoal")
def set_goal(part_id: UUID, body: GoalIn, who: Director, session: Db) -> PartDetail:
    """Set the goal tempo; every level on the part is worked out anew."""
    hand = music.load_part(session, who, part_id, for_change=True)
    hand.row.goal_bpm = music.check_goal(to_fraction(body.goal_bpm))
    session.flush()
    standings.refresh_part(session, hand)
    session.commit()
    return views.part_detail(music.get_piece(session, who, hand.row.piece_id), hand)


@router.get("/parts/{part_id}/engraving", operation_id="getEngraving")
def get_engraving(
    part_id: UUID, who: Director, session: Db, layout: LayoutName = "page"
) -> EngravingOut:
    """The whole part, engraved."""
    hand = music.load_part(session, who, part_id)
    return EngravingOut(svg=music.drawing(session, hand.part, LAYOUTS[layout]))


@router.get("/parts/{part_id}/chunks", operation_id="getChunks")
def get_chunks(part_id: UUID, who: Director, session: Db) -> MapOut:
    """The chunk map in force."""
    return views.map_out(splitting.view_map(session, music.load_part(session, who, part_id)))


@router.post("/parts/{part_id}/chunks", operation_id="editChunks")
def edit_chunks(part_id: UUID, edit: MapEdit, who: Director, session: Db) -> MapOut:
    """One edit of the chunk map; ``version`` is the state the director saw."""
    version = edit.version
    match edit.op:
        case "by-measures":
            change = splitting.every(edit.measures)
        case "split":
            change = splitting.cut(views.position_in(edit.at))
        case "merge":
            change = splitting.join(edit.place)
        case "move-edge":
            change = splitting.shift(edit.place, edit.beats)
        case "move-edge-to":
            change = splitting.put_edge(edit.place, views.position_in(edit.at))
        case "landing":
            change = splitting.land(edit.place, on=edit.on)
        case "undo" | "redo":
            back = edit.op == "undo"
            return views.map_out(splitting.step_through(session, who, part_id, version, back=back))
    return views.map_out(splitting.apply(session, who, part_id, version, change))
