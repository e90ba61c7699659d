"""Practice sheets on paper: ordered, fetched, typed in."""

from uuid import UUID

from fastapi import APIRouter, Response

from crumb.api.deps import Db, Director, Files, Member, SheetJobs, Today
from crumb.api.schemas import SheetJobOut, SheetLineOut, SheetOut, TicksIn, to_fraction
from crumb.core.drills import drill_kind
from crumb.services import sheets, ticking
from crumb.store.tables import SheetJob

router = APIRouter(prefix="/sheets", tags=["sheets"])


def _job(job: SheetJob) -> SheetJobOut:
    return SheetJobOut(
        id=job.id,
        state=job.state,  # type: ignore[arg-type]
        done=job.done,
        total=job.total,
        message=job.message,
    )


@router.post("/of/{assignment_id}", operation_id="orderSheets", status_code=202)
def order_sheets(assignment_id: UUID, who: Director, session: Db, queue: SheetJobs) -> SheetJobOut:
    """Have the sheets of everything sent with an assignment printed."""
    return _job(sheets.order_sheets(session, who, queue, assignment_id))


@router.get("/jobs/{job_id}", operation_id="getSheetJob")
def get_sheet_job(job_id: UUID, who: Director, session: Db) -> SheetJobOut:
    """How far they are."""
    return _job(sheets.get_job(session, who, job_id))


@router.get("/jobs/{job_id}/pdf", operation_id="getSheets", response_class=Response)
def get_sheets(job_id: UUID, who: Director, session: Db, files: Files) -> Response:
    """The PDF."""
    return Response(
        sheets.printed(session, files, who, job_id),
        media_type="application/pdf",
        headers={"Content-Disposition": 'inline; filename="practice-sheets.pdf"'},
    )


@router.get("/{code}", operation_id="getSheet")
def get_sheet(code: str, who: Member, session: Db) -> SheetOut:
    """A sheet by its printed code."""
    return _sheet(ticking.find_sheet(session, who, code))


@router.post("/{code}", operation_id="enterTicks")
def enter_ticks(code: str, body: TicksIn, who: Member, session: Db, today: Today) -> SheetOut:
    """What was ticked on it."""
    ticks = [ticking.Tick(tick.item_id, to_fraction(tick.tempo_bpm)) for tick in body.ticks]
    return _sheet(ticking.enter_ticks(session, who, code, ticks, body.played_on, today))


def _sheet(view: ticking.SheetView) -> SheetOut:
    return SheetOut(
        code=view.code,
        name=view.name,
        title=view.title,
        lines=[
            SheetLineOut(
                item_id=line.item_id,
                chunk=line.chunk.label,
                drill=drill_kind(line.drill).title,
                rungs=[float(rung) for rung in line.rungs],
                ticked=sorted(float(tempo) for tempo in line.ticked),
            )
            for line in view.lines
        ],
    )
