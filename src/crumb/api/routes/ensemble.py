"""The score as a whole, rehearsals, and the Desk."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, MusicKeeper, Player, Sender, Today, Watcher, only_asks
from crumb.api.once import answered_once
from crumb.api.schemas.ensemble import (
    DeskOut,
    EndRehearsalIn,
    KeepRehearsalIn,
    LeadingOut,
    PartSlipsOut,
    PassageSlipsOut,
    PutOffIn,
    RehearsalIn,
    RehearsalMade,
    RehearsalOut,
    RehearsalPlanOut,
    ScoreOut,
    SectionalOut,
    SendHomeIn,
    SendPassageIn,
    SentToOut,
    ShowsIn,
    SplitPartOut,
    SplitTogetherIn,
    TakeBackIn,
    TakenBackOut,
)
from crumb.api.views.ensemble import (
    desk_out,
    item_out,
    leading_out,
    rehearsal_out,
    score_out,
    sent_out,
)
from crumb.services.ensemble import (
    desk,
    leading,
    rehearsing,
    score,
    sending,
    splitting,
    troubles,
)

router = APIRouter(tags=["ensemble"])


@router.get("/pieces/{piece_id}/score", operation_id="getScore")
def get_score(piece_id: UUID, who: Watcher, session: Db) -> ScoreOut:
    """How a piece stands as a whole, by passage and section."""
    return score_out(score.view(session, who, piece_id))


@router.post("/pieces/{piece_id}/split", operation_id="splitTogether")
def split_together(
    piece_id: UUID, body: SplitTogetherIn, who: MusicKeeper, session: Db
) -> list[SplitPartOut]:
    """Divide a passage in every part at once; a part that rests there stays as it is."""
    wish = splitting.SplitWish(body.words, body.by, body.measures)

    def split() -> list[SplitPartOut]:
        return [
            SplitPartOut(part_id=one.part_id, part=one.part, chunks=one.chunks, version=one.version)
            for one in splitting.split(session, who, piece_id, wish)
        ]

    return answered_once(session, who, body.id, "split together", split, list[SplitPartOut])


@router.post("/pieces/{piece_id}/split/back", operation_id="takeSplitBack")
def take_split_back(
    piece_id: UUID, body: TakeBackIn, who: MusicKeeper, session: Db
) -> TakenBackOut:
    """Put every part back as it was; those that were edited since are named."""
    maps = [(one.part_id, one.version) for one in body.maps]
    return TakenBackOut(kept=splitting.take_back(session, who, piece_id, maps))


@router.post("/pieces/{piece_id}/send", operation_id="sendPassage")
def send_passage(
    piece_id: UUID, body: SendPassageIn, who: Sender, session: Db, today: Today
) -> list[SentToOut]:
    """One drill on one passage to all who play there, each in their own notation."""
    wish = sending.PassageWish(
        body.place, body.drill, body.due_on, body.minutes_a_day, tuple(body.section_ids)
    )

    def send() -> list[SentToOut]:
        return sent_out(sending.send(session, who, piece_id, wish, today))

    return answered_once(session, who, body.id, "send passage", send, list[SentToOut])


@router.post("/rehearsals/preview", operation_id="previewRehearsal")
@only_asks
def preview_rehearsal(body: RehearsalIn, who: Watcher, session: Db) -> RehearsalPlanOut:
    """What to do with so many minutes, and why."""
    planned = rehearsing.plan(session, who, _wish(body))
    return RehearsalPlanOut(
        title=planned.title,
        is_split=planned.is_split,
        goal_bpm=float(planned.goal),
        items=[item_out(item) for item in planned.items],
    )


def _wish(body: RehearsalIn) -> rehearsing.Wish:
    return rehearsing.Wish(
        body.piece_id,
        body.minutes,
        body.section_id,
        frozenset(body.absent),
        frozenset(body.away_next),
    )


@router.post("/rehearsals", operation_id="keepRehearsal", status_code=201)
def keep_rehearsal(body: KeepRehearsalIn, who: Sender, session: Db, today: Today) -> RehearsalMade:
    """Keep a plan for a day: for the podium, on paper, and for what becomes of it."""
    return RehearsalMade(id=rehearsing.keep(session, who, _wish(body), body.day, today))


@router.get("/rehearsals", operation_id="listRehearsals")
def list_rehearsals(who: Watcher, session: Db) -> list[RehearsalOut]:
    """The last rehearsals, the newest first."""
    return [rehearsal_out(one) for one in rehearsing.listed(session, who)]


@router.get("/rehearsals/{rehearsal_id}", operation_id="getRehearsal")
def get_rehearsal(rehearsal_id: UUID, who: Watcher, session: Db) -> RehearsalOut:
    """One rehearsal."""
    return rehearsal_out(rehearsing.get(session, who, rehearsal_id))


@router.post("/rehearsals/{rehearsal_id}/end", operation_id="endRehearsal")
def end_rehearsal(
    rehearsal_id: UUID, body: EndRehearsalIn, who: Sender, session: Db
) -> RehearsalOut:
    """Say what was done and who was there, once."""
    return rehearsal_out(rehearsing.end(session, who, rehearsal_id, body.done, body.absent))


@router.post("/rehearsals/{rehearsal_id}/home", operation_id="sendHome")
def send_home(
    rehearsal_id: UUID, who: Sender, session: Db, today: Today, body: SendHomeIn | None = None
) -> list[SentToOut]:
    """Send every section the counts that are still open."""

    def send() -> list[SentToOut]:
        return sent_out(rehearsing.send_home(session, who, rehearsal_id, today))

    key = body.id if body else None
    return answered_once(session, who, key, "send home", send, list[SentToOut])


@router.get("/desk", operation_id="getDesk")
def get_desk(who: Watcher, session: Db, today: Today) -> DeskOut:
    """What needs a director today, the most pressing first."""
    return desk_out(desk.view(session, who, today), today)


@router.put("/desk/later", operation_id="putOff", status_code=204)
def put_off(body: PutOffIn, who: Watcher, session: Db, today: Today) -> None:
    """Keep a line away until a day, for oneself."""
    desk.put_off(session, who, body.line, body.until, today)


@router.get("/me/sectionals", operation_id="listMySectionals")
def list_my_sectionals(who: Player, session: Db, today: Today) -> list[SectionalOut]:
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
        for kept in rehearsing.led(session, who, today)
    ]


@router.get("/pieces/{piece_id}/slips", operation_id="getPieceSlips")
def get_piece_slips(piece_id: UUID, who: Watcher, session: Db) -> list[PassageSlipsOut]:
    """Where slips fall on a whole piece, passage by passage, in the order of the music."""
    return [
        PassageSlipsOut(
            name=one.passage.name,
            parts=[PartSlipsOut(part_id=i, part=name, count=count) for i, name, count in one.parts],
        )
        for one in troubles.of_piece(session, who, piece_id)
    ]


@router.get("/me/leading", operation_id="getLeading")
def get_leading(who: Player, session: Db, today: Today) -> LeadingOut:
    """One's sections with their leaders, and what those show that one leads."""
    return leading_out(leading.own_sections(session, who), leading.shown(session, who, today))


@router.put("/me/leading/{section_id}", operation_id="showLeader", status_code=204)
def show_leader(section_id: UUID, body: ShowsIn, who: Player, session: Db) -> None:
    """Let the leader of one's section count oneself, or not any more."""
    leading.show(session, who, section_id, shows=body.shows)
