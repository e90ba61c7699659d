"""Practice days between today and a date."""

from collections.abc import Sequence
from datetime import date, timedelta

from crumb.core.plan.model import PlanAsk

FURTHEST = 400
"""No plan looks further ahead than this many days."""
CARRIED_OVER = timedelta(days=14)
"""So long after its date what was sent stays on a student's list (our own choice)."""


def is_off(ask: PlanAsk, day: date) -> bool:
    """Whether nobody practises on a day."""
    return day in ask.days_off or day.weekday() in ask.weekdays_off


def is_due_again(days: Sequence[date], every: int, on: date) -> bool:
    """Whether something for every so-many-th day of practice comes on a day.

    Args:
        days: on which it was played last, and every day of practice since.
        every: 2 for every second day.
        on: the day that is asked about; once begun on it, it stays there.
    """
    last = min(days)
    return last >= on or sum(last < day < on for day in set(days)) >= every - 1


def practice_days(ask: PlanAsk, until: date | None = None) -> list[date]:
    """The days from today to the one before the date, without days off."""
    end = min(until or ask.on, ask.today + timedelta(days=FURTHEST))
    count = max((end - ask.today).days, 0)
    return [day for n in range(count) if not is_off(ask, day := ask.today + timedelta(days=n))]
