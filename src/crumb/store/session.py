"""Connecting to PostgreSQL."""

from functools import lru_cache

from sqlalchemy import Engine, create_engine, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from crumb.settings import get_settings


@lru_cache
def get_engine() -> Engine:
    """The engine of this process: a connection for everything it works on at once, and no more.

    A connection that PostgreSQL closed is told by its first use, and all are made anew then.
    Parameters are left out of errors: they hold names.
    """
    settings = get_settings()
    wanted = {
        "statement_timeout": settings.statement_seconds * 1000,
        "lock_timeout": settings.statement_seconds * 1000,
        "idle_in_transaction_session_timeout": 60_000,
        # Asked often, a query would get one plan for any number of students; a section wants
        # another than a school, and that one took four times as long.
        "plan_cache_mode": "force_custom_plan",
    }
    return create_engine(
        settings.database_url,
        pool_size=settings.requests_at_once,
        max_overflow=4,
        pool_timeout=10,
        pool_pre_ping=True,
        hide_parameters=True,
        connect_args={
            "connect_timeout": 5,
            "options": " ".join(f"-c {name}={value}" for name, value in wanted.items()),
        },
    )


@lru_cache
def _maker() -> sessionmaker[Session]:
    return sessionmaker(get_engine(), expire_on_commit=False)


def new_session() -> Session:
    """A session on the process's engine; the caller closes it."""
    return _maker()()


def is_database_away(error: DBAPIError) -> bool:
    """Whether the connection failed, and not one statement."""
    return error.connection_invalidated or getattr(error.orig, "sqlstate", None) is None


def limit_statements(session: Session, seconds: int) -> None:
    """Let no statement of this transaction take longer."""
    session.execute(text(f"set local statement_timeout = {seconds * 1000:d}"))
