"""Routes for what a section shows the student who leads it."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Player, Today
from crumb.api.schemas.leader_view import LeadingOut, ShowsIn
from crumb.api.views.leader_view import leading_out
from crumb.services.wall import leader_view

router = APIRouter(tags=["leader_view"])


@router.get("/me/leading", operation_id="getLeading")
def get_leading(actor: Player, session: Db, today: Today) -> LeadingOut:
    """One's sections with their leaders, and what those show that one leads."""
    return leading_out(
        leader_view.own_sections(session, actor), leader_view.shown(session, actor, today)
    )


@router.put("/me/leading/{section_id}", operation_id="showLeader", status_code=204)
def show_leader(section_id: UUID, body: ShowsIn, actor: Player, session: Db) -> None:
    """Let the leader of one's section count oneself, or not any more."""
    leader_view.show(session, actor, section_id, shows=body.shows)
