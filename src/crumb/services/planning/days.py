"""A student's day in a plan: laid out once, kept steady, and ready to be practised.

What the plan asks for is written down like anything that is sent, so that a repetition of it is
what it was then. A day is laid out anew when the minutes change or the plan does; what was begun
stays as it is.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from fractions import Fraction
from itertools import groupby
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.drill_names import DrillName
from crumb.core.drills import drill_kind
from crumb.core.errors import CrumbError, NoNotation
from crumb.core.plan.drill_choice import SEAMS
from crumb.core.plan.minute_shares import breaks
from crumb.core.plan.model import WHOLE, Category, Item, PlanAsk
from crumb.core.plan.model import Session as Sitting
from crumb.core.plan.scheduler import schedule
from crumb.core.plan.weeks import Week, week_on, weeks_of
from crumb.core.score.position import Span, whole
from crumb.core.vocabulary import ItemRole, Role
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings, Worked, work_out
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import load_part
from crumb.services.people.roster import sections_of
from crumb.services.planning.plan_requests import ask_of, music_for
from crumb.services.planning.plan_settings import PlanSettings, settings_of
from crumb.services.planning.planner_inputs import Music
from crumb.services.planning.warm_up import warm_up_of
from crumb.services.practice.today import TodayItem, lines_of
from crumb.services.sending.assignments import chunk_for, store, store_item
from crumb.services.sending.recipients import ReceivedItem
from crumb.store.queries import locks, sending
from crumb.store.queries import planning as ask
from crumb.store.tables import Assignment, PlanDay, PlanRow

_AHEAD = 7
_INSTEAD = (DrillName.CUMULATIVE, DrillName.BACKWARD, DrillName.ALONE)


@dataclass(frozen=True, slots=True)
class PlannedItem:
    """An item of today, with the drill it is practised as."""

    line: TodayItem
    category: str
    session: int
    minutes: int
    why: str
    is_break_after: bool


@dataclass(frozen=True, slots=True)
class PlannedDay:
    """Today in one plan, and the days that follow."""

    plan: PlanRow
    items: tuple[PlannedItem, ...]
    is_laid_out: bool
    minutes: int | None
    """What the student said there are; None: the usual."""
    ahead: tuple[Sitting, ...]
    music: Music
    minutes_a_day: int
    """Of this plan, after what others that share take."""
    week: Week | None


def planned(session: Session, actor: Actor, today: date) -> list[PlannedDay]:
    """A student's day in each of their plans; one that is not laid out yet has no items."""
    found = []
    for row in ask.plans_for(session, sections_of(session, actor.person_id), today):
        try:
            found.append(_day(session, actor, row, today))
        except (NotFound, NoNotation):  # its piece was taken away meanwhile
            continue
    return found


def lay_out_own(session: Session, actor: Actor, plan_id: UUID, today: date) -> None:
    """Lay out a student's day in a plan; a day that is laid out stays as it is.

    Raises:
        NotFound: the student has no such plan, or its piece is gone.
    """
    _lay_out(session, actor, _own(session, actor, plan_id, today), today)


def lay_out(session: Session, one: ask.NotLaidOut) -> None:
    """Lay out a day that nobody has opened yet.

    Raises:
        CrumbError: its piece or its notation is gone.
    """
    row = session.get_one(PlanRow, one.plan_id)
    actor = Actor(one.student_id, row.program_id, Role.STUDENT, time_zone=one.time_zone)
    _lay_out(session, actor, row, one.today)


def have_minutes(
    session: Session, actor: Actor, plan_id: UUID, today: date, minutes: int | None
) -> None:
    """Say how many minutes there are today (0: not today, None: the usual); lay out anew.

    Raises:
        NotFound: the student has no such plan.
        NotAccepted: a number of minutes nobody has.
    """
    _own(session, actor, plan_id, today)
    if minutes is not None and not 0 <= minutes <= 180:
        raise NotAccepted("Say between 0 and 180 minutes.")
    locks.have_student(session, actor.person_id)
    ask.keep_day(session, plan_id, actor.person_id, today, minutes)


