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
from crumb.core.drills.comparing import Rating
from crumb.core.drills.schools import another_school, equals
from crumb.core.evidence.doubts import SAID
from crumb.core.evidence.model import Source
from crumb.formats.layout import LAYOUTS
from crumb.services.ensemble import hearing
from crumb.services.evidence import add, diary
from crumb.services.library import pieces
from crumb.services.people.signing_in import guess_by
from crumb.services.planning import instead
from crumb.services.practice import free, reading, stand, today, ways
from crumb.services.standings import wall
from crumb.services.who import Right
from crumb.store.plans import Plan, run, run_async
from crumb.store.unit_of_work import unit_of_work

router = APIRouter(prefix="/me", tags=["practice"])


@router.get("/today", operation_id="getToday")
def get_today(who: Player, session: Db, day: Today) -> list[TodayItemOut]:
    """Today's list in order."""
    return [today_out(line) for line in today.today(session, who, day)]


@router.get("/stand/{item_id}", operation_id="getStand")
def get_stand(
    item_id: UUID, who: Player, session: Db, layout: LayoutName = "phone-snippet"
) -> StandOut:
    """One item for practising."""
    view = stand.stand(session, who, item_id)
    release(session)
    drawings = reading.drawn_steps(view.drill.steps, view.notations, LAYOUTS[layout])
    return StandOut(
        item=today_out(view.line),
        worked=worked_out(view.part, view.drill, view.line.chunk, drawings),
        climb=climb_out(view.line.climb),
        clean_means=view.drill.clean_means,
        on_slip=view.drill.on_slip,
        caution=view.drill.caution,
        slips=slip_kinds_out(view.drill),
        stalled=[other_out(one) for one in another_school(view.drill.drill)],
        bored=[other_out(one) for one in equals(view.drill.drill)],
    )


@router.post("/stand/{item_id}/instead", operation_id="takeInstead", status_code=201)
def take_instead(item_id: UUID, body: InsteadIn, who: Player, session: Db) -> ItemMade:
    """Take another drill in this one's place: its ladder stalls, or it bores."""
    return ItemMade(item_id=instead.take(session, who, item_id, body.drill))


@router.get("/diary", operation_id="getMyDiary")
def get_my_diary(who: Player, session: Db, day: Today) -> DiaryOut:
    """One's own diary."""
    return diary_out(diary.own(session, who, day))


@router.get("/stand/{item_id}/ways", operation_id="getWays")
def get_ways(item_id: UUID, who: Player, session: Db) -> WaysOut:
    """How the two ways of a drill compare so far."""
    return ways_out(ways.ways(session, who, item_id))


@router.post("/stand/{item_id}/ways", operation_id="rateWay")
def rate_way(item_id: UUID, body: WayRatingIn, who: Player, session: Db) -> WaysOut:
    """Keep what was heard of one way."""
    rating = Rating(body.way, body.intonation, body.tone)
    return ways_out(ways.rate(session, who, item_id, body.id, rating))


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


def _handing_in(body: RepetitionsIn, token: str | None) -> Plan[add.Changed]:
    guess = guess_by(token)
    who = guess.who if guess else (yield from player_by(token))
    if guess and not who.may(Right.PRACTISE):
        guess, who = None, (yield from player_by(token))
    played = _repetitions(body)
    return (yield from add.adding(who, who.person_id, played, (), body.taken_back, guess=guess))


def _handed_in(
    sessions: Callable[[], Session], body: RepetitionsIn, token: str | None
) -> add.Changed:
    """The same on an ordinary session; free practice is looked up in the music first."""
    with unit_of_work(sessions) as session:
        who = run(session, player_by(token))
        noted = [
            free.FreeRepetition(
                id=r.id,
                part_id=r.part_id,
                chunk_id=r.chunk_id,
                tempo=None if r.tempo_bpm is None else to_fraction(r.tempo_bpm),
                is_clean=r.is_clean,
                at=r.played_at,
            )
            for r in body.free
        ]
        changed = add.hand_in(
            session, who, _repetitions(body), body.taken_back, free.freely(session, who, noted)
        )
        diary.keep(
            session, who, [slip_in(s) for s in body.slips], [line_in(one) for one in body.lines]
        )
        return changed


def _repetitions(body: RepetitionsIn) -> list[add.HandedIn]:
    return [
        add.HandedIn(
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
def get_my_map(who: Player, session: Db, today: Today) -> list[MyPartOut]:
    """One's own parts, chunks and levels, and what was heard."""
    heard = hearing.last_of(session, who.person_id)
    return [
        my_part_out(one, pieces.get_piece(session, who, one[0].row.piece_id).title, heard)
        for one in wall.my_parts(session, who, today)
    ]
