"""The student's side: today, the Stand, handing in, one's own map."""

from collections.abc import Callable
from uuid import UUID

from fastapi import APIRouter, Request, Response
from fastapi.concurrency import run_in_threadpool
from sqlalchemy.orm import Session

from crumb.api.deps import Db, Player, Today, Token, player_by, release
from crumb.api.schemas.common import LayoutName, to_fraction
from crumb.api.schemas.practice import (
    ChunkLevel,
    DiaryOut,
    DoubtOut,
    HandedIn,
    InsteadIn,
    ItemMade,
    ItemState,
    MyPartOut,
    RepetitionsIn,
    StandOut,
    TodayItemOut,
    WayRatingIn,
    WaysOut,
)
from crumb.api.views.drills import worked_out
from crumb.api.views.hearing import my_part_out
from crumb.api.views.practice import (
    climb_out,
    diary_out,
    line_in,
    other_out,
    slip_in,
    slip_kinds_out,
    today_out,
    ways_out,
)
from crumb.core.drills.alternatives import alternatives_for, equivalents
from crumb.core.drills.comparison import Rating
from crumb.core.evidence.model import Source
from crumb.core.evidence.plausibility import SAID
from crumb.core.intake.facts import AssignedRepetition
from crumb.core.vocabulary import Permission
from crumb.formats.layout import LAYOUTS
from crumb.services import hearing
from crumb.services.evidence import diary, record_evidence
from crumb.services.library import pieces
from crumb.services.people.signing_in import cached_session_by
from crumb.services.planning import substitutes
from crumb.services.practice import free_practice, notation, stand, today, ways
from crumb.services.wall import grid
from crumb.store.pipeline import Script, run, run_async
from crumb.store.unit_of_work import unit_of_work

router = APIRouter(prefix="/me", tags=["practice"])


@router.get("/today", operation_id="getToday")
def get_today(actor: Player, session: Db, day: Today) -> list[TodayItemOut]:
    """Today's list in order."""
    return [today_out(line) for line in today.today(session, actor, day)]


@router.get("/stand/{item_id}", operation_id="getStand")
def get_stand(
    item_id: UUID, actor: Player, session: Db, layout: LayoutName = "phone-snippet"
) -> StandOut:
    """An item for practising."""
    view = stand.stand(session, actor, item_id)
    release(session)
    drawings = notation.drawn_steps(view.drill.steps, view.notations, LAYOUTS[layout])
    return StandOut(
        item=today_out(view.line),
        worked=worked_out(view.part, view.drill, view.line.chunk, drawings),
        climb=climb_out(view.line.climb),
        clean_means=view.drill.clean_means,
        on_slip=view.drill.on_slip,
        caution=view.drill.caution,
        slips=slip_kinds_out(view.drill),
        stalled=[other_out(one) for one in alternatives_for(view.drill.drill)],
        bored=[other_out(one) for one in equivalents(view.drill.drill)],
    )


@router.post("/stand/{item_id}/instead", operation_id="takeInstead", status_code=201)
def take_instead(item_id: UUID, body: InsteadIn, actor: Player, session: Db) -> ItemMade:
    """Take another drill in this one's place: its ladder stalls, or it bores."""
    return ItemMade(item_id=substitutes.take(session, actor, item_id, body.drill))


@router.get("/diary", operation_id="getMyDiary")
def get_my_diary(actor: Player, session: Db, day: Today) -> DiaryOut:
    """One's own diary."""
    return diary_out(diary.own(session, actor, day))


@router.get("/stand/{item_id}/ways", operation_id="getWays")
def get_ways(item_id: UUID, actor: Player, session: Db) -> WaysOut:
    """How the two ways of a drill compare so far."""
    return ways_out(ways.ways(session, actor, item_id))


@router.post("/stand/{item_id}/ways", operation_id="rateWay")
def rate_way(item_id: UUID, body: WayRatingIn, actor: Player, session: Db) -> WaysOut:
    """Keep what was heard of one way."""
    rating = Rating(body.way, body.intonation, body.tone)
    return ways_out(ways.rate(session, actor, item_id, body.id, rating))


@router.post("/repetitions", operation_id="recordRepetitions", response_model=HandedIn)
async def record_repetitions(
    body: RepetitionsIn, request: Request, token: Token = None
) -> Response:
    """Hand in what was played and what was taken back; the same twice changes nothing.

    A whole class does this at the same time: it runs on the event loop's own connections, in three
    round trips, and takes no thread.
    """
    lines = request.app.state.lines
    if lines is None or body.free or body.slips or body.lines:
        changed = await run_in_threadpool(_handed_in, request.app.state.sessions, body, token)
    else:
        async with lines.connection() as connection:
            changed = await run_async(connection, _handing_in(body, token))
    answer = HandedIn(
        items=[ItemState(item_id=i, climb=climb_out(c)) for i, c in changed.climbs.items()],
        levels=[ChunkLevel(chunk_id=i, level=level) for i, level in changed.levels.items()],
        doubted=[
            DoubtOut(id=i, doubt=doubt.value, say=SAID[doubt])
            for i, doubt in changed.doubts.items()
        ],
    )
    return Response(answer.model_dump_json(), media_type="application/json")


def _handing_in(body: RepetitionsIn, token: str | None) -> Script[record_evidence.Recorded]:
    cached = cached_session_by(token)
    actor = cached.actor if cached else (yield from player_by(token))
    if cached and not actor.may(Permission.PRACTISE):
        cached, actor = None, (yield from player_by(token))
    played = _repetitions(body)
    return (
        yield from record_evidence.record_evidence(
            actor, actor.person_id, played, body.taken_back, cached=cached
        )
    )


def _handed_in(
    sessions: Callable[[], Session], body: RepetitionsIn, token: str | None
) -> record_evidence.Recorded:
    """The same on an ordinary session; free practice is looked up in the music first."""
    with unit_of_work(sessions) as session:
        actor = run(session, player_by(token))
        noted = [
            free_practice.FreeRepetition(
                id=r.id,
                part_id=r.part_id,
                chunk_id=r.chunk_id,
                tempo=None if r.tempo_bpm is None else to_fraction(r.tempo_bpm),
                is_clean=r.is_clean,
                at=r.played_at,
            )
            for r in body.free
        ]
        changed = record_evidence.hand_in(
            session,
            actor,
            _repetitions(body),
            body.taken_back,
            free_practice.freely(session, actor, noted),
        )
        diary.keep(
            session, actor, [slip_in(s) for s in body.slips], [line_in(one) for one in body.lines]
        )
        return changed


def _repetitions(body: RepetitionsIn) -> list[AssignedRepetition]:
    return [
        AssignedRepetition(
            id=r.id,
            item_id=r.item_id,
            step=r.step,
            tempo=None if r.tempo_bpm is None else to_fraction(r.tempo_bpm),
            is_clean=r.is_clean,
            at=r.played_at,
            reason=r.reason,
            source=Source(r.source),
        )
        for r in body.repetitions
    ]


@router.get("/map", operation_id="getMyMap")
def get_my_map(actor: Player, session: Db, today: Today) -> list[MyPartOut]:
    """One's own parts, chunks and levels, and what was heard."""
    heard = hearing.last_of(session, actor.person_id)
    return [
        my_part_out(one, pieces.get_piece(session, actor, one[0].row.piece_id).title, heard)
        for one in grid.my_parts(session, actor, today)
    ]
