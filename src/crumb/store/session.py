"""Connecting to PostgreSQL."""

from functools import lru_cache

from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session, sessionmaker

from crumb.settings import get_settings


@lru_cache
def get_engine() -> Engine:
    """The engine of this process."""
    return create_engine(get_settings().database_url, pool_pre_ping=True, pool_size=10)


def new_session() -> Session:
    """A session on the process's engine; the caller closes it."""
    return sessionmaker(get_engine(), expire_on_commit=False)()
