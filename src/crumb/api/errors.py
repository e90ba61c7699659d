"""Errors as problem details (RFC 9457), in plain words; one table, so routes have no ``try``."""

from collections.abc import Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from crumb.core import errors as core
from crumb.services import errors as services

STATUS: dict[type[core.CrumbError], tuple[int, str]] = {
    services.NotSignedIn: (401, "Not signed in"),
    services.WrongSignIn: (401, "Sign-in failed"),
    services.NotAllowed: (403, "Not allowed"),
    services.NotFound: (404, "Not found"),
    services.ChangedMeanwhile: (409, "Changed meanwhile"),
    services.TooManyTries: (429, "Too many tries"),
    core.UnreadableFile: (422, "This file cannot be used"),
    core.CrumbError: (422, "This does not work"),
}


def status_of(error: core.CrumbError) -> tuple[int, str]:
    """Status and title for an error, by the nearest class in the table."""
    for kind in type(error).__mro__:
        if kind in STATUS:
            return STATUS[kind]
    return STATUS[core.CrumbError]


def problem(status: int, title: str, detail: str, **more: object) -> JSONResponse:
    """A problem-details answer."""
    kind = title.lower().replace(" ", "-")
    return JSONResponse(
        {"type": f"urn:crumb:{kind}", "title": title, "status": status, "detail": detail, **more},
        status_code=status,
        media_type="application/problem+json",
    )


def _said(errors: Sequence[Any]) -> str:
    shown = []
    for error in errors[:3]:
        place = ".".join(str(p) for p in error["loc"] if p not in ("body", "query", "path"))
        shown.append(f"{place or 'request'}: {error['msg'].lower()}")
    return "; ".join(shown) + "."


def install(app: FastAPI) -> None:
    """Answer every error of ours, and of the framework, as problem details."""

    async def crumb_error(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, core.CrumbError)
        status, title = status_of(error)
        # What a refused drill offers instead, by name, so that one click can take it.
        instead = error.facts.get("instead")
        more = {"instead": instead} if isinstance(instead, list) else {}
        return problem(status, title, error.message, **more)

    async def invalid(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        return problem(422, "Not understood", _said(error.errors()))

    async def http(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, HTTPException)
        return problem(error.status_code, str(error.detail), str(error.detail))

    app.add_exception_handler(core.CrumbError, crumb_error)
    app.add_exception_handler(RequestValidationError, invalid)
    app.add_exception_handler(HTTPException, http)
