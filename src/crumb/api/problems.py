"""Problem details (RFC 9457) in plain words, and which error is which."""

import psycopg
from fastapi.responses import JSONResponse
from psycopg_pool import PoolTimeout, TooManyRequests
from sqlalchemy import exc

from crumb.api.spoken import spoken
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
    core.TooBusy: (503, "Very busy"),
    core.CrumbError: (422, "This does not work"),
}
_AGAIN = {429: "600", 503: "3"}


def problem(status: int, title: str, detail: str, **more: object) -> JSONResponse:
    """A problem-details answer."""
    kind = title.lower().replace(" ", "-")
    answer = JSONResponse(
        {"type": f"urn:crumb:{kind}", "title": title, "status": status, "detail": detail, **more},
        status_code=status,
        media_type="application/problem+json",
    )
    if status in _AGAIN:
        answer.headers["Retry-After"] = _AGAIN[status]
    return answer


def status_of(error: core.CrumbError) -> tuple[int, str]:
    """Status and title for an error, by the nearest class in the table."""
    for kind in type(error).__mro__:
        if kind in STATUS:
            return STATUS[kind]
    return STATUS[core.CrumbError]


def from_error(error: core.CrumbError) -> JSONResponse:
    """The answer to an error of ours."""
    status, title = status_of(error)
    # What a refused drill offers instead, by name, so that one click can take it.
    instead = error.facts.get("instead")
    more = {"instead": instead} if isinstance(instead, list) else {}
    return problem(status, title, spoken(error.message), **more)


_DISK_FULL = ("53100",)
_CROSSED = ("40001", "40P01", "55P03", "57014")
"""Serialization failure, deadlock, lock not available, statement took too long."""


def from_database(error: exc.SQLAlchemyError | psycopg.Error) -> JSONResponse | None:
    """The answer to an error of the database; None if it is a fault of ours."""
    # Most of the API speaks to the database through SQLAlchemy, which wraps the driver's errors;
    # handing in speaks to the driver itself. Only a line that was waited for in vain has no cause.
    cause = error.orig if isinstance(error, exc.DBAPIError) else error
    code = getattr(cause, "sqlstate", None) or ""
    if code in _DISK_FULL:
        return no_room_left()
    if code in _CROSSED or isinstance(error, exc.TimeoutError | PoolTimeout | TooManyRequests):
        return problem(503, "Very busy", "Others were at the same thing just now; try again.")
    away = (psycopg.OperationalError, psycopg.InterfaceError, exc.OperationalError)
    if (
        isinstance(cause, away)
        or isinstance(error, away)
        or (isinstance(error, exc.DBAPIError) and error.connection_invalidated)
    ):
        return problem(
            503, "Database away", "Crumb cannot reach its database just now; try again soon."
        )
    if isinstance(cause, psycopg.IntegrityError):
        return problem(409, "Changed meanwhile", "This was changed somewhere else in the meantime.")
    if isinstance(cause, psycopg.DataError):
        return problem(422, "Not understood", "A number or word in this is out of all bounds.")
    return None


def no_room_left() -> JSONResponse:
    """The answer when nothing more can be written."""
    return problem(
        507, "No room left", "The server's disk is full; tell the person who looks after it."
    )
