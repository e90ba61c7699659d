"""Dependencies of routes: the unit of work, file stores, and the signed-in actor."""

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
from crumb.core.vocabulary import Permission
from crumb.services.access import Actor
from crumb.services.people.signing_in import actor_by, actor_of
from crumb.services.people.throttle import SignInOrigin
from crumb.store.files import FileStore, Sounds, get_files, get_sounds
from crumb.store.pipeline import Script
from crumb.store.unit_of_work import NewSession, commit, reading, roll_back

Route = TypeVar("Route", bound=Callable[..., Any])

COOKIE = "crumb_session"
DEVICE_COOKIE = "crumb_device"


async def get_sessions(request: Request) -> NewSession:
    """The session factory, for a route that is more than one unit of work."""
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


def get_who(session: Db, token: Token = None) -> Actor:
    """The signed-in person."""
    return actor_of(session, token)


async def get_member(actor: Annotated[Actor, Depends(get_who)]) -> Actor:
    """The signed-in person; what is answered from here on is in their school's words."""
    SPOKEN.set(actor.words)
    return actor


Member = Annotated[Actor, Depends(get_member)]


def _may(right: Permission) -> Callable[[Actor], Awaitable[Actor]]:
    async def check(actor: Member) -> Actor:
        actor.demand(right)
        return actor

    return check


MusicReader = Annotated[Actor, Depends(_may(Permission.READ_MUSIC))]
MusicKeeper = Annotated[Actor, Depends(_may(Permission.KEEP_MUSIC))]
Sender = Annotated[Actor, Depends(_may(Permission.SEND))]
Watcher = Annotated[Actor, Depends(_may(Permission.SEE_PLAYERS))]
Hearer = Annotated[Actor, Depends(_may(Permission.HEAR))]
Registrar = Annotated[Actor, Depends(_may(Permission.KEEP_PEOPLE))]
AccountHolder = Annotated[Actor, Depends(_may(Permission.KEEP_ACCOUNT))]
Ticker = Annotated[Actor, Depends(_may(Permission.TICK))]
Player = Annotated[Actor, Depends(_may(Permission.PRACTISE))]


def player_by(token: str | None) -> Script[Actor]:
    """The signed-in person, if they may practise.

    Raises:
        NotSignedIn, NotAllowed: as they say.
    """
    actor = yield from actor_by(token)
    actor.demand(Permission.PRACTISE)
    return actor


async def get_today(actor: Member) -> date:
    """The date where the school is."""
    return datetime.now(UTC).astimezone(ZoneInfo(actor.time_zone)).date()


Today = Annotated[date, Depends(get_today)]


async def get_comer(request: Request, device: Device = None) -> SignInOrigin:
    """The address and the device of a sign-in."""
    return SignInOrigin(place_of(request), device)


ComerIn = Annotated[SignInOrigin, Depends(get_comer)]


def release(session: Session) -> None:
    """Give the connection back before something that takes long; only where nothing was changed."""
    session.rollback()
