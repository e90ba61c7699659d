"""Chunk maps and kin."""

from dataclasses import asdict
from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Path

from crumb.api.deps import Db, MusicKeeper, MusicReader
from crumb.api.schemas.common import Place
from crumb.api.schemas.splitting import (
    ChunkOut,
    ClaimIn,
    ClaimOut,
    CornerOut,
    DeltaIn,
    KinOut,
    MapEdit,
    MapOut,
    OctaveIn,
    OctaveOut,
    PassageIn,
    TagFoundOut,
    TaggedOut,
    TagIn,
    TagNameOut,
    VerdictIn,
)
from crumb.api.views.music import kin_out
from crumb.api.views.places import chunk_out, position_in
from crumb.api.views.splitting import map_out, tagged_out
from crumb.core.similarity.corners import corners
from crumb.core.survey.tags import TAGS
from crumb.services.library import pieces
from crumb.services.maps import chunks, edits, passages, tags, versions
from crumb.services.music import kin
from crumb.services.music import versions as music_versions

router = APIRouter(tags=["splitting"])


@router.get("/parts/{part_id}/chunks", operation_id="getChunks")
def get_chunks(
    part_id: UUID, actor: MusicReader, session: Db, section_id: UUID | None = None
) -> MapOut:
    """The chunk map in force: everybody's, or a section's own if it has one."""
    hand = pieces.load_part(session, actor, part_id)
    return map_out(hand, chunks.view_map(session, hand, section_id))


@router.post("/parts/{part_id}/chunks", operation_id="editChunks")
def edit_chunks(
    part_id: UUID, edit: MapEdit, actor: MusicKeeper, session: Db, section_id: UUID | None = None
) -> MapOut:
    """One edit of a chunk map; ``version`` is the state the director saw."""
    version = edit.version
    match edit.op:
        case "by-measures":
            change = edits.by_measures(edit.measures)
        case "propose":
            change = edits.propose(edit.by)
        case "split-inside" | "split-inside-other":
            other_way = edit.op == "split-inside-other"
            change = edits.split_inside(edit.place, edit.depth, other_way=other_way)
        case "merge-inside":
            change = edits.merge_inside(edit.place, edit.depth)
        case "order":
            change = edits.set_order(edit.kind, edit.by_hand)
        case "split":
            change = edits.split(position_in(edit.at), edit.depth)
        case "merge":
            change = edits.merge(edit.place, edit.depth)
        case "move-edge":
            change = edits.move_edge(edit.place, edit.beats, edit.depth)
        case "move-edge-to":
            change = edits.move_edge_to(edit.place, position_in(edit.at), edit.depth)
        case "landing":
            change = edits.set_landing(edit.place, on=edit.on, depth=edit.depth)
        case "undo" | "redo":
            back = edit.op == "undo"
            view = versions.step_through(
                session, actor, part_id, version, back=back, section_id=section_id
            )
            return map_out(pieces.load_part(session, actor, part_id), view)
    view = versions.apply(session, actor, part_id, version, change, section_id)
    return map_out(pieces.load_part(session, actor, part_id), view)


@router.post("/parts/{part_id}/passages", operation_id="keepPassage")
def keep_passage(part_id: UUID, body: PassageIn, actor: MusicKeeper, session: Db) -> ChunkOut:
    """Something to work on that is no chunk: joined chunks, a line, a span in words, all of it."""
    pointed = passages.Pointed(body.words, body.first_id, body.last_id)
    return chunk_out(passages.keep(session, actor, part_id, pointed))


@router.get("/parts/{part_id}/passages/{chunk_id}", operation_id="getPassage")
def get_passage(part_id: UUID, chunk_id: UUID, actor: MusicKeeper, session: Db) -> ChunkOut:
    """A chunk or passage of a part, in a map or not."""
    hand = pieces.load_part(session, actor, part_id)
    return chunk_out(chunks.get_chunk(session, hand, chunk_id))


@router.post("/parts/{part_id}/passages/{chunk_id}/octave", operation_id="makeOctave")
def make_octave(
    part_id: UUID, chunk_id: UUID, body: OctaveIn, actor: MusicKeeper, session: Db
) -> OctaveOut:
    """A chunk an octave away, in a part of its own: its level there is its own, too."""
    way = 1 if body.way == "up" else -1
    made, chunk = music_versions.octave_version(session, actor, part_id, chunk_id, way)
    return OctaveOut(part_id=made, chunk=chunk_out(chunk))


