"""A try at a job: how far it is, and how it ends, once."""

from collections.abc import Callable
from dataclasses import dataclass, field
from time import monotonic
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.vocabulary import JobState
from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.store.queries import jobs
from crumb.store.tables import Job
from crumb.store.unit_of_work import unit_of_work

TOO_MUCH = "This takes more {} than any piece of music needs; nothing was stored."


class Abandoned(Exception):
    """The job was cancelled, or given to another worker: what was done of it is thrown away."""


@dataclass
class Try:
    """A worker's try at a job.

    Progress is written in sessions of its own, often enough for whoever watches.
    """

    id: UUID
    number: int
    new_session: Callable[[], Session]
    _told_at: float = 0.0
    _stage: str = field(default="")

    _PAUSE = 0.3  # seconds; each time costs the database a commit

    def tell(self, stage: str, done: int, total: int) -> None:
        """Say how far it is."""
        now = monotonic()
        if stage == self._stage and now - self._told_at < self._PAUSE:
            return
        self._told_at, self._stage = now, stage
        with unit_of_work(self.new_session) as aside:
            jobs.tell(aside, self.id, self.number, stage, done, total)

    def done(
        self, session: Session, *, piece_id: UUID | None = None, file_key: str | None = None
    ) -> None:
        """End it well, in the transaction that keeps what it made.

        Raises:
            Abandoned: nobody wants it any more; nothing of it is to be kept.
        """
        if not jobs.end(
            session, self.id, self.number, JobState.DONE, piece_id=piece_id, file_key=file_key
        ):
            raise Abandoned

    def failed(self, message: str) -> None:
        """End it in words."""
        with unit_of_work(self.new_session) as aside:
            jobs.end(aside, self.id, self.number, JobState.FAILED, message=message)


def get_job(session: Session, actor: Actor, job_id: UUID, kind: str) -> Job:
    """The state of a job of the program.

    Raises:
        NotFound: there is none.
    """
    job = jobs.job_of(session, actor.program_id, job_id, kind)
    if job is None:
        raise NotFound("There is no such job.")
    return job


def cancel(session: Session, actor: Actor, job_id: UUID, kind: str) -> Job:
    """Cancel a job; one that has ended stays as it ended.

    Raises:
        NotFound: there is none.
    """
    job = get_job(session, actor, job_id, kind)
    jobs.cancel(session, job.id)
    session.refresh(job)
    return job
