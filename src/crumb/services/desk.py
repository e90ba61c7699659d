"""The Desk: lines that need the director today, and lines put off."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core import desk
from crumb.core.desk import Due, LastSeen, Line, LineKind, Said, TakesHandedIn, TakesOwed, WeekOn
from crumb.core.evidence.diary import DiaryKind, Feeling
from crumb.core.score.naming import span_label
from crumb.core.score.position import Span
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.evidence import diary
from crumb.services.library.pieces import load_part
from crumb.services.people.roster import list_sections
from crumb.services.takes import takes, tasks
from crumb.store.queries import desk as ask
from crumb.store.queries import planning
from crumb.store.queries.takes import unheard

_WEEK = timedelta(days=7)
_MOST = 12
_LONGEST_OFF = timedelta(days=60)


@dataclass(frozen=True, slots=True)
class DateAhead:
    """A date that a plan leads to: what, whose, when."""

    plan_id: UUID
    piece_id: UUID
    piece: str
    part: str
    section: str
    on: date


@dataclass(frozen=True, slots=True)
class DeskView:
    """The director's desk; ``more`` counts the lines that do not fit on it."""

    lines: tuple[Line, ...]
    more: int
    dates: tuple[DateAhead, ...]
    put_off: int


def view(session: Session, actor: Actor, today: date) -> DeskView:
    """Lines of the Desk for a person today; empty where nothing needs them."""
    names = {
        student: name
        for section in list_sections(session, actor)
        for student, name in section.students
    }
    found = desk.lines(
        today=today,
        said=_said(session, actor, today),
        weeks=_weeks(session, actor, names, today),
        seen=_seen(session, actor, names, today),
        due=_due(session, actor, names, today),
        takes=_takes(session, actor, names),
        asked=_asked(session, actor, today),
    )
    away = ask.put_off_until(session, actor.person_id, today)
    here = [line for line in found if line.key not in away]
    shown = desk.most_pressing(here, _MOST)
    return DeskView(
        shown, len(here) - len(shown), tuple(_dates(session, actor, today)), len(found) - len(here)
    )


def put_off(session: Session, actor: Actor, line: str, until: date, today: date) -> None:
    """Keep a line away until a day; today brings it back.

    Raises:
        NotAccepted: a day that is past, or more than two months away.
    """
    if not today <= until <= today + _LONGEST_OFF:
        raise NotAccepted("A line is put off until a day in the next two months.")
    ask.put_off(session, actor.person_id, line, until)


def _said(session: Session, actor: Actor, today: date) -> list[Said]:
    found = []
    for one in diary.news(session, actor, today):
        person = desk.StudentName(str(one.student_id), one.student)
        if one.line.kind is DiaryKind.REFUSED:
            text = str(one.line.said.get("said", ""))
            found.append(Said(person, LineKind.REFUSED, text, one.line.day))
        elif one.line.said.get("what") in (Feeling.HURTS.value, Feeling.TIGHT.value):
            found.append(Said(person, LineKind.HURTS, str(one.line.said["what"]), one.line.day))
    return found


def _weeks(session: Session, actor: Actor, names: Mapping[UUID, str], today: date) -> list[WeekOn]:
    rows = ask.week_on(session, sorted(names), today - _WEEK)
    places = _places(session, actor, [(row.part_id, row.chunk_id) for row in rows])
    return [
        WeekOn(
            desk.StudentName(str(row.student_id), names[row.student_id]),
            str(row.part_id),
            str(row.chunk_id),
            places[row.chunk_id],
            row.days,
            row.clean,
            row.slips,
            row.tempo,
            row.goal_bpm,
        )
        for row in rows
        if row.chunk_id in places
    ]


def _seen(session: Session, actor: Actor, names: Mapping[UUID, str], today: date) -> list[LastSeen]:
    zone = ZoneInfo(actor.time_zone)
    return [
        LastSeen(
            desk.StudentName(str(student), names[student]),
            sent_at.astimezone(zone).date(),
            None if last is None else last.astimezone(zone).date(),
        )
        for student, sent_at, last in ask.last_days(session, actor.program_id, today)
        if student in names
    ]


def _due(session: Session, actor: Actor, names: Mapping[UUID, str], today: date) -> list[Due]:
    rows = ask.due_before(session, actor.program_id, today)
    places = _places(session, actor, [(row.part_id, row.chunk_id) for row in rows])
    return [
        Due(
            desk.StudentName(str(row.student_id), names[row.student_id]),
            str(row.part_id),
            places[row.chunk_id],
            row.due_on,
        )
        for row in rows
        if row.student_id in names and row.chunk_id in places
    ]


def _asked(session: Session, actor: Actor, today: date) -> list[TakesOwed]:
    if not takes.rules(session, actor).is_on:
        return []
    return [
        TakesOwed(
            str(task.id),
            task.section,
            task.due_on,
            len(task.owed),
            tuple(
                desk.StudentName(str(s), name) for s, name, owed in task.owed if not owed.is_closed
            ),
        )
        for task in tasks.listed(session, actor, today)
    ]


def _takes(session: Session, actor: Actor, names: Mapping[UUID, str]) -> list[TakesHandedIn]:
    zone = ZoneInfo(actor.time_zone)
    rows = [row for row in unheard(session, actor.program_id) if row[2] in names]
    places = _places(session, actor, [(part_id, chunk_id) for part_id, chunk_id, _, _ in rows])
    return [
        TakesHandedIn(
            desk.StudentName(str(student), names[student]),
            str(part_id),
            str(chunk_id),
            places[chunk_id],
            at.astimezone(zone).date(),
        )
        for part_id, chunk_id, student, at in rows
        if chunk_id in places
    ]


def _places(session: Session, actor: Actor, chunks: Sequence[tuple[UUID, UUID]]) -> dict[UUID, str]:
    """How chunks are called, landing aside; each part is read once."""
    spans = planning.spans_of(session, sorted({chunk_id for _, chunk_id in chunks}))
    parts = {i: load_part(session, actor, i).part for i in {part_id for part_id, _ in chunks}}
    return {
        chunk_id: span_label(parts[part_id], Span(spans[chunk_id].start, spans[chunk_id].end))
        for part_id, chunk_id in set(chunks)
        if chunk_id in spans
    }


def _dates(session: Session, actor: Actor, today: date) -> list[DateAhead]:
    found = ask.dates_ahead(session, actor.program_id, today)
    rows = [row for row in found if actor.sees(row.section_id)]
    return [
        DateAhead(row.id, row.piece_id, row.title, row.part, row.section, row.ends_on)
        for row in rows
    ]
