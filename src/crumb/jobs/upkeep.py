"""Upkeep beside jobs, in a process of its own: ``python -m crumb.jobs.upkeep``.

Levels that wait are recomputed; takes whose weeks are over, pieces that were taken away and files
that no row names are erased; days of plans that nobody has opened yet are laid out. A worker starts
it when there is something to do, so that its own signs of life never wait.
"""

import logging
import subprocess
import sys
import time
from datetime import UTC, datetime, timedelta

from sqlalchemy.exc import SQLAlchemyError

from crumb.jobs.days_ahead import lay_days_ahead
from crumb.jobs.erasing import erase_pieces, erase_takes
from crumb.jobs.recomputing import renew
from crumb.jobs.sweeping import sweep
from crumb.logs import set_up_logs
from crumb.services.music.deletion import KEPT_FOR
from crumb.store.files import get_files, get_sounds
from crumb.store.queries import idempotency, mastery, pieces, planning
from crumb.store.queries import takes as old_takes
from crumb.store.session import new_session
from crumb.store.unit_of_work import unit_of_work

log = logging.getLogger("crumb.jobs")

_SENT_AGAIN_FOR = timedelta(days=60)
"""A device that was off for longer sends nothing again that was answered."""
_SWEEP_EVERY = 6 * 3600.0
"""Seconds after which files are held against the database again, whatever else there is to do."""
_FIRST_SWEEP = 3600.0
"""Seconds after the worker's start of the first of them."""
_MOST = 2000
"""Days that one run lays out at most; the next run goes on."""


class Upkeep:
    """The process of one worker, if one is running."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[bytes] | None = None
        self._swept_at = time.monotonic() - _SWEEP_EVERY + _FIRST_SWEEP

    def begin_if_levels_wait(self) -> None:
        """Start it for levels that somebody watches until they are there."""
        if self._is_running:
            return
        with new_session() as session:
            waits = mastery.is_any_waiting(session)
        if waits:
            self._begin()

    def begin_if_needed(self) -> None:
        """Start it if there is something to do and it is not running."""
        if self._is_running:
            return
        with new_session() as session:
            needed = (
                mastery.waiting(session)
                or planning.not_laid_out(session, 1)
                or old_takes.over(session)
                or pieces.taken_away_before(session, datetime.now(UTC) - KEPT_FOR)
                or self._is_sweep_due
            )
        if needed:
            self._swept_at = time.monotonic()
            self._begin()

    @property
    def _is_sweep_due(self) -> bool:
        return time.monotonic() - self._swept_at > _SWEEP_EVERY

    @property
    def _is_running(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def _begin(self) -> None:
        self._process = subprocess.Popen([sys.executable, "-m", "crumb.jobs.upkeep"])

    def stop(self) -> None:
        """End it; what it had begun is undone, and done another time."""
        if self._process is not None and self._is_running:
            self._process.terminate()
            self._process.wait(10)


def main() -> None:
    """Do all there is, then end. What fails is told in the log and stops nothing else."""
    for task in (_levels, _takes, _pieces, _files, _answers, _days):
        try:
            task()
        except SQLAlchemyError as error:
            log.warning("database away", extra={"fault": type(error).__name__})
        except Exception:
            log.exception("upkeep failed", extra={"task": task.__name__})


def _levels() -> None:
    renew(new_session)


def _takes() -> None:
    erase_takes(new_session, get_sounds())


def _pieces() -> None:
    erase_pieces(new_session, get_files(), get_sounds())


def _files() -> None:
    sweep(new_session, get_files(), get_sounds())


def _answers() -> None:
    with unit_of_work(new_session) as session:
        idempotency.forget_older(session, _SENT_AGAIN_FOR)


def _days() -> None:
    lay_days_ahead(new_session, _MOST)


if __name__ == "__main__":
    set_up_logs()
    main()
