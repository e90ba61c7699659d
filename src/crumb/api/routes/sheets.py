"""Practice sheets on paper: ordered, fetched, typed in."""

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Path, Response

from crumb.api.deps import Db, Files, Member, Sender, Today
from crumb.api.schemas.common import to_fraction
from crumb.api.schemas.sheets import SheetJobOut, SheetLineOut, SheetOut, SheetsIn, TicksIn
from crumb.core.vocabulary import JobKind, JobState
from crumb.services.jobs import cancel, get_job
from crumb.services.sheets import printing, ticks
from crumb.store.tables import Job

router = APIRouter(prefix="/sheets", tags=["sheets"])
SheetCode = Annotated[str, Path(max_length=40)]


def _job(job: Job) -> SheetJobOut:
    return SheetJobOut(
        id=job.id,
        state=JobState(job.state),
        done=job.done,
        total=job.total,
        message=job.message,
    )


@router.post("/of/{assignment_id}", operation_id="orderSheets", status_code=202)
def order_sheets(
    assignment_id: UUID, actor: Sender, session: Db, body: SheetsIn | None = None
) -> SheetJobOut:
    """Have the sheets of everything sent with an assignment printed."""
    boxes = body is not None and body.boxes
    return _job(printing.order_sheets(session, actor, assignment_id, boxes=boxes))


@router.get("/jobs/{job_id}", operation_id="getSheetJob")
def get_sheet_job(job_id: UUID, actor: Sender, session: Db) -> SheetJobOut:
    """State of the sheets."""
    return _job(get_job(session, actor, job_id, JobKind.SHEETS))


@router.post("/jobs/{job_id}/cancel", operation_id="cancelSheets")
def cancel_sheets(job_id: UUID, actor: Sender, session: Db) -> SheetJobOut:
    """Print them no further."""
    return _job(cancel(session, actor, job_id, JobKind.SHEETS))


@router.get("/jobs/{job_id}/pdf", operation_id="getSheets", response_class=Response)
def get_sheets(job_id: UUID, actor: Sender, session: Db, files: Files) -> Response:
    """The PDF."""
    return Response(
        printing.printed(session, files, actor, job_id),
        media_type="application/pdf",
        headers={"Content-Disposition": 'inline; filename="practice-printing.pdf"'},
    )


@router.get("/{code}", operation_id="getSheet")
def get_sheet(code: SheetCode, actor: Member, session: Db) -> SheetOut:
    """A sheet by its printed code."""
    return _sheet(ticks.find_sheet(session, actor, code))


@router.post("/{code}", operation_id="enterTicks")
def enter_ticks(
    code: SheetCode, body: TicksIn, actor: Member, session: Db, today: Today
) -> SheetOut:
    """Ticks of a sheet."""
    boxes = [ticks.Tick(tick.item_id, to_fraction(tick.tempo_bpm)) for tick in body.ticks]
    return _sheet(ticks.enter_ticks(session, actor, code, boxes, body.played_on, today))


def _sheet(view: ticks.SheetView) -> SheetOut:
    return SheetOut(
        code=view.code,
        name=view.name,
        title=view.title,
        lines=[
            SheetLineOut(
                item_id=line.item_id,
                chunk=line.chunk.label,
                drill=line.title,
                rungs=[float(rung) for rung in line.rungs],
                ticked=sorted(float(tempo) for tempo in line.ticked),
            )
            for line in view.lines
        ],
    )
