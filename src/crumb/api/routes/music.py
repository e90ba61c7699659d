"""Imports, pieces, parts, engraving."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, File, Form, UploadFile
from sqlalchemy.orm import Session

from crumb.api import views
from crumb.api.deps import Db, Director, Files, Jobs
from crumb.api.schemas import (
    EngravingOut,
    GoalIn,
    ImportOut,
    ImportState,
    LayoutName,
    PartDetail,
    PartsIn,
    PieceOut,
    PlaceOut,
    SurveyOut,
    to_fraction,
)
from crumb.core.errors import UnreadableFile
from crumb.core.score.address import find_span, span_label
from crumb.core.survey.instruments import INSTRUMENTS
from crumb.formats.engraving import LAYOUTS
from crumb.formats.musicxml.container import MAX_FILE_BYTES
from crumb.services import importing, mapping, marking, music, standings, surveying
from crumb.services.who import Who
from crumb.store.tables import ImportJob

router = APIRouter(tags=["music"])


@router.get("/instruments", operation_id="listInstruments")
def list_instruments(_: Director) -> list[str]:
    """What a part can be played on."""
    return [instrument.name for instrument in INSTRUMENTS]


@router.get("/pieces", operation_id="listPieces")
def list_pieces(who: Director, session: Db) -> list[PieceOut]:
    """All pieces as they stand, newest first."""
    sections = mapping.sections_by_part(session, who)
    return [
        views.piece_out(piece, parts, sections) for piece, parts in music.list_pieces(session, who)
    ]


def _piece(session: Session, who: Who, piece_id: UUID) -> PieceOut:
    piece, parts = music.piece_with_parts(session, who, piece_id)
    return views.piece_out(piece, parts, mapping.sections_by_part(session, who))


def _import_out(session: Session, who: Who, job: ImportJob) -> ImportOut:
    return ImportOut(
        id=job.id,
        file_name=job.file_name,
        state=ImportState(job.state),
        stage=job.stage,
        done=job.done,
        total=job.total,
        message=job.message,
        piece=_piece(session, who, job.piece_id) if job.piece_id else None,
    )


@router.post("/imports", operation_id="startImport", status_code=202)
def start_import(
    file: Annotated[UploadFile, File()],
    who: Director,
    session: Db,
    files: Files,
    jobs: Jobs,
    replaces: Annotated[UUID | None, Form()] = None,
) -> ImportOut:
    """Bring in MusicXML, .mxl, MIDI, ABC or MEI; it is read in the background."""
    data = file.file.read(MAX_FILE_BYTES + 1)
    if len(data) > MAX_FILE_BYTES:
        raise UnreadableFile(f"This file is larger than {MAX_FILE_BYTES // 1_000_000} MB.")
    job = importing.begin(
        session, files, jobs, who, file_name=file.filename or "", data=data, replaces=replaces
    )
    return _import_out(session, who, job)


@router.get("/imports/{import_id}", operation_id="getImport")
def get_import(import_id: UUID, who: Director, session: Db) -> ImportOut:
    """How far an import is."""
    return _import_out(session, who, importing.get_import(session, who, import_id))


@router.put("/pieces/{piece_id}/parts", operation_id="putParts")
def put_parts(piece_id: UUID, body: PartsIn, who: Director, session: Db) -> PieceOut:
    """Say which parts are wanted, on what they are played, and by whom."""
    wishes = [
        mapping.PartWish(
            part_id=p.part_id,
            is_set_aside=p.is_set_aside,
            played_on=p.played_on,
            section_ids=tuple(p.section_ids),
            new_section=p.new_section,
        )
        for p in body.parts
    ]
    mapping.put_parts(session, who, piece_id, wishes)
    return _piece(session, who, piece_id)


@router.get("/parts/{part_id}", operation_id="getPart")
def get_part(part_id: UUID, who: Director, session: Db) -> PartDetail:
    """A part with its measures."""
    hand = music.load_part(session, who, part_id)
    return views.part_detail(music.get_piece(session, who, hand.row.piece_id), hand)


@router.put("/parts/{part_id}/goal", operation_id="setGoal")
def set_goal(part_id: UUID, body: GoalIn, who: Director, session: Db) -> PartDetail:
    """Set the goal tempo; the survey and every level on the part are worked out anew."""
    hand = music.load_part(session, who, part_id, for_change=True)
    hand.row.goal_bpm = music.check_goal(to_fraction(body.goal_bpm))
    surveying.refresh_survey(session, hand)
    standings.refresh_part(session, hand)
    session.commit()
    return views.part_detail(music.get_piece(session, who, hand.row.piece_id), hand)


@router.get("/parts/{part_id}/engraving", operation_id="getEngraving")
def get_engraving(
    part_id: UUID, who: Director, session: Db, layout: LayoutName = "page"
) -> EngravingOut:
    """The whole part, engraved with the marks in it."""
    hand = marking.marked_hand(session, who, music.load_part(session, who, part_id))
    return EngravingOut(svg=music.drawing(session, hand.part, LAYOUTS[layout]))


@router.get("/parts/{part_id}/survey", operation_id="getSurvey")
def get_survey(part_id: UUID, who: Director, session: Db) -> SurveyOut:
    """Where the part is hard for its instrument at the goal tempo, and why."""
    hand = music.load_part(session, who, part_id)
    found = views.survey_out(hand)
    session.commit()
    return found


@router.get("/parts/{part_id}/place", operation_id="findPlace")
def find_place(part_id: UUID, say: str, who: Director, session: Db) -> PlaceOut:
    """What an address means: ``third measure of R``, ``61.3-62.1``, ``line 4``."""
    hand = music.load_part(session, who, part_id)
    span = find_span(hand.part, say[:120])
    return PlaceOut(
        label=span_label(hand.part, span),
        start=views.position_out(span.start),
        end=views.position_out(span.end),
    )
