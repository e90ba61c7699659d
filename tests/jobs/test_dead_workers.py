"""Jobs whose worker was killed in the middle: begun anew once, then given up in words."""

import os
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from uuid import UUID

import pytest
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from bench.wind_score import wind_score
from crumb.jobs.work import carry_out
from crumb.services.jobs import Abandoned, Try
from crumb.services.music import imports
from crumb.store.queries import jobs
from crumb.store.tables import Job, Piece
from crumb.store.unit_of_work import unit_of_work
from tests.api.school import ETUDE, Desk, a_school, app_on, work_of
from tests.conftest import ROOT


class Yard:
    """A database with jobs, and real workers on it."""

    def __init__(self, url: str, files: Path, desk: Desk) -> None:
        self.env = {**os.environ, "CRUMB_DATABASE_URL": url, "CRUMB_FILES_DIR": str(files)}
        self.desk = desk
        self.workers: list[subprocess.Popen[bytes]] = []

    def waiting(self, data: bytes = ETUDE) -> UUID:
        """An upload that nobody has worked on."""
        with unit_of_work(self.desk.makes) as session:
            return imports.begin(
                session, self.desk.files, self.desk.actor, file_name="e.xml", data=data
            ).id

    def worker(self) -> subprocess.Popen[bytes]:
        command = [sys.executable, "-m", "crumb.jobs"]
        self.workers.append(
            subprocess.Popen(command, cwd=ROOT, env=self.env, stderr=subprocess.DEVNULL)
        )
        return self.workers[-1]

    def job(self, job_id: UUID) -> Job:
        with self.desk.makes() as session:
            return session.get_one(Job, job_id)

    def until(self, job_id: UUID, is_so: Callable[[Job], bool], seconds: float = 40) -> Job:
        for _ in range(int(seconds / 0.1)):
            job = self.job(job_id)
            if is_so(job):
                return job
            time.sleep(0.1)
        raise AssertionError(f"still {job.state}")

    def long_silent(self, job_id: UUID) -> None:
        """As if whoever works on it had given no sign of life for long."""
        with self.desk.makes() as session:
            session.execute(
                text("update job set alive_at = now() - interval '1 minute' where id = :id"),
                {"id": job_id},
            )
            session.commit()

    @contextmanager
    def kept_from_ending(self) -> Iterator[None]:
        """No part can be stored meanwhile, so that no worker is too quick to be stopped."""
        with self.desk.makes() as session:
            session.execute(text("lock table part in share mode"))
            yield

    def pieces(self) -> int:
        with self.desk.makes() as session:
            return session.query(Piece).filter_by(program_id=self.desk.actor.program_id).count()


@pytest.fixture
def yard(new_session: sessionmaker[Session], database_url: str, tmp_path: Path) -> Iterator[Yard]:
    desk = Desk(a_school(app_on(new_session, tmp_path), new_session), new_session, tmp_path)
    made = Yard(database_url, tmp_path, desk)
    with new_session() as session:  # what other tests left lying
        session.execute(
            text("update job set state = 'cancelled', ended_at = now() where ended_at is null")
        )
        session.commit()
    yield made
    for worker in made.workers:
        worker.kill()
        worker.wait()


def has_ended(job: Job) -> bool:
    return job.state in ("done", "failed", "cancelled")


def test_a_worker_does_what_waits_and_says_how_far_it_is(yard: Yard):
    waiting = yard.waiting()
    yard.worker()
    assert yard.until(waiting, has_ended).state == "done"
    assert yard.pieces() == 1


def test_another_worker_ends_what_a_killed_one_began(yard: Yard):
    waiting = yard.waiting()
    with yard.kept_from_ending():
        first = yard.worker()
        yard.until(waiting, lambda job: job.state == "working")
        first.kill()
        first.wait()
        yard.long_silent(waiting)
    yard.worker()
    job = yard.until(waiting, has_ended, 90)
    assert (job.state, job.tries) == ("done", 2)
    assert yard.pieces() == 1


@pytest.mark.full
@pytest.mark.parametrize("tries", [0, 1])
def test_a_worker_that_is_stopped_gives_its_work_back_and_it_was_no_try(yard: Yard, tries: int):
    waiting = yard.waiting()
    with yard.desk.makes() as session:
        session.get_one(Job, waiting).tries = tries
        session.commit()
    with yard.kept_from_ending():
        first = yard.worker()
        yard.until(waiting, lambda job: job.state == "working")
        first.terminate()
        assert first.wait(40) == 0
    job = yard.job(waiting)
    assert job.state == "waiting", job.message
    assert job.tries == tries


def test_a_file_that_kills_two_workers_is_given_up_in_words(yard: Yard):
    deadly = yard.waiting()
    for _ in range(2):
        with yard.desk.makes() as session:
            assert jobs.claim(session) is not None
            session.commit()
        yard.long_silent(deadly)
    with yard.desk.makes() as session:
        assert jobs.claim(session) is None
        assert jobs.give_up_dead(session) == [deadly]
        session.commit()
    job = yard.job(deadly)
    assert (job.state, job.piece_id) == ("failed", None)
    assert "twice; nothing was stored" in job.message


