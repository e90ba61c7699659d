"""Jobs whose worker was killed in the middle: begun anew once, then given up in words."""

import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from uuid import UUID

import pytest
from fastapi import FastAPI
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

from crumb.services.music import importing
from crumb.store.tables import ImportJob
from tests.api.school import ETUDE, Desk, a_school, app_on
from tests.conftest import ROOT

_PUT = "from crumb.jobs.app import get_queue; from uuid import UUID; import sys; "
_PUT += "get_queue().put(UUID(sys.argv[1]))"
_CARE = """
import asyncio
from crumb.jobs.app import take_up_again, worker_app
async def care():
    app = worker_app()
    async with app.open_async():
        await take_up_again(app)
asyncio.run(care())
"""
_WORK = "from crumb.jobs.app import worker_app; worker_app().run_worker(wait=False)"


class Yard:
    """A database with its queue, and commands run on it as a worker would."""

    def __init__(self, url: str, files: Path, desk: Desk) -> None:
        path = {"options": "-c search_path=jobs"}
        self.engine: Engine = create_engine(url, connect_args=path)
        self.env = {**os.environ, "CRUMB_DATABASE_URL": url, "CRUMB_FILES_DIR": str(files)}
        self.desk = desk

    def run(self, code: str, *arguments: str) -> None:
        subprocess.run([sys.executable, "-c", code, *arguments], cwd=ROOT, env=self.env, check=True)

    def waiting(self) -> UUID:
        """An upload that nobody has worked on."""
        with self.desk.makes() as session:
            job = importing.begin(
                session, self.desk.files, self.desk, self.desk.who, file_name="e.xml", data=ETUDE
            )
        self.run(_PUT, str(job.id))
        return job.id

    def is_killed_in_the_middle(self) -> None:
        """What the database looks like when a worker was killed: begun, and no worker."""
        with self.engine.begin() as connection:
            connection.execute(
                text("update procrastinate_jobs set status = 'doing' where status = 'todo'")
            )

    def job(self, import_id: UUID) -> ImportJob:
        with self.desk.makes() as session:
            return session.get_one(ImportJob, import_id)


@pytest.fixture
def yard(new_session: sessionmaker[Session], database_url: str, tmp_path: Path) -> Iterator[Yard]:
    app: FastAPI = app_on(new_session, tmp_path)
    desk = Desk(a_school(app, new_session), new_session, tmp_path)
    made = Yard(database_url, tmp_path, desk)
    yield made
    made.engine.dispose()


def test_another_worker_ends_what_a_dead_one_began(yard: Yard):
    waiting = yard.waiting()
    yard.is_killed_in_the_middle()
    assert yard.job(waiting).state == "waiting"
    yard.run(_CARE)
    yard.run(_WORK)
    assert yard.job(waiting).state == "done"


def test_a_file_that_kills_two_workers_is_given_up_in_words(yard: Yard):
    deadly = yard.waiting()
    for _ in range(2):
        yard.is_killed_in_the_middle()
        yard.run(_CARE)
    job = yard.job(deadly)
    assert (job.state, job.piece_id) == ("failed", None)
    assert job.message == "Crumb stopped twice in the middle of this file; nothing was stored."
    yard.run(_WORK)
    assert yard.job(deadly).state == "failed"


def test_a_job_that_is_being_worked_on_is_left_alone(yard: Yard):
    busy = yard.waiting()
    with yard.engine.begin() as connection:
        worker = connection.execute(
            text("insert into procrastinate_workers default values returning id")
        ).scalar_one()
        connection.execute(
            text(
                "update procrastinate_jobs set status = 'doing', worker_id = :worker "
                "where status = 'todo'"
            ),
            {"worker": worker},
        )
    yard.run(_CARE)
    yard.run(_WORK)
    assert yard.job(busy).state == "waiting"
