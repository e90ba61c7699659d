"""The Wall and the evidence behind a cell."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api import views
from crumb.api.deps import Db, Director
from crumb.api.schemas import EvidenceOut, EvidenceRow, WallOut, WallRowOut
from crumb.core.score.address import span_label
from crumb.services import music, standings, wall

router = APIRouter(prefix="/wall", tags=["wall"])


@router.get("/{part_id}/{section_id}", operation_id="getWall")
def get_wall(part_id: UUID, section_id: UUID, who: Director, session: Db) -> WallOut:
    """A section on the chunks of a part."""
    view = wall.wall(session, who, part_id, section_id)
    return WallOut(
        chunks=[views.chunk_out(c) for c in view.chunks],
        standings=list(view.standings),
        rows=[
            WallRowOut(
                student_id=row.student_id,
                name=row.name,
                cells=[views.cell_out(c) for c in row.cells],
            )
            for row in view.rows
        ],
    )


@router.get("/{part_id}/evidence/{student_id}/{chunk_id}", operation_id="getEvidence")
def get_evidence(
    part_id: UUID, student_id: UUID, chunk_id: UUID, who: Director, session: Db
) -> EvidenceOut:
    """What a level rests on."""
    name, chunk, cell, found = wall.evidence(session, who, part_id, student_id, chunk_id)
    part = music.load_part(session, who, part_id).part
    return EvidenceOut(
        student=name,
        chunk=chunk.label,
        cell=views.cell_out(cell),
        repetitions=[
            EvidenceRow(
                played_at=piece.row.played_at,
                step_name=piece.row.step_name,
                kind=piece.row.kind,
                as_written=piece.row.as_written,
                span=span_label(part, standings.evidence_of(piece.row).span),
                tempo_bpm=float(piece.row.tempo_bpm),
                is_clean=piece.row.is_clean,
                is_retracted=piece.is_retracted,
                source=piece.row.source,
            )
            for piece in found
        ],
    )
