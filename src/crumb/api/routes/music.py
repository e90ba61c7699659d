"""Imports, pieces, parts, engraving."""

from fractions import Fraction
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, File, Form, Query, UploadFile
from sqlalchemy.orm import Session

from crumb.api.deps import Db, Files, MusicKeeper, MusicReader, release
from crumb.api.schemas.common import LayoutName, to_fraction
from crumb.api.schemas.music import (
    DeletedOut,
    EngravingOut,
    GoalIn,
    HangingOut,
    ImportOut,
    ObjectivesIn,
    OnPaperIn,
    PageMapIn,
    PageMapOut,
    PartDetail,
    PartsIn,
    PieceOut,
    PlaceOut,
    RangeIn,
    SurveyOut,
)
from crumb.api.views.music import page_map_out, part_detail, piece_out, survey_out
from crumb.api.views.places import position_out
from crumb.core.errors import UnreadableFile
from crumb.core.instruments.table import INSTRUMENTS
from crumb.core.score.address import find_span
from crumb.core.score.naming import span_label
from crumb.core.vocabulary import JobKind, JobState
from crumb.formats.layout import LAYOUTS
from crumb.formats.musicxml.container import MAX_FILE_BYTES
from crumb.services.access import Actor
from crumb.services.jobs import cancel, get_job
from crumb.services.library import marks, page_map, pieces
from crumb.services.library.drawing import drawing
from crumb.services.music import deletion, goals, imports, on_paper, seating
from crumb.store.tables import Job

router = APIRouter(tags=["music"])


@router.get("/instruments", operation_id="listInstruments")
def list_instruments(_: MusicKeeper) -> list[str]:
    """Instruments that a part can be played on."""
    return [instrument.name for instrument in INSTRUMENTS]


@router.get("/pieces", operation_id="listPieces")
def list_pieces(actor: MusicReader, session: Db) -> list[PieceOut]:
    """All pieces as they stand, newest first."""
    sections = seating.sections_by_part(session, actor)
    return [
        piece_out(piece, parts, sections) for piece, parts in pieces.list_pieces(session, actor)
    ]


def _piece(session: Session, actor: Actor, piece_id: UUID) -> PieceOut:
    piece, parts = pieces.piece_with_parts(session, actor, piece_id)
    return piece_out(piece, parts, seating.sections_by_part(session, actor))


def _detail(session: Session, actor: Actor, hand: pieces.PartInHand) -> PartDetail:
    players = seating.sections_by_part(session, actor).get(hand.row.id, ())
    return part_detail(pieces.get_piece(session, actor, hand.row.piece_id), hand, players)


def _import_out(session: Session, actor: Actor, job: Job) -> ImportOut:
    return ImportOut(
        id=job.id,
        file_name=job.file_name,
        state=JobState(job.state),
        stage=job.stage,
        done=job.done,
        total=job.total,
        message=job.message,
        piece=_piece(session, actor, job.piece_id) if job.piece_id else None,
    )


@router.post("/imports", operation_id="startImport", status_code=202)
def start_import(
    file: Annotated[UploadFile, File()],
    actor: MusicKeeper,
    session: Db,
    files: Files,
    replaces: Annotated[UUID | None, Form()] = None,
) -> ImportOut:
    """Bring in MusicXML, .mxl, MIDI, ABC or MEI; it is read in the background."""
    data = file.file.read(MAX_FILE_BYTES + 1)
    if len(data) > MAX_FILE_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_FILE_BYTES // 1_000_000} MB.")
    job = imports.begin(
        session, files, actor, file_name=file.filename or "", data=data, replaces=replaces
    )
    return _import_out(session, actor, job)


@router.post("/pieces/on-paper", operation_id="addOnPaper", status_code=201)
def add_on_paper(body: OnPaperIn, actor: MusicKeeper, session: Db, files: Files) -> PieceOut:
    """A part without notes: its measures can be divided, sent, counted and graded all the same."""
    piece = on_paper.add(
        session,
        files,
        actor,
        on_paper.OnPaper(
            title=body.title,
            composer=body.composer,
            played_on=body.played_on,
            measures=body.measures,
            first=body.first,
            time=body.time,
            pickup=Fraction(body.pickup),
            goal=to_fraction(body.goal_bpm),
            letters={one.number: one.letter for one in body.letters},
        ),
    )
    return _piece(session, actor, piece.id)


@router.get("/imports/{import_id}", operation_id="getImport")
def get_import(import_id: UUID, actor: MusicKeeper, session: Db) -> ImportOut:
    """State of an import."""
    return _import_out(session, actor, get_job(session, actor, import_id, JobKind.IMPORT))


@router.post("/imports/{import_id}/cancel", operation_id="cancelImport")
def cancel_import(import_id: UUID, actor: MusicKeeper, session: Db) -> ImportOut:
    """Read it no further; nothing of it is stored."""
    return _import_out(session, actor, cancel(session, actor, import_id, JobKind.IMPORT))


@router.get("/pieces/deleted", operation_id="listDeletedPieces")
def list_deleted_pieces(actor: MusicKeeper, session: Db) -> list[DeletedOut]:
    """Pieces that were taken away and can still be brought back."""
    return [
        DeletedOut(
            id=piece.id,
            title=piece.title,
            deleted_at=piece.deleted_at,
            gone_at=piece.deleted_at + deletion.KEPT_FOR,
            erases_evidence=piece.erases_evidence,
        )
        for piece in deletion.taken_away(session, actor)
        if piece.deleted_at is not None
    ]