@router.put("/parts/{part_id}/sections/{section_id}/map", operation_id="makeOwnMap")
def make_own_map(part_id: UUID, section_id: UUID, actor: MusicKeeper, session: Db) -> MapOut:
    """Give a section a map of its own, starting as everybody's stands."""
    view = versions.own_map(session, actor, part_id, section_id)
    return map_out(pieces.load_part(session, actor, part_id), view)


@router.get("/parts/{part_id}/kin", operation_id="listKin")
def list_kin(part_id: UUID, actor: MusicKeeper, session: Db) -> list[KinOut]:
    """List similar passages of this part, in it and in the other parts."""
    return [kin_out(view) for view in kin.list_kin(session, actor, part_id)]


@router.put("/kin/{kin_id}", operation_id="judgeKin", status_code=204)
def judge_kin(kin_id: UUID, body: VerdictIn, actor: MusicKeeper, session: Db) -> None:
    """Confirm a link, refuse it, or leave it open again."""
    kin.judge(session, actor, kin_id, body.verdict)


@router.post("/kin/{kin_id}/chunk", operation_id="chunkOfDifference")
def chunk_of_difference(kin_id: UUID, body: DeltaIn, actor: MusicKeeper, session: Db) -> MapOut:
    """Make a chunk of only the notes that differ, in the later of the two's part."""
    part_id, change = kin.delta_of(session, actor, kin_id)
    view = versions.apply(session, actor, part_id, body.version, change)
    return map_out(pieces.load_part(session, actor, part_id), view)


@router.post("/parts/{part_id}/kin/claims", operation_id="claimKin")
def claim_kin(part_id: UUID, body: ClaimIn, actor: MusicKeeper, session: Db) -> ClaimOut:
    """Hold what somebody says is alike against the notes, one by one."""
    verdict = kin.claim(session, actor, part_id, body.text)
    return ClaimOut(
        holds=verdict.holds,
        said=verdict.said,
        first_index=verdict.first.index if verdict.first else None,
    )


@router.get("/parts/{part_id}/corners", operation_id="listCorners")
def list_corners(
    part_id: UUID,
    actor: MusicKeeper,
    session: Db,
    first: Place = 0,
    last: Place = 10_000,
) -> list[CornerOut]:
    """The notes that measures start and end with, and where their pattern breaks."""
    part = pieces.load_part(session, actor, part_id).part
    return [CornerOut(**asdict(row)) for row in corners(part, first, last)]


@router.get("/tags", operation_id="listTags")
def list_tags(actor: MusicKeeper) -> list[TagNameOut]:
    """The techniques there are tags for."""
    return [TagNameOut(tag=tag, name=name) for tag, name in TAGS.items()]


@router.get("/tags/{tag}", operation_id="searchTag")
def search_tag(
    tag: Annotated[str, Path(max_length=40)], actor: MusicKeeper, session: Db
) -> list[TagFoundOut]:
    """Search all the program's music for a technique."""
    return [
        TagFoundOut(piece=one.piece, part_id=one.part_id, part=one.part, chunk=chunk_out(one.chunk))
        for one in tags.search(session, actor, tag)
    ]


@router.get("/parts/{part_id}/chunks/{chunk_id}/tags", operation_id="getChunkTags")
def get_chunk_tags(part_id: UUID, chunk_id: UUID, actor: MusicKeeper, session: Db) -> TaggedOut:
    """The techniques of a chunk, of whatever map and depth."""
    return tagged_out(tags.of_chunk(session, actor, part_id, chunk_id))


@router.put("/parts/{part_id}/chunks/{chunk_id}/tags/{tag}", operation_id="sayTag")
def say_tag(
    part_id: UUID,
    chunk_id: UUID,
    tag: Annotated[str, Path(max_length=40)],
    body: TagIn,
    actor: MusicKeeper,
    session: Db,
) -> TaggedOut:
    """Add a technique to a chunk or take it off."""
    return tagged_out(tags.say(session, actor, part_id, chunk_id, tag, is_on=body.on))
