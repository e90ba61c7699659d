"""A day's items in one or more sittings."""

from collections.abc import Sequence
from datetime import date

from crumb.core.plan.model import Item, Session


def sittings(day: date, items: Sequence[Item], count: int) -> list[Session]:
    """Items of a day in one or more sittings of about the same length, in the order given."""
    if not items:
        return [Session(day, 1, ())]
    total = sum(item.minutes for item in items)
    parts: list[list[Item]] = [[] for _ in range(max(count, 1))]
    spent = 0
    for item in items:
        # An item belongs where its middle falls.
        at = min(int((spent + item.minutes / 2) * len(parts) / total), len(parts) - 1)
        parts[at].append(item)
        spent += item.minutes
    filled = [part for part in parts if part]
    return [Session(day, n, tuple(part)) for n, part in enumerate(filled, 1)]
