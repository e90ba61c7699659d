"""Routes for what needs a director today."""

from fastapi import APIRouter

from crumb.api.deps import Db, Today, Watcher
from crumb.api.schemas.desk import DeskOut, PutOffIn
from crumb.api.views.desk import desk_out
from crumb.services import desk

router = APIRouter(tags=["desk"])


@router.get("/desk", operation_id="getDesk")
def get_desk(actor: Watcher, session: Db, today: Today) -> DeskOut:
    """List what needs a director today, the most pressing first."""
    return desk_out(desk.view(session, actor, today), today)


@router.put("/desk/later", operation_id="putOff", status_code=204)
def put_off(body: PutOffIn, actor: Watcher, session: Db, today: Today) -> None:
    """Keep a line away until a day, for oneself."""
    desk.put_off(session, actor, body.line, body.until, today)
