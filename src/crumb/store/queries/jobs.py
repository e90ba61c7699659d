"""Queries of jobs: enqueue, claim by one worker, report progress, end once."""

from collections.abc import Sequence
from typing import NamedTuple
from uuid import UUID

from sqlalchemy import ARRAY, Update, Uuid, bindparam, exists, func, select, text, update
from sqlalchemy.orm import Session

from crumb.core.vocabulary import JobKind, JobState, TakeState
from crumb.store.queries import pages
from crumb.store.tables import Job, Piece, Take

SILENT_SECONDS = 15
"""Without a sign of life for so long, whoever worked on a job is taken for dead."""
MOST_TRIES = 2
LONGEST_WAIT_MINUTES = 60
OF_ONE_PROGRAM = 2
"""Jobs of one school that are worked on at a time: a school with many lets others through."""


class Claim(NamedTuple):
    """A job that this worker has now; what it does counts only as this try."""

    id: UUID
    kind: str
    tries: int


_CLAIM = text(
    """
    update job set state = 'working', tries = tries + 1, alive_at = now(), stage = '', done = 0
    where id = (
      select j.id from job j
      where (j.state = 'waiting'
             or (j.state = 'working' and j.alive_at < now() - make_interval(secs => :silent)))
        and j.tries < :most
        and (select count(*) from job o
             where o.program_id = j.program_id and o.id <> j.id and o.state = 'working'
               and o.alive_at >= now() - make_interval(secs => :silent)) < :of_one
        and (j.kind <> 'pages' or
             (select count(*) from job o
              where o.kind = 'pages' and o.id <> j.id and o.state = 'working'
                and o.alive_at >= now() - make_interval(secs => :silent))
             < greatest(1, (select count(*) from worker
                            where seen_at >= now() - make_interval(secs => :silent))))
      order by j.kind = 'pages', j.made_at
      limit 1
      for update skip locked)
    returning id, kind, tries
    """
)


def claim(session: Session) -> Claim | None:
    """The next job nobody works on, or whose worker died; it is this worker's from now on.

    Pages take minutes: each worker reads one set at a time, and whatever else waits goes first.
    """
    row = session.execute(
        _CLAIM, {"silent": SILENT_SECONDS, "most": MOST_TRIES, "of_one": OF_ONE_PROGRAM}
    ).one_or_none()
    return None if row is None else Claim(*row)


_DIED = "Crumb stopped in the middle of this, twice; nothing was stored."
_WAITED = (
    "Nobody worked on this for an hour, so it was not done. Try again later, and tell the person"
    " who looks after the server."
)
_NO_TAKE = "Crumb could not make this recording playable. Please record it again."


def give_up_dead(session: Session) -> list[UUID]:
    """End jobs whose worker died on every try, and those that somebody waited for in vain.

    A take waits until there is a worker: its student was told that it is handed in.
    """
    gone = session.scalars(
        update(Job)
        .where(
            Job.state == JobState.WORKING,
            Job.tries >= MOST_TRIES,
            Job.alive_at < func.now() - func.make_interval(0, 0, 0, 0, 0, 0, SILENT_SECONDS),
        )
        .values(state=JobState.FAILED, message=_DIED, ended_at=func.now())
        .returning(Job.id)
    ).all()
    old = session.scalars(
        update(Job)
        .where(
            Job.state == JobState.WAITING,
            Job.kind != JobKind.TAKE,
            Job.alive_at < func.now() - func.make_interval(0, 0, 0, 0, 0, LONGEST_WAIT_MINUTES),
        )
        .values(state=JobState.FAILED, message=_WAITED, ended_at=func.now())
        .returning(Job.id)
    ).all()
    _fail_takes(session, gone)
    return [*gone, *old]


def _fail_takes(session: Session, job_ids: Sequence[UUID]) -> None:
    """End the takes of jobs that failed; the sweep removes what was uploaded."""
    if job_ids:
        takes = select(Job.take_id).where(Job.id.in_(job_ids))
        session.execute(
            update(Take)
            .where(Take.id.in_(takes), Take.state == TakeState.WAITING)
            .values(state=TakeState.FAILED, message=_NO_TAKE)
        )


