"""A student's day in a plan: laid out once, kept steady, and ready to be practised.

What the plan asks for is written down like anything that is sent, so that a repetition of it is
what it was then. A day is laid out anew when the minutes change or the plan does; what was begun
stays as it is.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.drills import drill_kind
from crumb.core.errors import CrumbError
from crumb.core.plan.laying import laid_out
from crumb.core.plan.model import WHOLE, Category, Item, PlanAsk
from crumb.core.plan.model import Session as Sitting
from crumb.core.score.position import Span, whole
from crumb.services.drills.working import LadderSettings, Worked, work_out
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import load_part
from crumb.services.people.roster import sections_of
from crumb.services.planning.knowing import Music, music_of, states_of
from crumb.services.planning.wishes import ask_for, wish_of
from crumb.services.practice.today import TodayItem, lines_of
from crumb.services.sending.assigning import chunk_for
from crumb.services.sending.freezing import store_frozen
from crumb.services.who import Role, Who
from crumb.store.queries import locks, sending
from crumb.store.queries import planning as ask
from crumb.store.tables import Assignment, AssignmentItem, AssignmentStudent, PlanDay, PlanRow

_AHEAD = 7
_INSTEAD = ("cumulative", "backward", "alone")


@dataclass(frozen=True, slots=True)
class PlannedItem:
    """An item of today, with the drill it is practised as."""

    line: TodayItem
    category: str
    session: int
    minutes: int
    why: str


@dataclass(frozen=True, slots=True)
class PlannedDay:
    """Today in one plan, and the days that follow."""

    plan: PlanRow
    items: tuple[PlannedItem, ...]
    minutes: int | None
    """What the student said there are; None: the usual."""
    ahead: tuple[Sitting, ...]
    music: Music


def planned(session: Session, who: Who, today: date) -> list[PlannedDay]:
    """A student's day in each of their plans, laid out now if it was not yet."""
    found = []
    for row in ask.plans_for(session, sections_of(session, who.person_id), today):
        try:
            found.append(_day(session, who, row, today))
        except NotFound:  # its piece was taken away meanwhile
            continue
    session.commit()
    return found


def lay_ahead(session: Session, most: int) -> int:
    """Lay out some days of today that nobody has opened yet, so that they are there at once.

    Returns:
        How many there were.
    """
    found = ask.not_laid_out(session, most)
    for one in found:
        row = session.get_one(PlanRow, one.plan_id)
        who = Who(one.student_id, row.program_id, Role.STUDENT, time_zone=one.time_zone)
        try:
            _day(session, who, row, one.today)
        except CrumbError:  # its piece or its notation is gone: there is nothing to lay out
            session.rollback()
            ask.keep_nothing(session, one.plan_id, one.student_id, one.today)
        session.commit()
    return len(found)


def have_minutes(
    session: Session, who: Who, plan_id: UUID, today: date, minutes: int | None
) -> None:
    """Say how many minutes there are today (0: not today, None: the usual); lay out anew.

    Raises:
        NotFound: the student has no such plan.
        NotAccepted: a number of minutes nobody has.
    """
    mine = ask.plans_for(session, sections_of(session, who.person_id), today)
    if all(row.id != plan_id for row in mine):
        raise NotFound("You have no such plan.")
    if minutes is not None and not 0 <= minutes <= 180:
        raise NotAccepted("Say between 0 and 180 minutes.")
    locks.have_student(session, who.person_id)
    ask.keep_day(session, plan_id, who.person_id, today, minutes)
    session.commit()


def _day(session: Session, who: Who, row: PlanRow, today: date) -> PlannedDay:
    hand = load_part(session, who, row.part_id)
    music = music_of(session, hand, row.section_id)
    locks.have_student(session, who.person_id)  # two tabs lay out one day
    kept = ask.day_of(session, row.id, who.person_id, today)
    states = states_of(session, music, who.person_id, today)
    minutes = kept.minutes if kept is not None else None
    wished = ask_for(wish_of(row), music, states, today, today_minutes=minutes)
    sittings = laid_out(wished)
    if kept is None or kept.items is None:
        _lay(session, who, row, music, wished, sittings, minutes)
        kept = ask.day_of(session, row.id, who.person_id, today)
        assert kept is not None
    ahead = tuple(s for s in sittings if s.day > today)
    shown = sorted({s.day for s in ahead})[:_AHEAD]
    return PlannedDay(
        row,
        tuple(_lines(session, who, row, kept, today)),
        minutes,
        tuple(s for s in ahead if s.day in shown),
        music,
    )


