"""A week's practice of each student: days, minutes, takes, log; never mixed with levels."""

from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.people.roster import list_sections
from crumb.store.queries import weeks as ask


@dataclass(frozen=True, slots=True)
class DoneInWeek:
    """One student's week: days of practice, minutes, repetitions, takes; whether there is a log."""

    student_id: UUID
    name: str
    section: str
    days: int
    minutes: int
    repetitions: int
    takes: int
    has_log: bool


@dataclass(frozen=True, slots=True)
class Week:
    """A week from Monday to Sunday, and everybody's doing in it, by section."""

    first: date
    last: date
    rows: tuple[DoneInWeek, ...]


def week_of(session: Session, actor: Actor, day: date) -> Week:
    """The week that a day is in; a student of two sections is told in each."""
    first = day - timedelta(days=day.weekday())
    last = first + timedelta(days=6)
    sections = list_sections(session, actor)
    students = sorted({student for section in sections for student, _ in section.students})
    seconds = ask.seconds_by_day(session, students, first, last)
    played = ask.played_by_day(session, students, first, last)
    takes = ask.takes_by_day(session, students, first, last, actor.time_zone)
    logs = ask.logs_in(session, students, first, last)
    rows = []
    for section in sections:
        for student, name in section.students:
            spent = seconds.get(student, {})
            counts = played.get(student, {})
            rows.append(
                DoneInWeek(
                    student,
                    name,
                    section.name,
                    days=len(spent.keys() | counts.keys()),
                    minutes=round(sum(spent.values()) / 60),
                    repetitions=sum(counts.values()),
                    takes=sum(takes.get(student, {}).values()),
                    has_log=student in logs,
                )
            )
    return Week(first, last, tuple(rows))
