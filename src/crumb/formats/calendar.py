"""Days as an iCalendar feed (RFC 5545), written by the icalendar library."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar, Event


@dataclass(frozen=True, slots=True)
class Entry:
    """Something on a day; ``key`` stays the same when its words change."""

    key: str
    day: date
    title: str
    text: str = ""


def feed(name: str, entries: Iterable[Entry], now: datetime) -> bytes:
    """A calendar of whole days.

    Args:
        name: what a calendar program calls it.
        entries: in any order.
        now: when it was asked for.
    """
    calendar = Calendar()
    calendar.add("prodid", "-//Crumb//practice//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for entry in sorted(entries, key=lambda one: (one.day, one.key)):
        event = Event()
        event.add("uid", f"{entry.key}@crumb")
        event.add("dtstamp", now.astimezone(UTC))
        event.add("dtstart", entry.day)
        event.add("dtend", entry.day + timedelta(days=1))
        event.add("summary", entry.title)
        if entry.text:
            event.add("description", entry.text)
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