def _own(session: Session, actor: Actor, plan_id: UUID, today: date) -> PlanRow:
    for row in ask.plans_for(session, sections_of(session, actor.person_id), today):
        if row.id == plan_id:
            return row
    raise NotFound("You have no such plan.")


def _day(session: Session, actor: Actor, row: PlanRow, today: date) -> PlannedDay:
    wish, music = _music(session, actor, row)
    kept = ask.day_of(session, row.id, actor.person_id, today)
    minutes = kept.minutes if kept is not None else None
    asked = ask_of(
        session, actor, actor.person_id, wish, music, today, kept=row, today_minutes=minutes
    )
    is_laid_out = kept is not None and kept.is_laid_out
    return PlannedDay(
        row,
        tuple(_lines(session, actor, row, kept, today)) if kept is not None else (),
        is_laid_out,
        minutes,
        tuple(sitting for sitting in schedule(asked, _AHEAD + 1) if sitting.day > today),
        music,
        asked.minutes_a_day,
        _week(wish, asked, row, today),
    )


def _music(session: Session, actor: Actor, row: PlanRow) -> tuple[PlanSettings, Music]:
    wish = settings_of(row)
    return wish, music_for(session, load_part(session, actor, row.part_id), wish)


def _lay_out(session: Session, actor: Actor, row: PlanRow, today: date) -> None:
    wish, music = _music(session, actor, row)
    _make_chunks(session, actor, row, wish, music, today)
    locks.have_student(session, actor.person_id)  # two tabs lay out one day
    kept = ask.day_of(session, row.id, actor.person_id, today)
    if kept is not None and kept.is_laid_out:
        return
    minutes = kept.minutes if kept is not None else None
    asked = ask_of(
        session, actor, actor.person_id, wish, music, today, kept=row, today_minutes=minutes
    )
    sittings = schedule(asked, _AHEAD + 1)
    todays = [s for s in sittings if s.day == today] or [Sitting(today, 1, ())]
    there_are = asked.minutes_a_day if minutes is None else minutes
    _lay(session, actor, row, music, todays, kept, there_are, warm_up_of(session, music, sittings))


def _week(wish: PlanSettings, asked: PlanAsk, row: PlanRow, today: date) -> Week | None:
    """The week of the class, if it has a rhythm."""
    if wish.due_weekday is None:
        return None
    return week_on(weeks_of(asked, row.starts_on, wish.due_weekday), today)


def _make_chunks(
    session: Session, actor: Actor, row: PlanRow, wish: PlanSettings, music: Music, today: date
) -> None:
    """Whatever joined chunks and other passages the day is going to want, before anybody is locked.

    Parts are locked before students (``store.queries.locks``): a chunk that is new locks its part.
    """
    kept = ask.day_of(session, row.id, actor.person_id, today)
    if kept is not None and kept.is_laid_out:
        return
    minutes = kept.minutes if kept is not None else None
    asked = ask_of(
        session, actor, actor.person_id, wish, music, today, kept=row, today_minutes=minutes
    )
    for sitting in schedule(asked, 1):
        for item in sitting.items:
            if item.category is not Category.WARM_UP:  # which is a chunk of the map
                chunk_for(session, music.hand, _span(music, item, sitting))


def _lay(
    session: Session,
    actor: Actor,
    row: PlanRow,
    music: Music,
    sittings: Sequence[Sitting],
    before: PlanDay | None,
    there_are: int,
    warm_up: tuple[Span, str],
) -> None:
    """Write a day's items down; what was begun before stays as it is, and takes its minutes."""
    day = before or PlanDay(plan_id=row.id, student_id=actor.person_id, day=sittings[0].day)
    begun = _cleared(session, row, actor.person_id, day.day)
    records = [record for record in day.items or [] if UUID(record["item"]) in begun]
    there_are -= sum(record["minutes"] for record in records)
    assignment = _assignment(row, day.day)
    for sitting in sittings:
        for item in sitting.items:
            is_warm_up = item.category is Category.WARM_UP
            span = warm_up[0] if is_warm_up else _span(music, item, sitting)
            got = None if item.minutes > there_are else _got(music, item, span)
            if got is None or (item.category is Category.FOCUS and span in begun.values()):
                continue
            if assignment not in session:
                store(session, assignment, [actor.person_id])
            kept = store_item(session, assignment.id, len(records), music.hand, got, item.minutes)
            there_are -= item.minutes
            records.append(
                {
                    "item": str(kept.id),
                    "category": item.category.value,
                    "session": sitting.number,
                    "minutes": item.minutes,
                    "why": warm_up[1] if is_warm_up else item.why,
                }
            )
    day.items, day.is_laid_out = records, True
    session.add(day)
    session.flush()


