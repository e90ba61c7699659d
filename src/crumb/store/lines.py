"""Asynchronous database connections for the one route that a whole class calls at once."""

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
    bounds = {
        "statement_timeout": settings.statement_seconds * 1000,
        "lock_timeout": settings.statement_seconds * 1000,
        "idle_in_transaction_session_timeout": 60_000,
        # Everything asked here goes by an index to a few rows: planned once, never by a scan or a
        # sort, however little the planner knows of a table that has just been filled.
        "plan_cache_mode": "force_generic_plan",
        "enable_seqscan": "off",
        "enable_bitmapscan": "off",
        "enable_sort": "off",
        "jit": "off",
    }
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
            "options": " ".join(f"-c {name}={value}" for name, value in bounds.items()),
        },
    )
    await pool.open(wait=False)
    try:
        yield pool
    finally:
        await pool.close(timeout=5)
