"""Sending chunks and drills to a section."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from crumb.core.plan.sharing import WORTH_STARTING, share_seconds
from crumb.services.bench import LadderSettings, Worked, work_out
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.music import PartInHand, load_part
from crumb.services.people import SectionView, get_section
from crumb.services.splitting import ChunkView, get_chunk
from crumb.services.who import Who
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Mastery,
    Piece,
    PiecePart,
    Section,
)

MOST_ITEMS = 40


@dataclass(frozen=True, slots=True)
class ItemWish:
    """A drill on a chunk as the director chose it."""

    chunk_id: UUID
    drill: str
    settings: Mapping[str, object]
    ladder: LadderSettings


@dataclass(frozen=True, slots=True)
class Wish:
    """What is to be sent to whom until when."""

    part_id: UUID
    section_id: UUID
    due_on: date
    minutes_a_day: int
    items: tuple[ItemWish, ...]
    left_out: frozenset[UUID] = frozenset()


@dataclass(frozen=True, slots=True)
class ItemGot:
    """One line of a student's first day."""

    chunk: ChunkView
    drill: str
    seconds: int
    level: int


@dataclass(frozen=True, slots=True)
class StudentGets:
    """What one student will get."""

    student_id: UUID
    name: str
    items: tuple[ItemGot, ...]
    is_left_out: bool


@dataclass(frozen=True, slots=True)
class Preview:
    """An assignment before it is sent."""

    students: tuple[StudentGets, ...]
    climb_seconds: int
    available_seconds: int
    days: int


def preview(session: Session, who: Who, wish: Wish, today: date) -> Preview:
    """What each student will get on the first day, and whether the climb fits the days there are.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    _, section, worked = _checked(session, who, wish, today)
    levels = _levels(session, [student for student, _ in section.students])
    needs = [w.seconds_left(w.rungs[0]) for _, w in worked]
    shares = share_seconds(wish.minutes_a_day * 60, needs, least=WORTH_STARTING)
    days = (wish.due_on - today).days + 1
    students = tuple(
        StudentGets(
            student_id=student_id,
            name=name,
            is_left_out=student_id in wish.left_out,
            items=tuple(
                ItemGot(chunk, w.drill.name, seconds, levels.get((student_id, chunk.id), 0))
                for (chunk, w), seconds in zip(worked, shares, strict=True)
            ),
        )
        for student_id, name in section.students
    )
    total = -int(-sum(needs, Fraction(0)) // 1)
    return Preview(students, total, days * wish.minutes_a_day * 60, days)


def send(session: Session, who: Who, wish: Wish, today: date) -> Assignment:
    """Store the assignment; from now on its students see it.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    hand, section, worked = _checked(session, who, wish, today)
    receivers = [s for s, _ in section.students if s not in wish.left_out]
    if not receivers:
        raise NotAccepted(f"Nobody is left to send this to in {section.name}.")
    assignment = Assignment(
        id=uuid4(),
        program_id=who.program_id,
        part_id=hand.row.id,
        section_id=section.id,
        due_on=wish.due_on,
        minutes_a_day=wish.minutes_a_day,
        sent_at=datetime.now(UTC),
        withdrawn_at=None,
    )
    session.add(assignment)
    session.flush()
    for place, (item, (_, made)) in enumerate(zip(wish.items, worked, strict=True)):
        session.add(
            AssignmentItem(
                id=uuid4(),
                assignment_id=assignment.id,
                place=place,
                chunk_id=item.chunk_id,
                drill=item.drill,
                settings=made.drill.settings,
                start_bpm=item.ladder.start,
                goal_bpm=item.ladder.goal,
                step_bpm=item.ladder.step,
            )
        )
    for student_id in receivers:
        session.add(AssignmentStudent(assignment_id=assignment.id, student_id=student_id))
    session.commit()
    return assignment


