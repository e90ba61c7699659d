"""The job queue: Procrastinate on the same PostgreSQL, in a schema of its own.

Any number of workers, on any number of machines: ``python -m crumb.jobs``.
"""

import asyncio
from functools import lru_cache
from uuid import UUID

from procrastinate import App, PsycopgConnector, RetryStrategy, SyncPsycopgConnector
from procrastinate.connector import BaseConnector
from procrastinate.jobs import Status
from sqlalchemy.engine import make_url

from crumb.jobs.helpers import each_with_help
from crumb.services import importing, sheets
from crumb.settings import get_settings
from crumb.store.files import get_files
from crumb.store.session import new_session

SCHEMA = "jobs"


def _conninfo() -> str:
    url = make_url(get_settings().database_url).set(drivername="postgresql")
    return url.render_as_string(hide_password=False)


def _app(connector: BaseConnector) -> App:
    app = App(connector=connector)
    retry = RetryStrategy(max_attempts=2)
    app.task(name="read_upload", queue="imports", retry=retry)(read_upload)
    app.task(name="print_sheets", queue="sheets", retry=retry)(print_sheets)
    return app


def _options() -> dict[str, object]:
    return {"options": f"-c search_path={SCHEMA}"}


def worker_app() -> App:
    """The queue as a worker sees it, which also looks after jobs whose worker died."""
    connector = PsycopgConnector(conninfo=_conninfo(), kwargs=_options(), min_size=1, max_size=4)
    app = _app(connector)

    async def every_minute(timestamp: int) -> None:
        await take_up_again(app)

    app.periodic(cron="* * * * *")(app.task(name="take_up_again", queue="care")(every_minute))
    return app


async def take_up_again(app: App, *, silent: float = 60) -> None:
    """Begin jobs anew whose worker died; one that died with two workers is given up, in words.

    Args:
        app: the queue, open.
        silent: seconds without a sign of life that tell a dead worker.
    """
    for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=silent):
        if job.attempts == 0:
            await app.job_manager.retry_job(job)
            continue
        await app.job_manager.finish_job(job, Status.FAILED, delete_job=False)
        if job.task_name in _GIVEN_UP:
            argument, give_up = _GIVEN_UP[job.task_name]
            await asyncio.to_thread(give_up, new_session, UUID(str(job.task_kwargs[argument])))


_GIVEN_UP = {
    "read_upload": ("import_id", importing.give_up),
    "print_sheets": ("job_id", sheets.give_up),
}


@lru_cache
def _putting_app() -> App:
    """The queue as the server sees it: it only puts work in."""
    connector = SyncPsycopgConnector(
        conninfo=_conninfo(), kwargs=_options(), min_size=1, max_size=2
    )
    app = _app(connector)
    app.open()
    return app


def read_upload(import_id: str) -> None:
    """Read one upload."""
    importing.work_off(new_session, get_files(), UUID(import_id), each_with_help)


def print_sheets(job_id: str) -> None:
    """Print one set of practice sheets."""
    sheets.work_off(new_session, get_files(), UUID(job_id), get_settings().public_url)


class JobQueue:
    """Puts work into the database for a worker."""

    def put(self, import_id: UUID) -> None:
        """The import is stored; read it soon."""
        _putting_app().configure_task("read_upload", queue="imports").defer(
            import_id=str(import_id)
        )

    def put_sheets(self, job_id: UUID) -> None:
        """The sheets are ordered; print them soon."""
        _putting_app().configure_task("print_sheets", queue="sheets").defer(job_id=str(job_id))


def get_queue() -> JobQueue:
    """The queue this process is set up with."""
    return JobQueue()
