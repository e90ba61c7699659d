"""Routes for rehearsals, and the sectionals that students lead."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, Player, Sender, Today, Watcher, only_asks
from crumb.api.once import answered_once
from crumb.api.schemas.rehearsals import (
    EndRehearsalIn,
    KeepRehearsalIn,
    RehearsalIn,
    RehearsalMade,
    RehearsalOut,
    RehearsalPlanOut,
    SectionalOut,
    SendHomeIn,
)
from crumb.api.schemas.score_overview import (
    SentToOut,
)
from crumb.api.views.rehearsals import item_out, rehearsal_out
from crumb.api.views.score_overview import sent_out
from crumb.services.rehearsal import rehearsals

router = APIRouter(tags=["rehearsals"])


@router.post("/rehearsals/preview", operation_id="previewRehearsal")
@only_asks
def preview_rehearsal(body: RehearsalIn, actor: Watcher, session: Db) -> RehearsalPlanOut:
    """Preview a rehearsal of so many minutes, with reasons."""
    planned = rehearsals.plan(session, actor, _wish(body))
    return RehearsalPlanOut(
        title=planned.title,
        is_split=planned.is_split,
        goal_bpm=float(planned.goal),
        items=[item_out(item) for item in planned.items],
    )


def _wish(body: RehearsalIn) -> rehearsals.RehearsalRequest:
    return rehearsals.RehearsalRequest(
        body.piece_id,
        body.minutes,
        body.section_id,
        frozenset(body.absent),
        frozenset(body.away_next),
    )


@router.post("/rehearsals", operation_id="keepRehearsal", status_code=201)
def keep_rehearsal(
    body: KeepRehearsalIn, actor: Sender, session: Db, today: Today
) -> RehearsalMade:
    """Keep a plan for a day: for the podium, on paper, and for what becomes of it."""
    return RehearsalMade(id=rehearsals.keep(session, actor, _wish(body), body.day, today))


@router.get("/rehearsals", operation_id="listRehearsals")
def list_rehearsals(actor: Watcher, session: Db) -> list[RehearsalOut]:
    """The last rehearsals, the newest first."""
    return [rehearsal_out(one) for one in rehearsals.listed(session, actor)]


@router.get("/rehearsals/{rehearsal_id}", operation_id="getRehearsal")
def get_rehearsal(rehearsal_id: UUID, actor: Watcher, session: Db) -> RehearsalOut:
    """A rehearsal."""
    return rehearsal_out(rehearsals.get(session, actor, rehearsal_id))


@router.post("/rehearsals/{rehearsal_id}/end", operation_id="endRehearsal")
def end_rehearsal(
    rehearsal_id: UUID, body: EndRehearsalIn, actor: Sender, session: Db
) -> RehearsalOut:
    """Say what was done and who was there, once."""
    return rehearsal_out(rehearsals.end(session, actor, rehearsal_id, body.done, body.absent))


@router.post("/rehearsals/{rehearsal_id}/home", operation_id="sendHome")
def send_home(
    rehearsal_id: UUID, actor: Sender, session: Db, today: Today, body: SendHomeIn | None = None
) -> list[SentToOut]:
    """Send every section the counts that are still open."""

    def send() -> list[SentToOut]:
        return sent_out(rehearsals.send_home(session, actor, rehearsal_id, today))

    key = body.id if body else None
    return answered_once(session, actor, key, "send home", send, list[SentToOut])


@router.get("/me/sectionals", operation_id="listMySectionals")
def list_my_sectionals(actor: Player, session: Db, today: Today) -> list[SectionalOut]:
    """Sectionals that one leads, from today on."""
    return [
        SectionalOut(
            id=kept.row.id,
            title=kept.title,
            section=kept.section or "",
            day=kept.row.day,
            minutes=kept.row.minutes,
            items=[item_out(one.item) for one in kept.items],
        )
        for kept in rehearsals.led(session, actor, today)
    ]
