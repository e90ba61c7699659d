"""What routes are given: a session, the file store, and who is asking (checked on the server)."""

from collections.abc import Iterator
from datetime import date, datetime
from typing import Annotated

from fastapi import Cookie, Depends
from sqlalchemy.orm import Session

from crumb.jobs.app import get_queue
from crumb.services.errors import NotAllowed
from crumb.services.importing import Queue
from crumb.services.sheets import SheetQueue
from crumb.services.signing_in import who_is
from crumb.services.who import Who
from crumb.store.files import FileStore, get_files
from crumb.store.session import new_session

COOKIE = "crumb_session"


def get_session() -> Iterator[Session]:
    """A database session for one request; what was not committed is rolled back."""
    with new_session() as session:
        yield session


Db = Annotated[Session, Depends(get_session)]
Files = Annotated[FileStore, Depends(get_files)]
Jobs = Annotated[Queue, Depends(get_queue)]
SheetJobs = Annotated[SheetQueue, Depends(get_queue)]
Token = Annotated[str | None, Cookie(alias=COOKIE, include_in_schema=False)]


def get_who(session: Db, token: Token = None) -> Who:
    """The signed-in person."""
    return who_is(session, token)


Member = Annotated[Who, Depends(get_who)]


def get_director(who: Member) -> Who:
    """The signed-in person, if a director."""
    if who.role != "director":
        raise NotAllowed("Only a director may do this.")
    return who


def get_student(who: Member) -> Who:
    """The signed-in person, if a student."""
    if who.role != "student":
        raise NotAllowed("Only a student may do this.")
    return who


Director = Annotated[Who, Depends(get_director)]
Student = Annotated[Who, Depends(get_student)]


def get_today() -> date:
    """The date where the server stands."""
    return datetime.now().astimezone().date()


Today = Annotated[date, Depends(get_today)]
