"""Errors as problem details; one table (``problems``), so routes have no ``try``."""

import logging
from collections.abc import Sequence
from errno import EDQUOT, ENOSPC
from typing import Any

import psycopg
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from sqlalchemy.exc import SQLAlchemyError
from starlette.exceptions import HTTPException

from crumb.api.problems import from_database, from_error, no_room_left, problem
from crumb.api.schemas.common import Problem
from crumb.core.errors import CrumbError

log = logging.getLogger("crumb.api")

RESPONSES: dict[int | str, dict[str, Any]] = {
    status: {"model": Problem, "description": description}
    for status, description in {
        400: "Not a request that can be read",
        401: "Not signed in",
        403: "Not allowed",
        404: "Not here, or not yours to see",
        409: "Changed meanwhile",
        413: "Too large",
        422: "Not understood, or it does not work; says why",
        429: "Too many tries",
        500: "A fault of ours",
        503: "Busy, or the database is away; Retry-After says when to try again",
        507: "The disk is full",
    }.items()
}
"""Problem answers that any route may give."""


def _said(errors: Sequence[Any]) -> str:
    shown = []
    for error in errors[:3]:
        place = ".".join(str(p)[:40] for p in error["loc"] if p not in ("body", "query", "path"))
        told = str(error["msg"]).removeprefix("Value error, ").lower()
        shown.append(f"{place or 'request'}: {told}")
    return "; ".join(shown) + "."


def install(app: FastAPI) -> None:
    """Answer every error of ours, and of the framework, as problem details."""

    async def crumb_error(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, CrumbError)
        return from_error(error)

    async def invalid(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, RequestValidationError)
        return problem(422, "Not understood", _said(error.errors()))

    async def http(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, HTTPException)
        answer = problem(error.status_code, str(error.detail), str(error.detail))
        answer.headers.update(error.headers or {})
        return answer

    async def database(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, SQLAlchemyError | psycopg.Error)
        answer = from_database(error)
        if answer is None:
            raise error
        log.warning("database", extra={"fault": type(error).__name__})
        return answer

    async def system(_: Request, error: Exception) -> JSONResponse:
        assert isinstance(error, OSError)
        if error.errno in (ENOSPC, EDQUOT):
            return no_room_left()
        raise error

    app.add_exception_handler(CrumbError, crumb_error)
    app.add_exception_handler(RequestValidationError, invalid)
    app.add_exception_handler(HTTPException, http)
    app.add_exception_handler(SQLAlchemyError, database)
    app.add_exception_handler(psycopg.Error, database)
    app.add_exception_handler(OSError, system)
