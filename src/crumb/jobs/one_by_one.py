"""Rows worked on one by one, each in a unit of its own: one that fails stops no other."""

import logging
from collections.abc import Callable, Iterable
from typing import TypeVar

from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.store.session import is_database_away
from crumb.store.unit_of_work import NewSession, unit_of_work

log = logging.getLogger("crumb.jobs")
Row = TypeVar("Row")


def one_by_one(
    new_session: NewSession,
    rows: Iterable[Row],
    work: Callable[[Session, Row], object],
    set_aside: Callable[[Session, Row], None] = lambda *_: None,
) -> int:
    """Work on each row.

    Args:
        new_session: opens a session; each row is committed by itself.
        rows: the rows.
        work: works on one of them.
        set_aside: sees to it that the next run leaves out a row on which work failed. A row that
            the database kept waiting for too long is not set aside: the next run tries it again.

    Returns:
        On how many work did not fail.

    Raises:
        DBAPIError: the database is away.
    """
    count = 0
    for row in rows:
        try:
            with unit_of_work(new_session) as session:
                work(session, row)
            count += 1
        except DBAPIError as error:
            if is_database_away(error):
                raise
            log.warning("left for the next run", extra={"row": str(row)}, exc_info=error)
        except Exception as error:
            if not isinstance(error, CrumbError):  # a rule that says no is no fault
                log.exception("set aside", extra={"row": str(row)})
            with unit_of_work(new_session) as session:
                set_aside(session, row)
    return count
