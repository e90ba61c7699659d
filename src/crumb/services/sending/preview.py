"""Preview of an assignment: what each student gets on the first day."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.plan.minute_shares import WORTH_STARTING, share_seconds
from crumb.services.access import Actor
from crumb.services.sending.assignment_request import AssignmentRequest, requested_groups
from crumb.services.sending.recipients import ReceivedItem, RecipientGroup, level_on, levels_of
from crumb.store.queries import sending


@dataclass(frozen=True, slots=True)
class Line:
    """A line of a student's first day."""

    chunk: str
    drill: str
    seconds: int
    level: int
    role: str
    note: str


@dataclass(frozen=True, slots=True)
class StudentGets:
    """The drills that one student will get."""

    student_id: UUID
    name: str
    section: str
    part: str
    lines: tuple[Line, ...]
    is_left_out: bool
    exception: str
    due_on: date
    why_nothing: str
    plays: str = ""
    """Another part of the piece, if that is what they were sent before and never this one."""


@dataclass(frozen=True, slots=True)
class Preview:
    """An assignment before it is sent."""

    students: tuple[StudentGets, ...]
    climb_seconds: int
    available_seconds: int
    days: int


def preview(session: Session, actor: Actor, wish: AssignmentRequest, today: date) -> Preview:
    """The first day of each student, and whether the climb fits the days there are.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    found = requested_groups(session, actor, wish, today)
    students: list[StudentGets] = []
    played = _played(session, found)
    for bundle in found:
        levels = levels_of(session, bundle.reading, [s for s, _ in bundle.students])
        needs = [item.worked.seconds_left(item.worked.rungs[0]) for item in bundle.items]
        shares = share_seconds(wish.minutes_a_day * 60, needs, least=WORTH_STARTING)
        students += [
            StudentGets(
                student_id=student_id,
                name=name,
                section=bundle.section.name,
                part=bundle.reading.row.name,
                lines=tuple(
                    _line(item, seconds, level_on(levels, student_id, item.span))
                    for item, seconds in zip(bundle.items, shares, strict=True)
                ),
                is_left_out=student_id in wish.left_out,
                exception=bundle.exception,
                due_on=bundle.due_on,
                why_nothing=bundle.why_nothing,
                plays=_elsewhere(played.get(student_id, {}), bundle.reading.row.id),
            )
            for student_id, name in bundle.students
        ]
    days = (wish.due_on - today).days + 1
    longest = max(
        (
            sum((i.worked.seconds_left(i.worked.rungs[0]) for i in b.items), Fraction(0))
            for b in found
        ),
        default=Fraction(0),
    )
    return Preview(
        tuple(sorted(students, key=lambda s: (s.section, s.name))),
        -int(-longest // 1),
        days * wish.minutes_a_day * 60,
        days,
    )


def _played(session: Session, found: Sequence[RecipientGroup]) -> dict[UUID, dict[UUID, str]]:
    students = [student for bundle in found for student, _ in bundle.students]
    pieces = {bundle.reading.row.piece_id for bundle in found}
    played: dict[UUID, dict[UUID, str]] = {}
    for piece_id in pieces:
        played.update(sending.parts_played(session, piece_id, students))
    return played


def _elsewhere(parts: Mapping[UUID, str], part_id: UUID) -> str:
    """The other part that a member of a divided section plays, if any."""
    return "" if part_id in parts else ", ".join(sorted(parts.values()))


def _line(item: ReceivedItem, seconds: int, level: int) -> Line:
    return Line(item.label, item.worked.drill.name, seconds, level, item.role, item.note)
