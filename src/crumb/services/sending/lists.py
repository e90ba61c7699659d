"""The director's lists of assignments."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.plan.days import CARRIED_OVER
from crumb.services.access import Actor
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import chunks_of
from crumb.store.queries import sending
from crumb.store.tables import Assignment, AssignmentItem

_MOST_OLDER = 200


@dataclass(frozen=True, slots=True)
class ItemView:
    """A drill in an assignment."""

    id: UUID
    chunk: str
    title: str
    role: str
    every: int
    note: str
    is_removed: bool


@dataclass(frozen=True, slots=True)
class AssignmentView:
    """An assignment in the director's list."""

    assignment: Assignment
    title: str
    part_name: str
    section_name: str
    students: int
    items: tuple[ItemView, ...]


def list_assignments(session: Session, actor: Actor, today: date) -> list[AssignmentView]:
    """Assignments sent by hand that are on students' lists, newest first; without days of plans."""
    return _views(
        session, actor, sending.by_hand(session, actor.program_id, since=today - CARRIED_OVER)
    )


def list_older(session: Session, actor: Actor, today: date) -> list[AssignmentView]:
    """Assignments sent by hand that have left students' lists, newest first."""
    before = today - CARRIED_OVER
    return _views(
        session, actor, sending.by_hand(session, actor.program_id, before=before, most=_MOST_OLDER)
    )


def _views(session: Session, actor: Actor, rows: Sequence[sending.ByHand]) -> list[AssignmentView]:
    ids = [row.assignment.id for row in rows]
    items = sending.items_of(session, ids, with_removed=True)
    counts = sending.receivers(session, ids)
    labels = _labels(session, actor, rows, items)
    return [
        AssignmentView(
            row.assignment,
            row.title,
            row.part,
            row.section,
            counts.get(row.assignment.id, 0),
            tuple(_item(i, labels[i.chunk_id]) for i in items[row.assignment.id]),
        )
        for row in rows
    ]


def _labels(
    session: Session,
    actor: Actor,
    rows: Sequence[sending.ByHand],
    items: Mapping[UUID, Sequence[AssignmentItem]],
) -> dict[UUID, str]:
    """Labels of the chunks of all these drills."""
    wanted: dict[UUID, set[UUID]] = {}
    for row in rows:
        chunks = {item.chunk_id for item in items[row.assignment.id]}
        wanted.setdefault(row.assignment.part_id, set()).update(chunks)
    return {
        chunk.id: chunk.label
        for part_id, chunk_ids in wanted.items()
        for chunk in chunks_of(session, load_part(session, actor, part_id), sorted(chunk_ids))
    }


def _item(row: AssignmentItem, label: str) -> ItemView:
    title = sending.drill_of(row).title
    return ItemView(row.id, label, title, row.role, row.every, row.note, row.removed_at is not None)
