"""A private calendar to subscribe to: days of practice, due dates, dates to be ready by.

Whoever knows the address reads it; it can be taken back, and then leads nowhere.
"""

import secrets
from collections.abc import Iterable
from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core.plan.scheduler import schedule
from crumb.core.vocabulary import Permission, Role
from crumb.formats.calendar import Entry, feed
from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.library.pieces import get_piece, load_part
from crumb.services.people.roster import sections_of
from crumb.services.planning.plan_requests import ask_of, music_for
from crumb.services.planning.plan_settings import settings_of
from crumb.services.planning.plans import listed
from crumb.services.practice.today import today as sent_by_hand
from crumb.store.queries import planning as ask
from crumb.store.queries import sending


def key_of(session: Session, actor: Actor) -> str:
    """The key of somebody's calendar, made now if there is none."""
    key = ask.calendar_key(session, actor.person_id)
    if key is None:
        key = secrets.token_urlsafe(32)
        ask.keep_calendar_key(session, actor.person_id, key)
    return key


def take_back(session: Session, actor: Actor) -> None:
    """From now on the address leads nowhere."""
    ask.keep_calendar_key(session, actor.person_id, None)


def calendar(session: Session, key: str) -> bytes:
    """The calendar behind a key.

    Raises:
        NotFound: there is none.
    """
    owner = ask.calendar_owner(session, key)
    if owner is None:
        raise NotFound("There is no such calendar.")
    actor = Actor(
        owner.person_id, owner.program_id, Role(owner.role), owner.name, time_zone=owner.time_zone
    )
    now = datetime.now(UTC)
    today = now.astimezone(ZoneInfo(actor.time_zone)).date()
    entries: Iterable[Entry] = ()
    if actor.may(Permission.PRACTISE):
        entries = _of_student(session, actor, today)
    elif actor.may(Permission.SEND):
        entries = _of_all(session, actor)
    return feed(f"Crumb: {actor.name}", entries, now)


def _of_student(session: Session, actor: Actor, today: date) -> Iterable[Entry]:
    for row in ask.plans_for(session, sections_of(session, actor.person_id), today):
        hand = load_part(session, actor, row.part_id)
        title = get_piece(session, actor, hand.row.piece_id).title
        wish = settings_of(row)
        asked = ask_of(
            session, actor, actor.person_id, wish, music_for(session, hand, wish), today, kept=row
        )
        yield Entry(f"ready-{row.id}", row.ends_on, f"{title}: ready by today")
        minutes: dict[date, int] = {}
        for sitting in schedule(asked):
            spent = sum(item.minutes for item in sitting.items)
            minutes[sitting.day] = minutes.get(sitting.day, 0) + spent
        for day, count in minutes.items():
            if count:
                yield Entry(f"{row.id}-{day.isoformat()}", day, f"{title}: {count} minutes")
    due = {
        (line.item.assignment_id, line.due_on, line.title)
        for line in sent_by_hand(session, actor, today)
    }
    for assignment, day, title in due:
        yield Entry(f"due-{assignment}", day, f"{title}: due")


def _of_all(session: Session, actor: Actor) -> Iterable[Entry]:
    for row, title, part, section in listed(session, actor):
        if row.withdrawn_at is None:
            yield Entry(f"ready-{row.id}", row.ends_on, f"{section}: {title} ready by today", part)
    for sent in sending.by_hand(session, actor.program_id):
        if sent.assignment.withdrawn_at is None:
            day, title = sent.assignment.due_on, f"{sent.section}: {sent.title} due"
            yield Entry(f"due-{sent.assignment.id}", day, title, sent.part)
