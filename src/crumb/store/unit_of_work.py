"""Unit of work: PostgreSQL keeps all that a request or a job changes, or nothing.

Services change; the route or the worker that called them commits, once, here. Files follow the
database: what a committed change no longer needs is deleted after the commit, and what a rolled
back change had saved is deleted after the rollback. Decision 0036.
"""

from collections.abc import Callable, Iterator
from contextlib import contextmanager

from sqlalchemy import Engine
from sqlalchemy.orm import Session

NewSession = Callable[[], Session]
Act = Callable[[], None]

_AFTER_COMMIT, _AFTER_ROLLBACK = "crumb.after_commit", "crumb.after_rollback"


def after_commit(session: Session, act: Act) -> None:
    """Have something outside of the database done once this unit is committed, and only then."""
    session.info.setdefault(_AFTER_COMMIT, []).append(act)


def after_rollback(session: Session, act: Act) -> None:
    """Have something outside of the database undone if this unit is not committed."""
    session.info.setdefault(_AFTER_ROLLBACK, []).append(act)


def commit(session: Session) -> None:
    """Keep everything that this unit changed, then do what was to follow."""
    session.commit()
    _do(session, _AFTER_COMMIT)


def roll_back(session: Session) -> None:
    """Keep nothing of it, and undo what was done outside of the database."""
    session.rollback()
    _do(session, _AFTER_ROLLBACK)


def _do(session: Session, which: str) -> None:
    acts: list[Act] = session.info.get(which, [])
    session.info.pop(_AFTER_COMMIT, None)
    session.info.pop(_AFTER_ROLLBACK, None)
    for act in acts:
        act()


@contextmanager
def unit_of_work(new_session: NewSession) -> Iterator[Session]:
    """A session whose changes are committed at the end of the block, or not at all."""
    session = new_session()
    try:
        yield session
        commit(session)
    except BaseException:
        roll_back(session)
        raise
    finally:
        session.close()


def reading(new_session: NewSession) -> Session:
    """A session on which PostgreSQL itself refuses every change."""
    session = new_session()
    engine = session.get_bind()
    assert isinstance(engine, Engine)
    session.bind = engine.execution_options(postgresql_readonly=True)
    return session