_ALIVE = text(
    "update job set alive_at = now() where id = any(:ids) and state = 'working' returning id"
).bindparams(bindparam("ids", type_=ARRAY(Uuid())))


def still_wanted(session: Session, ids: Sequence[UUID]) -> set[UUID]:
    """Give a sign of life for jobs; those that were cancelled meanwhile are left out."""
    return set(session.scalars(_ALIVE, {"ids": list(ids)}))


def tell(session: Session, job_id: UUID, tries: int, stage: str, done: int, total: int) -> None:
    """Write down how far a job is."""
    session.execute(
        update(Job)
        .where(Job.id == job_id, Job.tries == tries, Job.state == JobState.WORKING)
        .values(stage=stage, done=done, total=total, alive_at=func.now())
    )


def end(
    session: Session,
    job_id: UUID,
    tries: int,
    state: str,
    *,
    message: str = "",
    piece_id: UUID | None = None,
    file_key: str | None = None,
) -> bool:
    """End a try, unless it was cancelled or given to somebody else; whether it was ended.

    A job that failed ends its take in words, too.
    """
    values: dict[str, object] = {
        "state": state,
        "message": message[:400],
        "piece_id": piece_id,
        "ended_at": func.now(),
    }
    if file_key is not None:
        values["file_key"] = file_key
    done = session.execute(
        update(Job)
        .where(Job.id == job_id, Job.tries == tries, Job.state == JobState.WORKING)
        .values(values)
        .returning(Job.id)
    )
    is_ended = done.one_or_none() is not None
    if is_ended and state == JobState.FAILED:
        _fail_takes(session, [job_id])
    return is_ended


def give_back(session: Session, job_id: UUID, tries: int) -> None:
    """Let a job be done by another worker: this one was told to stop, so it was no try.

    Its process must be dead: the next try has the same number.
    """
    session.execute(_let_wait(job_id, tries).values(tries=tries - 1))


def _let_wait(job_id: UUID, tries: int) -> Update:
    return (
        update(Job)
        .where(Job.id == job_id, Job.tries == tries, Job.state == JobState.WORKING)
        .values(state=JobState.WAITING, stage="", done=0, total=0, alive_at=func.now())
    )


def put_back(session: Session, job_id: UUID, tries: int) -> None:
    """Let a job whose process died be tried again, or say that it was tried often enough."""
    if tries < MOST_TRIES:
        session.execute(_let_wait(job_id, tries))
        return
    end(session, job_id, tries, JobState.FAILED, message=_DIED)


def cancel(session: Session, job_id: UUID) -> bool:
    """Cancel a job that has not ended; whether it had not."""
    found = session.execute(
        update(Job)
        .where(Job.id == job_id, Job.state.in_((JobState.WAITING, JobState.WORKING)))
        .values(state=JobState.CANCELLED, ended_at=func.now())
        .returning(Job.id)
    )
    return found.one_or_none() is not None


def job_of(session: Session, program_id: UUID, job_id: UUID, kind: str) -> Job | None:
    """A job of a program."""
    return session.scalar(
        select(Job).where(Job.id == job_id, Job.program_id == program_id, Job.kind == kind)
    )


def bytes_of(session: Session, program_id: UUID) -> int:
    """How many bytes a program's uploads have: pieces, pages, and what is on its way."""
    has_piece = exists().where(Piece.id == Job.piece_id, Piece.file_key != "")
    is_open = Job.state.in_((JobState.WAITING, JobState.WORKING))
    found = session.scalar(
        select(func.sum(Job.bytes)).where(Job.program_id == program_id, is_open | has_piece)
    )
    return int(found or 0) + pages.bytes_of(session, program_id)


def oldest_waiting_seconds(session: Session) -> float:
    """How long the job that waits longest has waited."""
    since = func.extract("epoch", func.now() - func.min(Job.alive_at))
    return float(session.scalar(select(since).where(Job.state == JobState.WAITING)) or 0)
