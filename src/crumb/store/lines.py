"""Connections of an event loop, for the one route that a whole class uses at the same time."""

from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from typing import Any

from psycopg import AsyncConnection
from psycopg_pool import AsyncConnectionPool
from sqlalchemy.engine import make_url

from crumb.settings import get_settings

COUNT = 6
_PATIENCE = 8.0


@asynccontextmanager
async def open_lines() -> AsyncIterator[AsyncConnectionPool[AsyncConnection[Any]]]:
    """A few connections while the server runs; one that broke is replaced."""
    settings = get_settings()
    url = make_url(settings.database_url).set(drivername="postgresql")
    bound = settings.statement_seconds * 1000
    pool: AsyncConnectionPool[AsyncConnection[Any]] = AsyncConnectionPool(
        url.render_as_string(hide_password=False),
        min_size=1,
        max_size=COUNT,
        timeout=_PATIENCE,
        max_waiting=400,
        open=False,
        kwargs={
            "autocommit": True,
            "connect_timeout": 5,
            "options": f"-c statement_timeout={bound} -c lock_timeout={bound}"
            " -c idle_in_transaction_session_timeout=60000",
        },
    )
    await pool.open(wait=False)
    try:
        yield pool
    finally:
        await pool.close(timeout=5)