def _lay(
    session: Session,
    who: Who,
    row: PlanRow,
    music: Music,
    wished: PlanAsk,
    sittings: Sequence[Sitting],
    minutes: int | None,
) -> None:
    """Write today's items down; what was begun before stays, and takes its minutes."""
    today = wished.today
    begun = _cleared(session, row, who.person_id, today)
    there_are = wished.minutes_a_day if minutes is None else minutes
    there_are -= sum(item.minutes or 0 for item in begun)
    played = {item.chunk_id for item in begun}
    records = [_record(item) for item in begun]
    assignment = _assignment(session, who, row, today, wished.minutes_a_day)
    place = 0
    for sitting in (s for s in sittings if s.day == today):
        for wanted in sitting.items:
            span = _span(music, wanted)
            if span is None or there_are < wanted.minutes:
                continue
            chunk_id = chunk_for(session, music.hand, span)
            if chunk_id in played and wanted.category is Category.FOCUS:
                continue
            stored = _item(session, music, wanted, span, chunk_id, assignment, place)
            if stored is not None:
                there_are -= wanted.minutes
                place += 1
                records.append(_written(stored.id, wanted, sitting.number))
    if not place:
        assignment.withdrawn_at = datetime.now(UTC)
    kept = ask.day_of(session, row.id, who.person_id, today)
    if kept is None:
        kept = PlanDay(plan_id=row.id, student_id=who.person_id, day=today, minutes=minutes)
        session.add(kept)
    kept.items = records
    kept.made_at = datetime.now(UTC)
    session.flush()


def _cleared(session: Session, row: PlanRow, student_id: UUID, today: date) -> list[AssignmentItem]:
    """What was begun of what the day was before; the rest of it is taken away."""
    before = ask.assignments_of(session, row.id, student_id, today)
    items = sending.items_of(session, [assignment.id for assignment in before])
    old = [item for listed in items.values() for item in listed]
    begun = ask.begun_on(session, [item.id for item in old], student_id)
    for item in old:
        if item.id not in begun:
            item.removed_at = datetime.now(UTC)
    return [item for item in old if item.id in begun]


def _written(item_id: UUID, item: Item, sitting: int) -> dict[str, Any]:
    return {
        "item": str(item_id),
        "category": item.category.value,
        "session": sitting,
        "minutes": item.minutes,
        "why": item.why,
    }


def _record(item: AssignmentItem) -> dict[str, Any]:
    """An item that was begun before the day was laid out anew."""
    return {
        "item": str(item.id),
        "category": "keep" if item.role == "upkeep" else "focus",
        "session": 1,
        "minutes": item.minutes or 0,
        "why": item.note or "Begun before.",
    }


def _assignment(session: Session, who: Who, row: PlanRow, today: date, minutes: int) -> Assignment:
    made = Assignment(
        id=uuid4(),
        sending_id=uuid4(),
        exception="",
        program_id=row.program_id,
        part_id=row.part_id,
        section_id=row.section_id,
        plan_id=row.id,
        due_on=today,
        minutes_a_day=minutes,
        sent_at=datetime.now(UTC),
        withdrawn_at=None,
    )
    session.add(made)
    session.flush()
    session.add(AssignmentStudent(assignment_id=made.id, student_id=who.person_id))
    session.flush()
    return made


def _span(music: Music, item: Item) -> Span | None:
    if item.chunks == (WHOLE,):
        if item.category is Category.WARM_UP:
            return music.chunks[0].span if music.chunks else None
        return whole(music.hand.part)
    first, last = music.chunk(item.chunks[0]), music.chunk(item.chunks[-1])
    if item.category is Category.LINK and item.drill == "seams":
        return first.span  # the seam at its end
    return Span(first.span.start, last.span.end, last.span.landing)


def _item(
    session: Session,
    music: Music,
    item: Item,
    span: Span,
    chunk_id: UUID,
    assignment: Assignment,
    place: int,
) -> AssignmentItem | None:
    worked = _worked(music, item, span)
    if worked is None:
        return None
    row = AssignmentItem(
        id=uuid4(),
        assignment_id=assignment.id,
        place=place,
        chunk_id=chunk_id,
        drill=worked.drill.name,
        settings=worked.drill.settings,
        start_bpm=worked.start,
        goal_bpm=worked.goal,
        step_bpm=worked.step,
        role="upkeep" if item.category is Category.KEEP else "focus",
        minutes=item.minutes,
        note="",
    )
    session.add(row)
    store_frozen(session, row, music.hand.part, worked)
    return row


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
    session: Session, who: Who, row: PlanRow, kept: PlanDay, today: date
) -> Iterable[PlannedItem]:
    told = {UUID(r["item"]): r for r in kept.items or []}
    lines: dict[UUID, TodayItem] = {}
    assignments = ask.assignments_of(session, row.id, who.person_id, today)
    items = sending.items_of(session, [a.id for a in assignments])
    for assignment in assignments:
        for line in lines_of(session, who, assignment, items[assignment.id]):
            lines[line.item.id] = line
    for item_id, record in told.items():
        here = lines.get(item_id)
        if here is not None:
            yield PlannedItem(
                here, record["category"], record["session"], record["minutes"], record["why"]
            )
