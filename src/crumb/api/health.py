"""Health, checked in the background, so that the answer comes at once under any load."""

import shutil
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

from sqlalchemy.exc import SQLAlchemyError
from sqlalchemy.orm import Session

from crumb.settings import get_settings
from crumb.store.queries import jobs, mastery, workers
from crumb.store.session import limit_statements
from crumb.store.unit_of_work import unit_of_work

_PAUSE = 2.0
_STALE = 15.0
_WORKER_SILENT = 20.0
_LONG_WAIT = 60.0
_STATEMENT_SECONDS = 3
_LEAST_DISK = 200_000_000


@dataclass(frozen=True, slots=True)
class Health:
    """The health that was found, and when; each thing is ``ok`` or says what is wrong."""

    database: str
    worker: str
    disk: str
    levels: str
    at: float

    @property
    def status(self) -> str:
        """``ok``; ``degraded`` while practice goes on all the same; ``down``."""
        if self.database != "ok":
            return "down"
        return "ok" if self.worker == self.disk == self.levels == "ok" else "degraded"


def look(sessions: Callable[[], Session]) -> Health:
    """Look at everything now."""
    worker = levels = "unknown"
    try:
        with sessions() as session:
            limit_statements(session, _STATEMENT_SECONDS)
            silent = workers.silent_seconds(session)
            waiting = jobs.oldest_waiting_seconds(session)
            stuck = mastery.students_set_aside(session)
        database = "ok"
        if silent is None or silent > _WORKER_SILENT:
            worker = "no worker gives a sign of life: imports and sheets wait"
        elif waiting > _LONG_WAIT:
            worker = f"work waits for {waiting:.0f} seconds"
        else:
            worker = "ok"
        levels = f"students whose levels cannot be worked out: {stuck}" if stuck else "ok"
    except SQLAlchemyError:
        database = "cannot be reached"
    return Health(database, worker, _disk(), levels, time.monotonic())


def _disk() -> str:
    folder = get_settings().files_dir
    while not folder.exists() and folder != folder.parent:
        folder = folder.parent
    free = shutil.disk_usage(folder).free
    return "ok" if free > _LEAST_DISK else f"{free // 1_000_000} MB are left"


class Watch:
    """Looks every few seconds in a thread of its own; also ends jobs that nobody will."""

    def __init__(self, sessions: Callable[[], Session]) -> None:
        self._sessions = sessions
        self._found: Health | None = None
        self._stops = threading.Event()
        self._thread = threading.Thread(target=self._run, name="health", daemon=True)

    def start(self) -> None:
        """Begin to look."""
        self._thread.start()

    def stop(self) -> None:
        """Look no more."""
        self._stops.set()

    @property
    def is_running(self) -> bool:
        """Whether somebody looks."""
        return self._thread.is_alive()

    def found(self) -> Health:
        """The last health found; if it is old, the looking itself is stuck."""
        found = self._found
        if found is None or time.monotonic() - found.at > _STALE:
            return Health("does not answer", "unknown", "unknown", "unknown", time.monotonic())
        return found

    def _run(self) -> None:
        care = 0
        while not self._stops.is_set():
            self._found = look(self._sessions)
            care += 1
            if self._found.database == "ok" and care % 15 == 0:
                self._end_what_nobody_ends()
            self._stops.wait(_PAUSE)

    def _end_what_nobody_ends(self) -> None:
        try:
            with unit_of_work(self._sessions) as session:
                jobs.give_up_dead(session)
        except SQLAlchemyError:
            return  # the next look tells
