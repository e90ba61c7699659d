"""Lay out today's plan days before a student opens them; one unit of work for each day."""

from sqlalchemy.orm import Session

from crumb.jobs.one_by_one import one_by_one
from crumb.services.planning import days
from crumb.store.queries import planning
from crumb.store.queries.planning import NotLaidOut
from crumb.store.unit_of_work import NewSession

_AT_ONCE = 8


def lay_days_ahead(new_session: NewSession, most: int) -> int:
    """Lay out days of today that nobody has opened yet, so that they are there at once.

    Args:
        new_session: opens a session; each day is committed by itself.
        most: how many at most.

    Returns:
        How many there were.
    """
    count = 0
    last: list[NotLaidOut] = []
    while count < most:
        with new_session() as session:
            found = planning.not_laid_out(session, min(_AT_ONCE, most - count))
        if not found or found == last:  # nothing is left, or nothing that this run can do
            return count
        count += one_by_one(new_session, found, days.lay_out, _keep_nothing)
        last = found
    return count


def _keep_nothing(session: Session, one: NotLaidOut) -> None:
    """The day of somebody whose piece or notation is gone: there is nothing to lay out."""
    planning.keep_nothing(session, one.plan_id, one.student_id, one.today)
