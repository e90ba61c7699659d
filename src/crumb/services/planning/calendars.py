"""A private calendar to subscribe to: days of practice, due dates, dates to be ready by.

Whoever knows the address reads it; it can be taken back, and then leads nowhere.
"""

import secrets
from collections.abc import Iterable
from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core.plan.laying import laid_out
from crumb.formats.calendar import Entry, feed
from crumb.services.errors import NotFound
from crumb.services.library.pieces import get_piece, load_part
from crumb.services.people.roster import sections_of
from crumb.services.planning.asking import ask_of, music_for
from crumb.services.planning.plans import listed
from crumb.services.planning.wishes import wish_of
from crumb.services.practice.today import today as sent_by_hand
from crumb.services.who import Right, Role, Who
from crumb.store.queries import planning as ask
from crumb.store.queries import sending


def key_of(session: Session, who: Who) -> str:
    """The key of somebody's calendar, made now if there is none."""
    key = ask.calendar_key(session, who.person_id)
    if key is None:
        key = secrets.token_urlsafe(32)
        ask.keep_calendar_key(session, who.person_id, key)
    return key


def take_back(session: Session, who: Who) -> None:
    """From now on the address leads nowhere."""
    ask.keep_calendar_key(session, who.person_id, None)


def calendar(session: Session, key: str) -> bytes:
    """The calendar behind a key.

    Raises:
        NotFound: there is none.
    """
    owner = ask.calendar_owner(session, key)
    if owner is None:
        raise NotFound("There is no such calendar.")
    who = Who(
        owner.person_id, owner.program_id, Role(owner.role), owner.name, time_zone=owner.time_zone
    )
    now = datetime.now(UTC)
    today = now.astimezone(ZoneInfo(who.time_zone)).date()
    entries: Iterable[Entry] = ()
    if who.may(Right.PRACTISE):
        entries = _of_student(session, who, today)
    elif who.may(Right.SEND):
        entries = _of_all(session, who)
    return feed(f"Crumb: {who.name}", entries, now)


def _of_student(session: Session, who: Who, today: date) -> Iterable[Entry]:
    for row in ask.plans_for(session, sections_of(session, who.person_id), today):
        hand = load_part(session, who, row.part_id)
        title = get_piece(session, who, hand.row.piece_id).title
        wish = wish_of(row)
        asked = ask_of(
            session, who, who.person_id, wish, music_for(session, hand, wish), today, kept=row
        )
        yield Entry(f"ready-{row.id}", row.ends_on, f"{title}: ready by today")
        minutes: dict[date, int] = {}
        for sitting in laid_out(asked):
            spent = sum(item.minutes for item in sitting.items)
            minutes[sitting.day] = minutes.get(sitting.day, 0) + spent
        for day, count in minutes.items():
            if count:
                yield Entry(f"{row.id}-{day.isoformat()}", day, f"{title}: {count} minutes")
    due = {
        (line.item.assignment_id, line.due_on, line.title)
        for line in sent_by_hand(session, who, today)
    }
    for assignment, day, title in due:
        yield Entry(f"due-{assignment}", day, f"{title}: due")


def _of_all(session: Session, who: Who) -> Iterable[Entry]:
    for row, title, part, section in listed(session, who):
        if row.withdrawn_at is None:
            yield Entry(f"ready-{row.id}", row.ends_on, f"{section}: {title} ready by today", part)
    for sent in sending.by_hand(session, who.program_id):
        if sent.assignment.withdrawn_at is None:
            day, title = sent.assignment.due_on, f"{sent.section}: {sent.title} due"
            yield Entry(f"due-{sent.assignment.id}", day, title, sent.part)