def withdraw(session: Session, who: Who, assignment_id: UUID, *, back: bool = False) -> Assignment:
    """Take an assignment back, or (``back``) bring it back; what was played stays evidence.

    Raises:
        NotFound: not of this program.
    """
    assignment = session.scalar(
        select(Assignment).where(
            Assignment.id == assignment_id, Assignment.program_id == who.program_id
        )
    )
    if assignment is None:
        raise NotFound("There is no such assignment.")
    assignment.withdrawn_at = None if back else datetime.now(UTC)
    session.commit()
    return assignment


@dataclass(frozen=True, slots=True)
class AssignmentView:
    """An assignment in the director's list."""

    assignment: Assignment
    title: str
    part_name: str
    section_name: str
    students: int
    items: tuple[tuple[str, str], ...]


def list_assignments(session: Session, who: Who) -> list[AssignmentView]:
    """All assignments of the program, newest first."""
    rows = session.execute(
        select(Assignment, PiecePart, Piece.title, Section.name)
        .join(PiecePart, PiecePart.id == Assignment.part_id)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .join(Section, Section.id == Assignment.section_id)
        .where(Assignment.program_id == who.program_id)
        .order_by(Assignment.sent_at.desc())
    ).all()
    counted = session.execute(
        select(AssignmentStudent.assignment_id, func.count())
        .join(Assignment, Assignment.id == AssignmentStudent.assignment_id)
        .where(Assignment.program_id == who.program_id)
        .group_by(AssignmentStudent.assignment_id)
    )
    counts = {row[0]: row[1] for row in counted}
    views = []
    for assignment, part, title, section in rows:
        hand = load_part(session, who, part.id)
        items = session.scalars(
            select(AssignmentItem)
            .where(AssignmentItem.assignment_id == assignment.id)
            .order_by(AssignmentItem.place)
        ).all()
        named = tuple((get_chunk(session, hand, i.chunk_id).label, i.drill) for i in items)
        views.append(
            AssignmentView(
                assignment, title, part.name, section, counts.get(assignment.id, 0), named
            )
        )
    return views


def worked_item(session: Session, hand: PartInHand, item: AssignmentItem) -> Worked:
    """A stored item worked out."""
    chunk = get_chunk(session, hand, item.chunk_id)
    tempo = LadderSettings(item.start_bpm, item.goal_bpm, item.step_bpm)
    return work_out(hand, chunk.span, item.drill, item.settings, tempo)


def _checked(
    session: Session, who: Who, wish: Wish, today: date
) -> tuple[PartInHand, SectionView, Sequence[tuple[ChunkView, Worked]]]:
    hand = load_part(session, who, wish.part_id)
    section = get_section(session, who, wish.section_id)
    if wish.due_on < today:
        raise NotAccepted("The due date has passed already.")
    if (wish.due_on - today).days > 366:
        raise NotAccepted("The due date is more than a year away.")
    if not 5 <= wish.minutes_a_day <= 120:
        raise NotAccepted("Ask for between 5 and 120 minutes a day.")
    if not wish.items:
        raise NotAccepted("Choose at least one chunk and a drill for it.")
    if len(wish.items) > MOST_ITEMS:
        raise NotAccepted(f"That is more than {MOST_ITEMS} drills at once; send fewer.")
    if not section.students:
        raise NotAccepted(f"There is nobody in {section.name} yet.")
    worked = []
    for item in wish.items:
        chunk = get_chunk(session, hand, item.chunk_id)
        worked.append((chunk, work_out(hand, chunk.span, item.drill, item.settings, item.ladder)))
    return hand, section, worked


def _levels(session: Session, students: Sequence[UUID]) -> dict[tuple[UUID, UUID], int]:
    rows = session.execute(
        select(Mastery.student_id, Mastery.chunk_id, Mastery.level).where(
            Mastery.student_id.in_(students)
        )
    )
    return {(student, chunk): level for student, chunk, level in rows}
