"""Queries of the planner: kin, practice, minutes, slips; and the plans themselves."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from uuid import UUID

from sqlalchemy import func, or_, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Source, What
from crumb.core.plan.time_spent import Spent
from crumb.core.score.position import Span
from crumb.core.vocabulary import KinVerdict
from crumb.store.codecs.evidence import span_from
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Chunk,
    Evidence,
    KinLink,
    Person,
    Piece,
    PiecePart,
    PlanDay,
    PlanRow,
    Program,
    Retraction,
    Section,
    SentStep,
    SlipPlace,
)

_SPAN = (Evidence.start_index, Evidence.start_at, Evidence.end_index, Evidence.end_at)

Range = tuple[int, int]


@dataclass(frozen=True, slots=True)
class Slip:
    """How often one span slipped."""

    span: Span
    count: int


def confirmed_kin(session: Session, part_id: UUID) -> list[tuple[Range, Range]]:
    """Measures, first and last, of the twins inside a part that the director confirmed."""
    rows = session.execute(
        select(KinLink.a_first, KinLink.a_last, KinLink.b_first, KinLink.b_last).where(
            KinLink.a_part_id == part_id,
            KinLink.b_part_id == part_id,
            KinLink.verdict == KinVerdict.CONFIRMED,
        )
    )
    return [((row[0], row[1]), (row[2], row[3])) for row in rows]


Students = Sequence[UUID]


def drills_done(
    session: Session, students: Students, chunk_ids: Sequence[UUID], since: date
) -> dict[tuple[UUID, UUID], list[tuple[str, date]]]:
    """Drills that students did on chunks, and on which days: by student and chunk."""
    rows = session.execute(
        select(
            Evidence.student_id,
            AssignmentItem.chunk_id,
            AssignmentItem.drill,
            Evidence.local_day,
        )
        .join(Evidence, Evidence.item_id == AssignmentItem.id)
        .where(
            Evidence.student_id.in_(students),
            AssignmentItem.chunk_id.in_(chunk_ids),
            Evidence.local_day >= since,
        )
        .distinct()
    )
    found: dict[tuple[UUID, UUID], list[tuple[str, date]]] = {}
    for student_id, chunk_id, drill, day in rows:
        found.setdefault((student_id, chunk_id), []).append((drill, day))
    return found


def played_on(session: Session, students: Students, part_id: UUID) -> dict[UUID, list[Spent]]:
    """Repetitions on a part, each with span, tempo and length."""
    by = (Evidence.student_id, *_SPAN, Evidence.tempo_bpm, SentStep.quarters)
    rows = session.execute(
        select(*by, func.count())
        .outerjoin(
            SentStep, (SentStep.item_id == Evidence.item_id) & (SentStep.place == Evidence.step)
        )
        .where(
            Evidence.student_id.in_(students),
            Evidence.part_id == part_id,
            Evidence.what == What.REPETITION,
            Evidence.source != Source.REHEARSED,
        )
        .group_by(*by)
    )
    found: dict[UUID, list[Spent]] = {student_id: [] for student_id in students}
    for row in rows:
        found[row[0]].append(Spent(span_from(*row[1:5]), row[5], row[6], row[7]))
    return found


def slips_on(
    session: Session, students: Students, part_id: UUID, since: date
) -> dict[UUID, list[Slip]]:
    """What slipped on a part of late, by student and span; without those whose place was told."""
    told = select(SlipPlace.id).where(
        SlipPlace.evidence_id == Evidence.id, SlipPlace.at_index.is_not(None)
    )
    rows = session.execute(
        select(Evidence.student_id, *_SPAN, func.count())
        .outerjoin(Retraction, Retraction.evidence_id == Evidence.id)
        .where(
            Evidence.student_id.in_(students),
            Evidence.part_id == part_id,
            Evidence.is_clean.is_(False),
            Evidence.local_day >= since,
            Retraction.evidence_id.is_(None),
            ~told.exists(),
        )
        .group_by(Evidence.student_id, *_SPAN)
    )
    found: dict[UUID, list[Slip]] = {student_id: [] for student_id in students}
    for row in rows:
        found[row[0]].append(Slip(span_from(*row[1:5]), row[5]))
    return found


# Plans ------------------------------------------------------------------------------------------


def plans_of(session: Session, program_id: UUID) -> list[tuple[PlanRow, str, str, str]]:
    """Plans of a program, the next date first, withdrawn ones last until their date has come.

    Each with the titles of its piece and part, and its section's name; one whose piece was taken
    away is none.
    """
    rows = session.execute(
        select(PlanRow, Piece.title, PiecePart.name, Section.name)
        .join(PiecePart, PiecePart.id == PlanRow.part_id)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .join(Section, Section.id == PlanRow.section_id)
        .where(
            PlanRow.program_id == program_id,
            or_(PlanRow.withdrawn_at.is_(None), PlanRow.ends_on >= func.current_date()),
            Piece.deleted_at.is_(None),
        )
        .order_by(PlanRow.withdrawn_at.is_not(None), PlanRow.ends_on, PlanRow.made_at)
    )
    return [(row[0], row[1], row[2], row[3]) for row in rows]


def plan_row(session: Session, program_id: UUID, plan_id: UUID) -> PlanRow | None:
    """One of a program."""
    return session.scalar(
        select(PlanRow).where(PlanRow.id == plan_id, PlanRow.program_id == program_id)
    )


def plans_for(session: Session, section_ids: Sequence[UUID], today: date) -> Sequence[PlanRow]:
    """Plans in force for sections, the next date first."""
    return session.scalars(
        select(PlanRow)
        .where(
            PlanRow.section_id.in_(section_ids),
            PlanRow.withdrawn_at.is_(None),
            PlanRow.starts_on <= today,
            PlanRow.ends_on > today,
        )
        .order_by(PlanRow.ends_on, PlanRow.made_at)
    ).all()


def in_force(session: Session, part_id: UUID, section_id: UUID, today: date) -> PlanRow | None:
    """The plan a section has for a part."""
    return session.scalar(
        select(PlanRow).where(
            PlanRow.part_id == part_id,
            PlanRow.section_id == section_id,
            PlanRow.withdrawn_at.is_(None),
            PlanRow.ends_on > today,
        )
    )


def day_of(session: Session, plan_id: UUID, student_id: UUID, day: date) -> PlanDay | None:
    """A student's day, if it was laid out or spoken of."""
    return session.get(PlanDay, (plan_id, student_id, day))