def _cleared(session: Session, row: PlanRow, student_id: UUID, today: date) -> dict[UUID, Span]:
    """What was begun of what the day was before, and where; the rest of it is taken away."""
    before = ask.assignments_of(session, row.id, student_id, today)
    items = sending.items_of(session, [assignment.id for assignment in before])
    old = {item.id: item for listed in items.values() for item in listed}
    begun = ask.begun_on(session, list(old), student_id)
    for item in old.values():
        if item.id not in begun:
            item.removed_at = datetime.now(UTC)
    spans = ask.spans_of(session, [old[i].chunk_id for i in begun])
    return {i: spans[old[i].chunk_id] for i in begun}


def _assignment(row: PlanRow, day: date) -> Assignment:
    return Assignment(
        id=uuid4(),
        sending_id=uuid4(),
        exception="",
        program_id=row.program_id,
        part_id=row.part_id,
        section_id=row.section_id,
        plan_id=row.id,
        due_on=day,
        minutes_a_day=row.minutes_a_day,
        sent_at=datetime.now(UTC),
        withdrawn_at=None,
    )


def _span(music: Music, item: Item, sitting: Sitting) -> Span:
    """The place where an item is played."""
    if item.chunks == (WHOLE,) and music.passages:
        # One passage of an audition a day, each in its turn.
        return music.passages[sitting.day.toordinal() % len(music.passages)][0]
    if item.chunks == (WHOLE,):
        return whole(music.hand.part)
    first, last = music.chunk(item.chunks[0]).span, music.chunk(item.chunks[-1]).span
    if item.drill == SEAMS:
        return first  # the seam at its end
    return Span(first.start, last.end, last.landing)


def _got(music: Music, item: Item, span: Span) -> ReceivedItem | None:
    """An item as it is sent; None if no drill that does its work fits the music."""
    worked = _worked(music, item, span)
    if worked is None:
        return None
    role = ItemRole.UPKEEP if item.category is Category.KEEP else ItemRole.FOCUS
    return ReceivedItem(
        span, "", worked, LadderSettings(worked.start, worked.goal, worked.step), role
    )


def _worked(music: Music, item: Item, span: Span) -> Worked | None:
    """The drill on its span; where the music does not fit it, one that does the same work."""
    for name in _tried(item):
        goal = music.hand.row.goal_bpm if drill_kind(name).at_goal else Fraction(item.end)
        ladder = LadderSettings(Fraction(min(item.start, int(goal))), goal, None, item.minutes)
        try:
            return work_out(music.hand, span, name, {}, ladder)
        except CrumbError:
            continue
    return None


def _tried(item: Item) -> Iterable[str]:
    if item.category in (Category.FOCUS, Category.LINK, Category.KEEP):
        return dict.fromkeys((item.drill, *_INSTEAD))
    return (item.drill,)


def _lines(
    session: Session, actor: Actor, row: PlanRow, kept: PlanDay, today: date
) -> Iterable[PlannedItem]:
    lines: dict[str, TodayItem] = {}
    assignments = ask.assignments_of(session, row.id, actor.person_id, today)
    items = sending.items_of(session, [a.id for a in assignments])
    for assignment in assignments:
        for line in lines_of(session, actor, assignment, items[assignment.id]):
            lines[str(line.item.id)] = line
    told = [record for record in kept.items or [] if record["item"] in lines]
    for _, sitting in groupby(told, key=lambda record: record["session"]):
        records = list(sitting)
        rests = breaks([record["minutes"] for record in records])
        for record, is_break_after in zip(records, rests, strict=True):
            yield PlannedItem(
                lines[record["item"]],
                record["category"],
                record["session"],
                record["minutes"],
                record["why"],
                is_break_after,
            )