@router.get("/pieces/{piece_id}/hanging", operation_id="getHanging")
def get_hanging(piece_id: UUID, actor: MusicKeeper, session: Db) -> HangingOut:
    """Count what depends on a piece, before it is deleted."""
    return HangingOut(**deletion.what_hangs(session, actor, piece_id)._asdict())


@router.delete("/pieces/{piece_id}", operation_id="deletePiece", status_code=204)
def delete_piece(
    piece_id: UUID,
    actor: MusicKeeper,
    session: Db,
    evidence: Literal["keep", "erase"] = "keep",
) -> None:
    """Take a piece away, for good after a week; what was played on it is kept or goes too."""
    deletion.take_away(session, actor, piece_id, erase_evidence=evidence == "erase")


@router.post("/pieces/{piece_id}/restore", operation_id="restorePiece")
def restore_piece(piece_id: UUID, actor: MusicKeeper, session: Db) -> PieceOut:
    """Bring it back."""
    deletion.bring_back(session, actor, piece_id)
    return _piece(session, actor, piece_id)


@router.put("/pieces/{piece_id}/parts", operation_id="putParts")
def put_parts(piece_id: UUID, body: PartsIn, actor: MusicKeeper, session: Db) -> PieceOut:
    """Say which parts are wanted, on what they are played, and by whom."""
    wishes = [
        seating.PartWish(
            part_id=p.part_id,
            is_set_aside=p.is_set_aside,
            played_on=p.played_on,
            section_ids=tuple(p.section_ids),
            new_section=p.new_section,
        )
        for p in body.parts
    ]
    seating.put_parts(session, actor, piece_id, wishes)
    return _piece(session, actor, piece_id)


@router.get("/parts/{part_id}", operation_id="getPart")
def get_part(part_id: UUID, actor: MusicReader, session: Db) -> PartDetail:
    """A part with its measures."""
    hand = pieces.load_part(session, actor, part_id)
    return _detail(session, actor, hand)


@router.put("/parts/{part_id}/goal", operation_id="setGoal")
def set_goal(part_id: UUID, body: GoalIn, actor: MusicKeeper, session: Db) -> PartDetail:
    """Set the goal tempo; the survey and every level on the part follow, levels perhaps later."""
    hand = goals.set_goal(session, actor, part_id, to_fraction(body.goal_bpm))
    return _detail(session, actor, hand)


@router.put("/parts/{part_id}/range", operation_id="setRange")
def set_range(part_id: UUID, body: RangeIn, actor: MusicKeeper, session: Db) -> PartDetail:
    """Set the slowest tempo it can be performed at, and that of its best day."""
    floor, festival = (
        None if tempo is None else to_fraction(tempo)
        for tempo in (body.floor_bpm, body.festival_bpm)
    )
    return _detail(session, actor, goals.set_range(session, actor, part_id, floor, festival))


@router.put("/pieces/{piece_id}/goal", operation_id="setPieceGoal")
def set_piece_goal(piece_id: UUID, body: GoalIn, actor: MusicKeeper, session: Db) -> PieceOut:
    """One goal tempo for all its parts; each can be changed by itself afterwards."""
    goals.set_piece_goal(session, actor, piece_id, to_fraction(body.goal_bpm))
    return _piece(session, actor, piece_id)


@router.put("/pieces/{piece_id}/objectives", operation_id="setObjectives")
def set_objectives(piece_id: UUID, body: ObjectivesIn, actor: MusicKeeper, session: Db) -> PieceOut:
    """Say what the piece is about; it is printed on every page of it."""
    page_map.set_objectives(session, actor, piece_id, body.objectives)
    return _piece(session, actor, piece_id)


@router.get("/parts/{part_id}/lines", operation_id="getPageMap")
def get_page_map(part_id: UUID, actor: MusicKeeper, session: Db) -> PageMapOut:
    """Get the measures at which printed lines and pages start."""
    return page_map_out(pieces.load_part(session, actor, part_id))


@router.put("/parts/{part_id}/lines", operation_id="setPageMap")
def set_page_map(part_id: UUID, body: PageMapIn, actor: MusicKeeper, session: Db) -> PageMapOut:
    """Say where they start; nothing at all: as the file says."""
    hand = page_map.set_page_map(session, actor, part_id, body.lines, body.pages)
    return page_map_out(hand)


@router.get("/parts/{part_id}/engraving", operation_id="getEngraving")
def get_engraving(
    part_id: UUID, actor: MusicReader, session: Db, layout: LayoutName = "page"
) -> EngravingOut:
    """The whole part, engraved with the marks in it."""
    hand = marks.marked_hand(session, actor, pieces.load_part(session, actor, part_id))
    release(session)
    return EngravingOut(svg=drawing(hand.part, LAYOUTS[layout]))


@router.get("/parts/{part_id}/survey", operation_id="getSurvey")
def get_survey(part_id: UUID, actor: MusicKeeper, session: Db) -> SurveyOut:
    """Survey a part: hard spots for its instrument at the goal tempo, with reasons."""
    hand = pieces.load_part(session, actor, part_id)
    return survey_out(hand)


@router.get("/parts/{part_id}/place", operation_id="findPlace")
def find_place(
    part_id: UUID, say: Annotated[str, Query(max_length=200)], actor: MusicKeeper, session: Db
) -> PlaceOut:
    """Find a place by its address: ``third measure of R``, ``61.3-62.1``, ``line 4``."""
    hand = pieces.load_part(session, actor, part_id)
    span = find_span(hand.part, say[:120])
    return PlaceOut(
        label=span_label(hand.part, span),
        start=position_out(span.start),
        end=position_out(span.end),
    )
