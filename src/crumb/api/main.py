"""The application: API under /api, everything else is the web page."""

from pathlib import Path

from fastapi import FastAPI, Request, Response
from fastapi.middleware.gzip import GZipMiddleware
from fastapi.responses import FileResponse
from fastapi.staticfiles import StaticFiles
from starlette.middleware.base import RequestResponseEndpoint

from crumb.api import errors
from crumb.api.routes import (
    assignments,
    drills,
    marks,
    music,
    people,
    practice,
    session,
    sheets,
    splitting,
    wall,
)
from crumb.settings import get_settings

_POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:;"
    " font-src 'self' data:;"  # the engraver puts its own music font into a drawing
    " frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)


def create_app() -> FastAPI:
    """The application, ready to serve."""
    app = FastAPI(
        title="Crumb",
        version="0.1.0",
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
    )
    errors.install(app)
    app.add_middleware(GZipMiddleware, minimum_size=1500, compresslevel=5)
    app.middleware("http")(_guarded)
    for module in (
        *(session, people, music, splitting, marks, drills, assignments, practice, wall),
        sheets,
    ):
        app.include_router(module.router, prefix="/api")
    app.add_api_route("/api/health", _health, methods=["GET"], operation_id="getHealth")
    _serve_page(app, get_settings().web_dir)
    return app


def _health() -> dict[str, str]:
    return {"status": "ok"}


async def _guarded(request: Request, call_next: RequestResponseEndpoint) -> Response:
    """Headers that keep the page to itself; API answers are never kept by a shared cache."""
    response = await call_next(request)
    response.headers.setdefault("Content-Security-Policy", _POLICY)
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    if request.url.path.startswith("/api"):
        response.headers.setdefault("Cache-Control", "no-store")
    return response


def _serve_page(app: FastAPI, folder: Path) -> None:
    """The built web page; addresses inside it all lead to its index."""
    if not (folder / "index.html").exists():
        return
    app.mount("/assets", StaticFiles(directory=folder / "assets"), name="assets")
    root = folder.resolve()

    async def page(path: str) -> Response:
        if path.startswith("api/"):
            return errors.problem(404, "Not found", "There is no such address.")
        wanted = (root / path).resolve()
        if wanted.is_file() and wanted.is_relative_to(root):
            return FileResponse(wanted)
        return FileResponse(root / "index.html", headers={"Cache-Control": "no-cache"})

    app.add_api_route("/{path:path}", page, methods=["GET"], include_in_schema=False)
