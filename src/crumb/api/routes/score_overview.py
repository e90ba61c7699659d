"""Routes for a score as a whole, split and sent for everybody."""

from uuid import UUID

from fastapi import APIRouter

from crumb.api.deps import Db, MusicKeeper, Sender, Today, Watcher
from crumb.api.once import answered_once
from crumb.api.schemas.score_overview import (
    PartSlipsOut,
    PassageSlipsOut,
    ScoreOut,
    SendPassageIn,
    SentToOut,
    SplitPartOut,
    SplitTogetherIn,
    TakeBackIn,
    TakenBackOut,
)
from crumb.api.views.score_overview import score_out, sent_out
from crumb.services.score_overview import overview, sending, splitting
from crumb.services.wall import slip_map

router = APIRouter(tags=["score_overview"])


@router.get("/pieces/{piece_id}/score", operation_id="getScore")
def get_score(piece_id: UUID, actor: Watcher, session: Db) -> ScoreOut:
    """How a piece stands as a whole, by passage and section."""
    return score_out(overview.view(session, actor, piece_id))


@router.post("/pieces/{piece_id}/split", operation_id="splitTogether")
def split_together(
    piece_id: UUID, body: SplitTogetherIn, actor: MusicKeeper, session: Db
) -> list[SplitPartOut]:
    """Divide a passage in every part at once; a part that rests there stays as it is."""
    wish = splitting.SplitRequest(body.words, body.by, body.measures)

    def split() -> list[SplitPartOut]:
        return [
            SplitPartOut(part_id=one.part_id, part=one.part, chunks=one.chunks, version=one.version)
            for one in splitting.split(session, actor, piece_id, wish)
        ]

    return answered_once(session, actor, body.id, "split together", split, list[SplitPartOut])


@router.post("/pieces/{piece_id}/split/back", operation_id="takeSplitBack")
def take_split_back(
    piece_id: UUID, body: TakeBackIn, actor: MusicKeeper, session: Db
) -> TakenBackOut:
    """Put every part back as it was; those that were edited since are named."""
    maps = [(one.part_id, one.version) for one in body.maps]
    return TakenBackOut(kept=splitting.take_back(session, actor, piece_id, maps))


@router.post("/pieces/{piece_id}/send", operation_id="sendPassage")
def send_passage(
    piece_id: UUID, body: SendPassageIn, actor: Sender, session: Db, today: Today
) -> list[SentToOut]:
    """One drill on one passage to all who play there, each in their own notation."""
    wish = sending.PassageRequest(
        body.place, body.drill, body.due_on, body.minutes_a_day, tuple(body.section_ids)
    )

    def send() -> list[SentToOut]:
        return sent_out(sending.send(session, actor, piece_id, wish, today))

    return answered_once(session, actor, body.id, "send passage", send, list[SentToOut])


@router.get("/pieces/{piece_id}/slips", operation_id="getPieceSlips")
def get_piece_slips(piece_id: UUID, actor: Watcher, session: Db) -> list[PassageSlipsOut]:
    """Slips on a whole piece, passage by passage, in the order of the music."""
    return [
        PassageSlipsOut(
            name=one.passage.name,
            parts=[PartSlipsOut(part_id=i, part=name, count=count) for i, name, count in one.parts],
        )
        for one in slip_map.of_piece(session, actor, piece_id)
    ]
