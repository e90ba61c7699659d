"""The application: API under /api, everything else is the web page."""

from collections.abc import AsyncIterator, Callable
from contextlib import asynccontextmanager
from functools import partial
from pathlib import Path

from fastapi import FastAPI
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import FileResponse, JSONResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy.orm import Session
from starlette.concurrency import run_in_threadpool
from starlette.responses import Response
from starlette.types import Scope

from crumb.api import errors
from crumb.api.deps import COOKIE
from crumb.api.health import Watch, look
from crumb.api.middleware.admission import Admission, Room
from crumb.api.middleware.bodies import Bodies
from crumb.api.middleware.context import Context
from crumb.api.middleware.guard import Guard
from crumb.api.middleware.patience import Patience
from crumb.api.problems import problem
from crumb.api.routes import (
    assignments,
    desk,
    drills,
    hearing,
    leader_view,
    marks,
    music,
    pages,
    people,
    planning,
    practice,
    rehearsals,
    rules,
    score_overview,
    session,
    sheets,
    splitting,
    takes,
    wall,
    whole_wall,
)
from crumb.core.vocabulary import Permission
from crumb.formats.musicxml.container import MAX_FILE_BYTES
from crumb.formats.pages.limits import MOST_BYTES as PAGES_BYTES
from crumb.services.errors import NotAllowed
from crumb.services.people.signing_in import actor_of
from crumb.services.takes.takes import MAX_BYTES
from crumb.settings import get_settings
from crumb.store.lines import open_lines
from crumb.store.session import new_session

_UPLOADS = {
    "/api/imports": (MAX_FILE_BYTES + 10_000, Permission.KEEP_MUSIC),
    "/api/page-sets": (PAGES_BYTES + 100_000, Permission.KEEP_MUSIC),
    "/api/me/takes": (MAX_BYTES + 10_000, Permission.PRACTISE),
}
"""Addresses that files are sent to: the most bytes, and what one has to be allowed."""


def create_app(sessions: Callable[[], Session] = new_session) -> FastAPI:
    """The application, ready to serve, on the database that ``sessions`` opens."""
    settings = get_settings()
    watch = Watch(sessions)
    room = Room(settings.requests_at_once, settings.requests_waiting)

    @asynccontextmanager
    async def life(_: FastAPI) -> AsyncIterator[None]:
        watch.start()
        async with open_lines() as app.state.lines:
            yield
        app.state.lines = None
        watch.stop()

    app = FastAPI(
        title="Crumb",
        version="0.1.0",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        lifespan=life,
        responses=errors.RESPONSES,
    )
    app.state.sessions, app.state.lines = sessions, None
    errors.install(app)
    # The last one added is the outermost.
    app.add_middleware(GZipMiddleware, minimum_size=1500, compresslevel=5)
    app.add_middleware(Admission, room=room)
    largest = {path: size for path, (size, _) in _UPLOADS.items()}
    app.add_middleware(Bodies, uploads=largest, check=partial(may_send, sessions), cookie=COOKIE)
    app.add_middleware(Guard)
    app.add_middleware(Patience)
    app.add_middleware(Context)
    # Practice first: routes are tried in this order, and a whole class hands in at a time.
    for module in (
        *(practice, session, people, music, pages, splitting, marks, drills, assignments),
        *(whole_wall, wall, sheets, planning, rules, score_overview, rehearsals, desk),
        *(leader_view, hearing, takes),
    ):
        app.include_router(module.router, prefix="/api")
    _serve_health(app, watch, sessions, room)
    _serve_page(app, settings.web_dir)
    return app


def may_send(sessions: Callable[[], Session], path: str, token: str | None) -> None:
    """Whether somebody may send something large to an address.

    Raises:
        NotSignedIn, NotAllowed: as they say.
    """
    with sessions() as opened:
        actor = actor_of(opened, token)
    if path in _UPLOADS and not actor.may(_UPLOADS[path][1]):
        raise NotAllowed


def _serve_health(app: FastAPI, watch: Watch, sessions: Callable[[], Session], room: Room) -> None:
    async def health() -> Response:
        """Health of each part; 503 while the database is away."""
        found = watch.found() if watch.is_running else await run_in_threadpool(look, sessions)
        told = {
            "status": found.status,
            "database": found.database,
            "worker": found.worker,
            "disk": found.disk,
            "levels": found.levels,
            "room": room.told(),
        }
        return JSONResponse(told, status_code=503 if found.status == "down" else 200)

    app.add_api_route(
        "/api/health",
        health,
        methods=["GET"],
        operation_id="getHealth",
        response_model=dict[str, str],
    )


class _Assets(StaticFiles):
    """Files whose names change with what is in them: they are kept for good."""

    async def get_response(self, path: str, scope: Scope) -> Response:
        """One file."""
        answer = await super().get_response(path, scope)
        if answer.status_code == 200:
            answer.headers["Cache-Control"] = "public, max-age=31536000, immutable"
        return answer


def _file_in(root: Path, path: str) -> Path | None:
    """A file of the page; None for any other address, however long it is."""
    try:
        wanted = (root / path).resolve()
        return wanted if wanted.is_relative_to(root) and wanted.is_file() else None
    except (OSError, ValueError):
        return None


def _serve_page(app: FastAPI, folder: Path) -> None:
    """The built web page; addresses inside it all lead to its index."""
    if not (folder / "index.html").exists():
        return
    app.mount("/assets", _Assets(directory=folder / "assets"), name="assets")
    root = folder.resolve()

    async def page(path: str) -> Response:
        if path.startswith("api/"):
            return problem(404, "Not found", "There is no such address.")
        wanted = _file_in(root, path)
        if wanted is not None:
            # What is called the same in every version is asked for each time: the worker that keeps
            # the page on a device, above all.
            return FileResponse(wanted, headers={"Cache-Control": "no-cache"})
        return FileResponse(root / "index.html", headers={"Cache-Control": "no-cache"})

    app.add_api_route("/{path:path}", page, methods=["GET"], include_in_schema=False)
