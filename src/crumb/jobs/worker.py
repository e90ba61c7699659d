"""A worker: takes jobs from the database, each into a box, and looks after them.

Any number of workers, on any number of machines: ``python -m crumb.jobs``.
"""

import logging
import os
import signal
import time
from collections.abc import Callable
from types import FrameType

from sqlalchemy.exc import SQLAlchemyError

from crumb.core.vocabulary import JobState
from crumb.jobs.box import Box
from crumb.jobs.upkeep import Upkeep
from crumb.services.jobs import TOO_MUCH
from crumb.store.queries import jobs, workers
from crumb.store.session import new_session
from crumb.store.unit_of_work import unit_of_work

log = logging.getLogger("crumb.jobs")

PAUSE = 0.1
"""Seconds between looks at the boxes."""
_SIGN_OF_LIFE = 3.0
_CARE = 20.0
_SETTLED = 1.5  # seconds to wait when the database is away


def _slots() -> int:
    return max(len(os.sched_getaffinity(0)) + 1, 2)


class Worker:
    """Claims jobs while it has room for them."""

    def __init__(self, slots: int | None = None) -> None:
        self._slots = slots or _slots()
        self._boxes: list[Box] = []
        self._told_at = self._cared_at = 0.0
        self._stops = False
        self._upkeep = Upkeep()

    def stop(self, *_: int | FrameType | None) -> None:
        """Take no more; what is being worked on is given back."""
        self._stops = True

    def run(self) -> None:
        """Work until told to stop. A database that is away is waited for."""
        while not self._stops:
            for act in (self._look_after, self._take):
                self._do(act)
            time.sleep(PAUSE)
        for box in self._boxes:
            box.kill()
        try:
            with unit_of_work(new_session) as session:
                for box in self._boxes:
                    jobs.give_back(session, box.job_id, box.number)
        finally:
            self._upkeep.stop()

    def _do(self, act: Callable[[], None]) -> None:
        """One act of a turn. What fails in one keeps the others from nothing."""
        try:
            act()
        except SQLAlchemyError as error:
            log.warning("database away", extra={"fault": type(error).__name__})
            time.sleep(_SETTLED)
        except Exception:
            log.exception("a turn of the worker failed", extra={"act": act.__name__})
            time.sleep(_SETTLED)

    def _take(self) -> None:
        while len(self._boxes) < self._slots:
            with unit_of_work(new_session) as session:
                claim = jobs.claim(session)
            if claim is None:
                return
            log.info("job begun", extra={"job": str(claim.id), "kind": claim.kind})
            self._boxes.append(Box(claim.id, claim.kind, claim.tries))

    def _look_after(self) -> None:
        for box in list(self._boxes):
            if not box.is_running:
                self._ended(box)
                continue
            much = box.overrun()
            if much:
                self._kill(box, much)
            elif box.is_held_up:
                self._try_again(box)
        now = time.monotonic()
        if now - self._told_at > _SIGN_OF_LIFE:
            self._sign_of_life()
            self._upkeep.begin_if_levels_wait()
            self._told_at = now
        if now - self._cared_at > _CARE:
            with unit_of_work(new_session) as session:
                jobs.give_up_dead(session)
            self._upkeep.begin_if_needed()
            self._cared_at = now

    def _kill(self, box: Box, much: str) -> None:
        box.kill()
        log.warning("job killed", extra={"job": str(box.job_id), "too_much": much})
        with unit_of_work(new_session) as session:
            message = TOO_MUCH.format(much)
            jobs.end(session, box.job_id, box.number, JobState.FAILED, message=message)
        self._boxes.remove(box)

    def _try_again(self, box: Box) -> None:
        box.kill()
        log.warning("job held up", extra={"job": str(box.job_id)})
        with unit_of_work(new_session) as session:
            jobs.put_back(session, box.job_id, box.number)
        self._boxes.remove(box)

    def _ended(self, box: Box) -> None:
        if not box.ended_well:
            log.warning("job's process died", extra={"job": str(box.job_id)})
            with unit_of_work(new_session) as session:
                jobs.put_back(session, box.job_id, box.number)
        self._boxes.remove(box)

    def _sign_of_life(self) -> None:
        with unit_of_work(new_session) as session:
            wanted = jobs.still_wanted(session, [box.job_id for box in self._boxes])
            workers.sign_of_life(session, os.uname().nodename, os.getpid())
        for box in [b for b in self._boxes if b.job_id not in wanted]:
            if box.is_running:
                box.kill()
                self._boxes.remove(box)


def main() -> None:
    """Run one worker until it is stopped."""
    worker = Worker()
    signal.signal(signal.SIGTERM, worker.stop)
    signal.signal(signal.SIGINT, worker.stop)
    worker.run()
