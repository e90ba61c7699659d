"""Lay out today's plan days before a student opens them; one unit of work for each day."""

from crumb.core.errors import CrumbError
from crumb.services.planning import days
from crumb.store.queries import planning
from crumb.store.unit_of_work import NewSession, unit_of_work

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
    while count < most:
        with new_session() as session:
            found = planning.not_laid_out(session, min(_AT_ONCE, most - count))
        if not found:
            return count
        for one in found:
            try:
                with unit_of_work(new_session) as session:
                    days.lay_out(session, one)
            except CrumbError:  # its piece or its notation is gone: there is nothing to lay out
                with unit_of_work(new_session) as session:
                    planning.keep_nothing(session, one.plan_id, one.student_id, one.today)
        count += len(found)
    return count