def keep_day(
    session: Session, plan_id: UUID, student_id: UUID, day: date, minutes: int | None
) -> None:
    """Say how many minutes there are on a day (None: the usual); it is laid out anew."""
    values = {"minutes": minutes, "is_laid_out": False}
    session.execute(
        insert(PlanDay)
        .values(plan_id=plan_id, student_id=student_id, day=day, **values)
        .on_conflict_do_update(index_elements=["plan_id", "student_id", "day"], set_=values)
    )


def lay_out_anew(session: Session, plan_id: UUID, since: date) -> None:
    """Withdraw the days of a plan that were laid out from a day on."""
    session.execute(
        update(PlanDay)
        .where(PlanDay.plan_id == plan_id, PlanDay.day >= since)
        .values(is_laid_out=False)
    )


def spans_of(session: Session, chunk_ids: Sequence[UUID]) -> dict[UUID, Span]:
    """Spans of some chunks."""
    rows = session.scalars(select(Chunk).where(Chunk.id.in_(chunk_ids)))
    return {
        row.id: replace(
            span_from(row.start_index, row.start_at, row.end_index, row.end_at),
            landing=row.landing,
        )
        for row in rows
    }


def assignments_of(
    session: Session, plan_id: UUID, student_id: UUID, day: date
) -> Sequence[Assignment]:
    """A plan's assignment for a student on a day."""
    return session.scalars(
        select(Assignment)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .where(
            Assignment.plan_id == plan_id,
            AssignmentStudent.student_id == student_id,
            Assignment.due_on == day,
            Assignment.withdrawn_at.is_(None),
        )
        .order_by(Assignment.sent_at)
    ).all()


def begun_on(session: Session, item_ids: Sequence[UUID], student_id: UUID) -> set[UUID]:
    """Which of some drills a student has played on."""
    rows = session.scalars(
        select(Evidence.item_id)
        .where(Evidence.item_id.in_(item_ids), Evidence.student_id == student_id)
        .distinct()
    )
    return {item_id for item_id in rows if item_id is not None}


_NOT_LAID_OUT = """
select w.id, w.student_id, w.time_zone, w.today from (
  select p.id, m.person_id as student_id, g.time_zone, p.starts_on, p.ends_on,
    (now() at time zone g.time_zone)::date as today
  from plan p join program g on g.id = p.program_id
    join section_member m on m.section_id = p.section_id
  where p.withdrawn_at is null) w
  left join plan_day d on d.plan_id = w.id and d.student_id = w.student_id and d.day = w.today
where d.is_laid_out is not true and w.starts_on <= w.today and w.ends_on > w.today
order by w.id, w.student_id limit :most
"""


@dataclass(frozen=True, slots=True)
class NotLaidOut:
    """A student's day in a plan that is still to be laid out."""

    plan_id: UUID
    student_id: UUID
    time_zone: str
    today: date


def not_laid_out(session: Session, most: int) -> list[NotLaidOut]:
    """Some of today's days that are not laid out yet."""
    return [NotLaidOut(*row) for row in session.execute(text(_NOT_LAID_OUT), {"most": most})]


def keep_nothing(session: Session, plan_id: UUID, student_id: UUID, day: date) -> None:
    """A day on which there is nothing to do."""
    keep_day(session, plan_id, student_id, day, None)
    session.execute(
        update(PlanDay)
        .where(PlanDay.plan_id == plan_id, PlanDay.student_id == student_id, PlanDay.day == day)
        .values(items=[], is_laid_out=True)
    )


# Calendars --------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class CalendarOwner:
    """The owner of a calendar feed."""

    person_id: UUID
    program_id: UUID
    role: str
    name: str
    time_zone: str


def calendar_key(session: Session, person_id: UUID) -> str | None:
    """The key of somebody's calendar, if they asked for one."""
    return session.scalar(select(Person.calendar_key).where(Person.id == person_id))


def keep_calendar_key(session: Session, person_id: UUID, key: str | None) -> None:
    """Another key, or none."""
    session.execute(update(Person).where(Person.id == person_id).values(calendar_key=key))


def calendar_owner(session: Session, key: str) -> CalendarOwner | None:
    """The owner of a key."""
    row = session.execute(
        select(Person.id, Person.program_id, Person.role, Person.name, Program.time_zone)
        .join(Program, Program.id == Person.program_id)
        .where(Person.calendar_key == key)
    ).one_or_none()
    return None if row is None else CalendarOwner(*row)