def test_a_job_that_is_being_worked_on_is_left_alone(yard: Yard):
    busy = yard.waiting()
    with yard.desk.makes() as session:
        assert jobs.claim(session) is not None
        session.commit()
        assert jobs.claim(session) is None
        assert jobs.give_up_dead(session) == []
    assert yard.job(busy).state == "working"


def test_a_job_that_nobody_ever_takes_does_not_wait_for_ever(yard: Yard):
    waiting = yard.waiting()
    with yard.desk.makes() as session:
        session.execute(text("update job set alive_at = now() - interval '2 hours'"))
        assert jobs.give_up_dead(session) == [waiting]
        session.commit()
    assert "Nobody worked on this" in yard.job(waiting).message


def test_one_school_with_many_jobs_lets_others_through(yard: Yard, new_session):
    for _ in range(4):
        yard.waiting()
    app = app_on(new_session, Path(yard.env["CRUMB_FILES_DIR"]))
    other = Desk(a_school(app, new_session), new_session, Path(yard.env["CRUMB_FILES_DIR"]))
    with unit_of_work(other.makes) as session:
        theirs = imports.begin(session, other.files, other.actor, file_name="o", data=ETUDE).id
    claimed = []
    with yard.desk.makes() as session:
        while (claim := jobs.claim(session)) is not None:
            claimed.append(claim.id)
            session.commit()
    assert len(claimed) == 3
    assert theirs in claimed


def test_what_a_worker_does_after_it_was_given_up_is_thrown_away(yard: Yard):
    slow = yard.waiting()
    with yard.desk.makes() as session:
        first = jobs.claim(session)
        session.commit()
    yard.long_silent(slow)
    with yard.desk.makes() as session:
        second = jobs.claim(session)
        session.commit()
    assert first is not None
    assert second is not None
    with yard.desk.makes() as session, pytest.raises(Abandoned):
        Try(first.id, first.tries, yard.desk.makes).done(session)
    for claim, pieces in ((first, 0), (second, 1)):
        attempt = Try(claim.id, claim.tries, yard.desk.makes)
        carry_out(attempt, "import", work_of(attempt, "import", yard.desk.files))
        assert yard.pieces() == pieces
    assert (yard.job(slow).state, yard.pieces()) == ("done", 1)


def test_a_file_that_takes_too_much_is_killed_and_told(yard: Yard, monkeypatch):
    job = ended_in(yard, monkeypatch, cpu_seconds=0.3, seconds=60)
    assert (job.state, job.tries, yard.pieces()) == ("failed", 1, 0)
    assert "more time than any piece" in job.message


def test_a_job_that_a_busy_machine_holds_up_gets_another_try(yard: Yard, monkeypatch):
    job = ended_in(yard, monkeypatch, cpu_seconds=60, seconds=0.2)
    assert (job.state, job.tries, yard.pieces()) == ("failed", 2, 0)
    assert "twice" in job.message


def ended_in(yard: Yard, monkeypatch, *, cpu_seconds: float, seconds: float) -> Job:
    """An import with a great deal of music, worked on by one worker within these limits."""
    from crumb.jobs import box
    from crumb.jobs.worker import Worker

    greedy = yard.waiting(wind_score(20, 400))
    for name, value in yard.env.items():
        if name.startswith("CRUMB_"):
            monkeypatch.setenv(name, value)
    _fresh_settings()
    monkeypatch.setitem(box.BOUNDS, "import", box.Bounds(cpu_seconds, seconds, 400_000_000))
    worker = Worker(slots=1)
    try:
        for _ in range(600):
            worker._take()
            worker._look_after()
            if has_ended(yard.job(greedy)):
                break
            time.sleep(0.05)
    finally:
        _fresh_settings()
    return yard.job(greedy)


def test_a_turn_of_the_worker_that_fails_keeps_it_from_nothing_else(yard: Yard, monkeypatch):
    from crumb.jobs import worker as module

    def poison() -> None:
        raise ValueError("poison")

    monkeypatch.setattr(module, "_SETTLED", 0.0)
    worker, acts = module.Worker(slots=1), []
    worker._look_after = poison
    worker._take = lambda: (acts.append("take"), worker.stop())[0]
    worker.run()
    assert acts == ["take"]


def _fresh_settings() -> None:
    from crumb.settings import get_settings
    from crumb.store import session

    if session.get_engine.cache_info().currsize:
        session.get_engine().dispose()
    get_settings.cache_clear()
    session.get_engine.cache_clear()
    session._maker.cache_clear()


def test_a_fault_of_ours_ends_an_import_in_words_and_leaves_a_take_its_second_try(yard: Yard):
    def fault(_: object) -> None:
        raise RuntimeError("a fault of ours")

    job = yard.waiting()
    with unit_of_work(yard.desk.makes) as session:
        claim = jobs.claim(session)
    attempt = Try(claim.id, claim.tries, yard.desk.makes)
    with pytest.raises(RuntimeError):
        carry_out(attempt, "take", fault)
    assert yard.job(job).state == "working"  # the worker puts it back when its box has died
    with pytest.raises(RuntimeError):
        carry_out(attempt, "import", fault)
    assert (yard.job(job).state, "fault" in yard.job(job).message) == ("failed", True)
