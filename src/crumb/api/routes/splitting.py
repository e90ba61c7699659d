"""Chunk maps and kin."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, MusicKeeper
from crumb.api.schemas.splitting import DeltaIn, KinOut, MapEdit, MapOut, VerdictIn
from crumb.api.views.music import kin_out
from crumb.api.views.places import position_in
from crumb.api.views.splitting import map_out
from crumb.services.library import pieces
from crumb.services.maps import chunks, edits, versions
from crumb.services.music import kinship

router = APIRouter(tags=["splitting"])


@router.get("/parts/{part_id}/chunks", operation_id="getChunks")
def get_chunks(
    part_id: UUID, who: MusicKeeper, session: Db, section_id: UUID | None = None
) -> MapOut:
    """The chunk map in force: everybody's, or a section's own if it has one."""
    hand = pieces.load_part(session, who, part_id)
    return map_out(hand, chunks.view_map(session, hand, section_id))


@router.post("/parts/{part_id}/chunks", operation_id="editChunks")
def edit_chunks(
    part_id: UUID, edit: MapEdit, who: MusicKeeper, session: Db, section_id: UUID | None = None
) -> MapOut:
    """One edit of a chunk map; ``version`` is the state the director saw."""
    version = edit.version
    match edit.op:
        case "by-measures":
            change = edits.every(edit.measures)
        case "propose":
            change = edits.propose(edit.by)
        case "divide" | "divide-other":
            other_way = edit.op == "divide-other"
            change = edits.divide_inside(edit.place, edit.depth, other_way=other_way)
        case "join-inside":
            change = edits.join_inside(edit.place, edit.depth)
        case "order":
            change = edits.put_in_order(edit.kind, edit.by_hand)
        case "split":
            change = edits.cut(position_in(edit.at), edit.depth)
        case "merge":
            change = edits.join(edit.place, edit.depth)
        case "move-edge":
            change = edits.shift(edit.place, edit.beats, edit.depth)
        case "move-edge-to":
            change = edits.put_edge(edit.place, position_in(edit.at), edit.depth)
        case "landing":
            change = edits.land(edit.place, on=edit.on, depth=edit.depth)
        case "undo" | "redo":
            back = edit.op == "undo"
            view = versions.step_through(
                session, who, part_id, version, back=back, section_id=section_id
            )
            return map_out(pieces.load_part(session, who, part_id), view)
    view = versions.apply(session, who, part_id, version, change, section_id)
    return map_out(pieces.load_part(session, who, part_id), view)


@router.put("/parts/{part_id}/sections/{section_id}/map", operation_id="makeOwnMap")
def make_own_map(part_id: UUID, section_id: UUID, who: MusicKeeper, session: Db) -> MapOut:
    """Give a section a map of its own, starting as everybody's stands."""
    view = versions.own_map(session, who, part_id, section_id)
    return map_out(pieces.load_part(session, who, part_id), view)


@router.get("/parts/{part_id}/kin", operation_id="listKin")
def list_kin(part_id: UUID, who: MusicKeeper, session: Db) -> list[KinOut]:
    """What in this part is like something else, in it or in the other parts."""
    return [kin_out(view) for view in kinship.list_kin(session, who, part_id)]


@router.put("/kin/{kin_id}", operation_id="judgeKin", status_code=204)
def judge_kin(kin_id: UUID, body: VerdictIn, who: MusicKeeper, session: Db) -> None:
    """Confirm a link, refuse it, or leave it open again."""
    kinship.judge(session, who, kin_id, body.verdict)


@router.post("/kin/{kin_id}/chunk", operation_id="chunkOfDifference")
def chunk_of_difference(kin_id: UUID, body: DeltaIn, who: MusicKeeper, session: Db) -> MapOut:
    """Make a chunk of only the notes that differ, in the later twin's part."""
    part_id, change = kinship.delta_of(session, who, kin_id)
    view = versions.apply(session, who, part_id, body.version, change)
    return map_out(pieces.load_part(session, who, part_id), view)
