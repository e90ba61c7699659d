"""The Wall and the evidence behind a cell."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from crumb.api.deps import Db, Today, Watcher
from crumb.api.schemas.wall import EvidenceOut, EvidenceRow, SlipsOut, WallOut, WallRowOut
from crumb.api.views.places import chunk_out
from crumb.api.views.wall import cell_out, days_out, joins_out, secure_out
from crumb.core.evidence.doubts import SAID
from crumb.core.evidence.model import Doubt, What
from crumb.core.score.naming import span_label
from crumb.core.split.nested import DEEPEST
from crumb.services.evidence.ways import verdicts
from crumb.services.library import pieces
from crumb.services.standings import wall

router = APIRouter(prefix="/wall", tags=["wall"])


@router.get("/{part_id}/{section_id}", operation_id="getWall")
def get_wall(
    part_id: UUID,
    section_id: UUID,
    who: Watcher,
    session: Db,
    depth: Annotated[int, Query(ge=0, le=DEEPEST)] = 0,
) -> WallOut:
    """A section on the chunks of a part, or on what they are divided into."""
    view = wall.wall(session, who, part_id, section_id, depth)
    return WallOut(
        deepest=view.deepest,
        beside=view.beside,
        chunks=[chunk_out(c) for c in view.chunks],
        standings=list(view.standings),
        rows=[
            WallRowOut(
                student_id=row.student_id,
                name=row.name,
                cells=[cell_out(c) for c in row.cells],
            )
            for row in view.rows
        ],
    )


@router.get("/{part_id}/evidence/{student_id}/{chunk_id}", operation_id="getEvidence")
def get_evidence(
    part_id: UUID, student_id: UUID, chunk_id: UUID, who: Watcher, session: Db, today: Today
) -> EvidenceOut:
    """What a level rests on."""
    found = wall.evidence(session, who, part_id, student_id, chunk_id, today)
    part = pieces.load_part(session, who, part_id).part
    return EvidenceOut(
        student=found.student,
        chunk=found.chunk.label,
        cell=cell_out(found.cell),
        secure=secure_out(found),
        ways=verdicts(session, student_id, chunk_id),
        days=days_out(found.days),
        slips=[SlipsOut(place=place, count=count) for place, count in found.slips],
        joins=joins_out(found.joins),
        longest=None if found.longest is None else span_label(part, found.longest),
        repetitions=[
            EvidenceRow(
                what=What(one.row.what).value,
                played_at=one.row.played_at,
                day=one.row.local_day,
                step_name=one.row.step_name,
                kind=one.row.kind,
                as_written=one.row.as_written,
                span=span_label(part, one.span),
                tempo_bpm=None if one.row.tempo_bpm is None else float(one.row.tempo_bpm),
                is_clean=one.row.is_clean,
                is_retracted=one.is_retracted,
                source=one.row.source,
                doubt=SAID[Doubt(one.row.doubt)] if one.row.doubt else "",
                reason=one.row.reason,
                level=one.row.level,
                by=one.by,
            )
            for one in found.kept
        ],
    )
