"""What was sent: drills as they were sent, and whose they are."""

from collections.abc import Iterable, Sequence
from datetime import datetime
from hashlib import sha256
from typing import Any, NamedTuple
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill, SentStep
from crumb.store import tables as t
from crumb.store.codecs.sent import drill_from_json, step_from_row, steps_to_rows


class SentItem(NamedTuple):
    """A drill that was sent to a student: where it belongs and what it was."""

    id: UUID
    assignment_id: UUID
    part_id: UUID
    chunk_id: UUID
    sent_at: datetime
    frozen: dict[str, Any] | None


def sent_items(
    session: Session, program_id: UUID, student_id: UUID, item_ids: Iterable[UUID]
) -> dict[UUID, SentItem]:
    """Those of some drills that were sent to this student."""
    rows = session.execute(
        select(
            t.AssignmentItem.id,
            t.Assignment.id,
            t.Assignment.part_id,
            t.AssignmentItem.chunk_id,
            t.Assignment.sent_at,
            t.AssignmentItem.frozen,
        )
        .join(t.Assignment, t.Assignment.id == t.AssignmentItem.assignment_id)
        .join(t.AssignmentStudent, t.AssignmentStudent.assignment_id == t.Assignment.id)
        .where(
            t.AssignmentItem.id.in_(list(item_ids)),
            t.AssignmentStudent.student_id == student_id,
            t.Assignment.program_id == program_id,
        )
    )
    return {row[0]: SentItem(*row) for row in rows}


def items_of(
    session: Session, assignment_ids: Sequence[UUID]
) -> dict[UUID, list[t.AssignmentItem]]:
    """What assignments ask for now, in their order."""
    found: dict[UUID, list[t.AssignmentItem]] = {i: [] for i in assignment_ids}
    for item in session.scalars(
        select(t.AssignmentItem)
        .where(
            t.AssignmentItem.assignment_id.in_(assignment_ids),
            t.AssignmentItem.removed_at.is_(None),
        )
        .order_by(t.AssignmentItem.place)
    ):
        found[item.assignment_id].append(item)
    return found


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


def steps_at(
    session: Session, item_ids: Iterable[UUID], places: Iterable[int]
) -> dict[tuple[UUID, int], t.SentStep]:
    """Some steps of some drills, as columns of ``sent_step``, what sounds apart."""
    wanted = [c for c in t.SentStep.__table__.columns if c.name not in ("sounds", "say")]
    rows = session.execute(
        select(*wanted).where(
            t.SentStep.item_id.in_(list(item_ids)), t.SentStep.place.in_(set(places))
        )
    )
    return {(row.item_id, row.place): row for row in rows}  # type: ignore[misc]


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
