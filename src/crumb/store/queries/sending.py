"""Queries of assignments, their drills as they were sent, and their receivers."""

from collections.abc import Iterable, Sequence
from datetime import date
from hashlib import sha256
from typing import NamedTuple
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill, SentStep
from crumb.store import tables as t
from crumb.store.codecs.sent import drill_from_json, step_from_row, steps_to_rows


class ByHand(NamedTuple):
    """An assignment that a director sent, with the names of what it is about."""

    assignment: t.Assignment
    title: str
    part: str
    section: str


def by_hand(
    session: Session,
    program_id: UUID,
    *,
    since: date = date.min,
    before: date = date.max,
    most: int | None = None,
) -> list[ByHand]:
    """Assignments that directors sent by hand and that are due in some days, the newest first."""
    rows = session.execute(
        select(t.Assignment, t.Piece.title, t.PiecePart.name, t.Section.name)
        .join(t.PiecePart, t.PiecePart.id == t.Assignment.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .join(t.Section, t.Section.id == t.Assignment.section_id)
        .where(
            t.Assignment.program_id == program_id,
            t.Assignment.plan_id.is_(None),
            t.Assignment.due_on >= since,
            t.Assignment.due_on < before,
            t.Piece.deleted_at.is_(None),
        )
        .order_by(t.Assignment.sent_at.desc(), t.Section.name, t.Assignment.exception)
        .limit(most)
    )
    return [ByHand(*row) for row in rows]


def assignment_in(session: Session, program_id: UUID, assignment_id: UUID) -> t.Assignment | None:
    """An assignment of a program."""
    return session.scalar(
        select(t.Assignment).where(
            t.Assignment.id == assignment_id, t.Assignment.program_id == program_id
        )
    )


def sent_with(session: Session, one: t.Assignment) -> Sequence[t.Assignment]:
    """All that was sent in one go with an assignment, itself too."""
    return session.scalars(
        select(t.Assignment).where(
            t.Assignment.sending_id == one.sending_id, t.Assignment.program_id == one.program_id
        )
    ).all()


def receivers(session: Session, assignment_ids: Sequence[UUID]) -> dict[UUID, int]:
    """How many were sent each."""
    rows = session.execute(
        select(t.AssignmentStudent.assignment_id, func.count())
        .where(t.AssignmentStudent.assignment_id.in_(assignment_ids))
        .group_by(t.AssignmentStudent.assignment_id)
    )
    return {row[0]: row[1] for row in rows}


def items_of(
    session: Session, assignment_ids: Sequence[UUID], *, with_removed: bool = False
) -> dict[UUID, list[t.AssignmentItem]]:
    """Items of assignments, in their order; with removed ones if wished."""
    asked = select(t.AssignmentItem).where(t.AssignmentItem.assignment_id.in_(assignment_ids))
    if not with_removed:
        asked = asked.where(t.AssignmentItem.removed_at.is_(None))
    found: dict[UUID, list[t.AssignmentItem]] = {i: [] for i in assignment_ids}
    for item in session.scalars(asked.order_by(t.AssignmentItem.place)):
        found[item.assignment_id].append(item)
    return found


def item_in(session: Session, program_id: UUID, item_id: UUID) -> t.AssignmentItem | None:
    """A drill of an assignment of a program."""
    return session.scalar(
        select(t.AssignmentItem)
        .join(t.Assignment, t.Assignment.id == t.AssignmentItem.assignment_id)
        .where(t.AssignmentItem.id == item_id, t.Assignment.program_id == program_id)
    )


def last_place(session: Session, assignment_id: UUID) -> int:
    """The place of the last drill of an assignment, of those taken out too; 0 without any."""
    last = session.scalar(
        select(func.max(t.AssignmentItem.place)).where(
            t.AssignmentItem.assignment_id == assignment_id
        )
    )
    return last or 0


def sent_as(
    session: Session,
    student_id: UUID,
    beside: t.Assignment,
    *,
    chunk_id: UUID,
    drill: str,
    exception: str,
) -> UUID | None:
    """A drill on a chunk that a student has beside another assignment, by its exception."""
    return session.scalar(
        select(t.AssignmentItem.id)
        .join(t.Assignment, t.Assignment.id == t.AssignmentItem.assignment_id)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .where(
            t.AssignmentStudent.student_id == student_id,
            t.Assignment.part_id == beside.part_id,
            t.Assignment.due_on == beside.due_on,
            t.Assignment.withdrawn_at.is_(None),
            t.Assignment.exception == exception,
            t.AssignmentItem.chunk_id == chunk_id,
            t.AssignmentItem.drill == drill,
            t.AssignmentItem.removed_at.is_(None),
        )
        .limit(1)
    )


def drill_of(item: t.AssignmentItem) -> SentDrill:
    """A drill as it was sent, without its steps."""
    assert item.frozen is not None, "frozen when it was sent, or by the upgrade"
    return drill_from_json(item.frozen)


def steps_of(session: Session, item_id: UUID) -> list[SentStep]:
    """The steps of a drill as they were sent."""
    rows = session.scalars(
        select(t.SentStep).where(t.SentStep.item_id == item_id).order_by(t.SentStep.place)
    )
    return [step_from_row(row) for row in rows]


def keep_notation(session: Session, xml: str) -> str:
    """Keep notation under the hash of its text; the key."""
    key = sha256(xml.encode()).hexdigest()
    session.execute(
        insert(t.Notation).values(key=key, xml=xml).on_conflict_do_nothing(index_elements=["key"])
    )
    return key


def notations(session: Session, keys: Iterable[str | None]) -> dict[str, str]:
    """Notation by its key."""
    wanted = {key for key in keys if key}
    rows = session.execute(select(t.Notation.key, t.Notation.xml).where(t.Notation.key.in_(wanted)))
    return {row[0]: row[1] for row in rows}


def store_steps(session: Session, item_id: UUID, steps: Sequence[SentStep]) -> None:
    """Write the steps of a drill that is being sent."""
    if steps:
        session.execute(
            insert(t.SentStep).on_conflict_do_nothing(index_elements=["item_id", "place"]),
            steps_to_rows(item_id, steps),
        )


def has_part(session: Session, student_id: UUID, part_id: UUID) -> bool:
    """Whether a student has anything of a part that was not taken back."""
    found = (
        select(t.Assignment.id)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .where(
            t.Assignment.part_id == part_id,
            t.Assignment.withdrawn_at.is_(None),
            t.AssignmentStudent.student_id == student_id,
        )
        .limit(1)
    )
    return session.scalar(found) is not None


def having_part(session: Session, part_id: UUID) -> set[UUID]:
    """Students who have an assignment of a part that was not withdrawn."""
    return set(
        session.scalars(
            select(t.AssignmentStudent.student_id)
            .join(t.Assignment, t.Assignment.id == t.AssignmentStudent.assignment_id)
            .where(t.Assignment.part_id == part_id, t.Assignment.withdrawn_at.is_(None))
        )
    )


def next_due(session: Session, part_id: UUID, today: date) -> date | None:
    """The next day on which something of a part is due."""
    return session.scalar(
        select(func.min(t.Assignment.due_on)).where(
            t.Assignment.part_id == part_id,
            t.Assignment.withdrawn_at.is_(None),
            t.Assignment.due_on >= today,
        )
    )


def drills_since(session: Session, chunk_id: UUID, day: date) -> list[tuple[str, date]]:
    """Drills that anybody played on a chunk from a day on, and on which days."""
    rows = session.execute(
        select(t.AssignmentItem.drill, t.Evidence.local_day)
        .join(t.Evidence, t.Evidence.item_id == t.AssignmentItem.id)
        .where(t.AssignmentItem.chunk_id == chunk_id, t.Evidence.local_day >= day)
        .distinct()
    )
    return sorted((drill, played) for drill, played in rows)


def sending_of(session: Session, program_id: UUID, assignment_id: UUID) -> UUID | None:
    """With what an assignment of a program was sent."""
    one = assignment_in(session, program_id, assignment_id)
    return None if one is None else one.sending_id


def parts_played(
    session: Session, piece_id: UUID, students: Iterable[UUID]
) -> dict[UUID, dict[UUID, str]]:
    """Parts of a piece that students were ever sent, by id and name."""
    rows = session.execute(
        select(t.AssignmentStudent.student_id, t.PiecePart.id, t.PiecePart.name)
        .join(t.Assignment, t.Assignment.id == t.AssignmentStudent.assignment_id)
        .join(t.PiecePart, t.PiecePart.id == t.Assignment.part_id)
        .where(t.PiecePart.piece_id == piece_id, t.AssignmentStudent.student_id.in_(list(students)))
        .distinct()
    )
    found: dict[UUID, dict[UUID, str]] = {}
    for student_id, part_id, name in rows:
        found.setdefault(student_id, {})[part_id] = name
    return found


def not_frozen(session: Session) -> Sequence[UUID]:
    """Drills that were sent before sending wrote down what each was."""
    query = select(t.AssignmentItem.id).where(t.AssignmentItem.frozen.is_(None))
    return session.scalars(query).all()


def assignment_with(
    session: Session, program_id: UUID, student_id: UUID, item_id: UUID
) -> t.Assignment | None:
    """The assignment of an item, if the student was sent it."""
    return session.scalar(
        select(t.Assignment)
        .join(t.AssignmentItem, t.AssignmentItem.assignment_id == t.Assignment.id)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .where(
            t.AssignmentItem.id == item_id,
            t.AssignmentStudent.student_id == student_id,
            t.Assignment.program_id == program_id,
        )
    )


def open_for(
    session: Session, program_id: UUID, student_id: UUID, due_since: date
) -> Sequence[t.Assignment]:
    """A student's assignments that were sent by hand and stand, earliest due date first."""
    return session.scalars(
        select(t.Assignment)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .join(t.PiecePart, t.PiecePart.id == t.Assignment.part_id)
        .join(t.Piece, t.Piece.id == t.PiecePart.piece_id)
        .where(
            t.AssignmentStudent.student_id == student_id,
            t.Assignment.program_id == program_id,
            t.Assignment.withdrawn_at.is_(None),
            t.Assignment.plan_id.is_(None),
            t.Assignment.due_on >= due_since,
            t.Piece.deleted_at.is_(None),
        )
        .order_by(t.Assignment.due_on, t.Assignment.sent_at)
    ).all()
