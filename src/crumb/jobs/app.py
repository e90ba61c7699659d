"""The job queue: Procrastinate on the same PostgreSQL, in a schema of its own.

Any number of workers, on any number of machines: ``python -m crumb.jobs``.
"""

from functools import lru_cache
from uuid import UUID

from procrastinate import App, PsycopgConnector, RetryStrategy, SyncPsycopgConnector
from procrastinate.connector import BaseConnector
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
    # A worker that died in the middle is followed by another; what ended stays ended.
    retry = RetryStrategy(max_attempts=2)
    app.task(name="read_upload", queue="imports", retry=retry)(read_upload)
    app.task(name="print_sheets", queue="sheets", retry=retry)(print_sheets)
    return app


def _options() -> dict[str, object]:
    return {"options": f"-c search_path={SCHEMA}"}


def worker_app() -> App:
    """The queue as a worker sees it."""
    return _app(PsycopgConnector(conninfo=_conninfo(), kwargs=_options(), min_size=1, max_size=4))


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
