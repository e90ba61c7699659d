"""The drill catalogue and the bench."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api import views
from crumb.api.deps import Db, Director
from crumb.api.schemas import BenchIn, DrillOut, WorkedOut
from crumb.core.drills import CATALOGUE
from crumb.services import bench, music, splitting

router = APIRouter(tags=["drills"])


@router.get("/drills", operation_id="listDrills")
def list_drills(who: Director) -> list[DrillOut]:
    """Every drill there is."""
    return [views.drill_out(kind) for kind in CATALOGUE]


@router.post("/parts/{part_id}/bench", operation_id="workOutDrill")
def work_out_drill(part_id: UUID, body: BenchIn, who: Director, session: Db) -> WorkedOut:
    """A drill on a chunk: notation, ladder, minutes."""
    hand = music.load_part(session, who, part_id)
    chunk = splitting.get_chunk(session, hand, body.chunk_id)
    worked = bench.work_out(
        hand, chunk.span, body.drill, body.settings, views.ladder_in(body.ladder)
    )
    return views.worked_out(session, worked, chunk, body.layout)
