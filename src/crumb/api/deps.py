"""What routes are given: a session, the file store, and who is asking (checked on the server)."""

from collections.abc import AsyncIterator, Awaitable, Callable
from datetime import UTC, date, datetime
from typing import Annotated, Any, TypeVar
from zoneinfo import ZoneInfo

from fastapi import Cookie, Depends
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool
from starlette.requests import Request

from crumb.api.addresses import place_of
from crumb.api.spoken import SPOKEN
from crumb.services.errors import NotAllowed
from crumb.services.people.gates import Comer
from crumb.services.people.signing_in import who_by, who_is
from crumb.services.who import Right, Who
from crumb.store.files import FileStore, Sounds, get_files, get_sounds
from crumb.store.plans import Plan
from crumb.store.unit_of_work import NewSession, commit, reading, roll_back

Route = TypeVar("Route", bound=Callable[..., Any])

COOKIE = "crumb_session"
DEVICE_COOKIE = "crumb_device"


async def get_sessions(request: Request) -> NewSession:
    """What opens sessions, for a route that is more than one unit of work."""
    sessions: NewSession = request.app.state.sessions
    return sessions


Sessions = Annotated[NewSession, Depends(get_sessions)]


async def get_session(request: Request, sessions: Sessions) -> AsyncIterator[Session]:
    """The unit of work of one request: committed before it is answered, or nothing is kept.

    Who only asks gets a session that refuses every change. It takes no connection before it is
    first used; committing and giving back may have to wait for the database, so that is left to a
    thread.
    """
    session = reading(sessions) if _only_asks(request) else sessions()
    try:
        yield session
        await _end(session, commit)
    except BaseException:
        await _end(session, roll_back)
        raise
    finally:
        session.close()


async def _end(session: Session, end: Callable[[Session], None]) -> None:
    if session.in_transaction():
        await run_in_threadpool(end, session)


def only_asks(route: Route) -> Route:
    """Mark a route that changes nothing although it is no GET: what it asks needs a body."""
    route.only_asks = True  # type: ignore[attr-defined]
    return route


def _only_asks(request: Request) -> bool:
    return request.method in ("GET", "HEAD") or hasattr(request.scope["endpoint"], "only_asks")


# "function": committed when the route returns, before anything is answered.
Db = Annotated[Session, Depends(get_session, scope="function")]
Files = Annotated[FileStore, Depends(get_files)]
Recordings = Annotated[Sounds, Depends(get_sounds)]
Token = Annotated[str | None, Cookie(alias=COOKIE, include_in_schema=False)]
Device = Annotated[str | None, Cookie(alias=DEVICE_COOKIE, include_in_schema=False)]


def get_who(session: Db, token: Token = None) -> Who:
    """The signed-in person."""
    return who_is(session, token)


async def get_member(who: Annotated[Who, Depends(get_who)]) -> Who:
    """The signed-in person; what is answered from here on is in their school's words."""
    SPOKEN.set(who.words)
    return who


Member = Annotated[Who, Depends(get_member)]


def _may(right: Right) -> Callable[[Who], Awaitable[Who]]:
    async def check(who: Member) -> Who:
        if not who.may(right):
            raise NotAllowed(f"Your account may not {right.value}.")
        return who

    return check


MusicReader = Annotated[Who, Depends(_may(Right.READ_MUSIC))]
MusicKeeper = Annotated[Who, Depends(_may(Right.KEEP_MUSIC))]
Sender = Annotated[Who, Depends(_may(Right.SEND))]
Watcher = Annotated[Who, Depends(_may(Right.SEE_PLAYERS))]
Hearer = Annotated[Who, Depends(_may(Right.HEAR))]
Registrar = Annotated[Who, Depends(_may(Right.KEEP_PEOPLE))]
AccountHolder = Annotated[Who, Depends(_may(Right.KEEP_ACCOUNT))]
Ticker = Annotated[Who, Depends(_may(Right.TICK))]
Player = Annotated[Who, Depends(_may(Right.PRACTISE))]


def player_by(token: str | None) -> Plan[Who]:
    """The signed-in person, if they may practise.

    Raises:
        NotSignedIn, NotAllowed: as they say.
    """
    who = yield from who_by(token)
    if not who.may(Right.PRACTISE):
        raise NotAllowed(f"Your account may not {Right.PRACTISE.value}.")
    return who


async def get_today(who: Member) -> date:
    """The date where the school is."""
    return datetime.now(UTC).astimezone(ZoneInfo(who.time_zone)).date()


Today = Annotated[date, Depends(get_today)]


async def get_comer(request: Request, device: Device = None) -> Comer:
    """Where somebody comes from who wants to sign in."""
    return Comer(place_of(request), device)


ComerIn = Annotated[Comer, Depends(get_comer)]


def release(session: Session) -> None:
    """Give the connection back before something that takes long; only where nothing was changed."""
    session.rollback()
