"""Changes of a sent assignment: withdraw, move the date, add or drop a drill."""

from collections.abc import Sequence
from datetime import UTC, date, datetime
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.drills.bench import work_out
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import load_part
from crumb.services.sending.assignment_request import (
    MOST_ITEMS,
    RequestedItem,
    check_due,
    check_minutes,
    item_request,
)
from crumb.services.sending.assignments import store_item
from crumb.services.sending.recipients import ReceivedItem
from crumb.store.queries import sending
from crumb.store.tables import Assignment, AssignmentItem


def withdraw(session: Session, actor: Actor, assignment_id: UUID, *, back: bool = False) -> None:
    """Take a whole sending back, or (``back``) bring it back; what was played stays evidence.

    Raises:
        NotFound: not of this program.
    """
    for row in _sending_of(session, actor, assignment_id):
        row.withdrawn_at = None if back else datetime.now(UTC)


def change(
    session: Session,
    actor: Actor,
    assignment_id: UUID,
    *,
    due_on: date | None,
    minutes_a_day: int | None,
    today: date,
) -> None:
    """Another date or other minutes for a whole sending; a later date of its own moves along.

    Raises:
        NotFound, NotAccepted: not here, or no such date or minutes.
    """
    rows = _sending_of(session, actor, assignment_id)
    first = min(row.due_on for row in rows)
    if due_on is not None:
        check_due(due_on, today)
        for row in rows:
            row.due_on = due_on + (row.due_on - first)
    if minutes_a_day is not None:
        check_minutes(minutes_a_day)
        for row in rows:
            row.minutes_a_day = minutes_a_day


def drop_item(session: Session, actor: Actor, item_id: UUID, *, back: bool = False) -> None:
    """Take one drill out of an assignment, or bring it back; its repetitions stay evidence.

    Raises:
        NotFound: not of this program.
        NotAccepted: it is the last one; withdraw the whole instead.
    """
    item = sending.item_in(session, actor.program_id, item_id)
    if item is None:
        raise NotFound("There is no such drill in an assignment.")
    if not back and len(_open_items(session, item.assignment_id)) < 2:
        raise NotAccepted("This is its last drill: withdraw the whole assignment instead.")
    item.removed_at = None if back else datetime.now(UTC)


def add_item(session: Session, actor: Actor, assignment_id: UUID, wished: RequestedItem) -> None:
    """One more drill for everybody in an assignment, on a chunk of its own part.

    Raises:
        NotFound, CrumbError: no such assignment or chunk, or the drill does not fit.
    """
    row = _one(session, actor, assignment_id)
    hand = load_part(session, actor, row.part_id)
    if len(_open_items(session, row.id)) >= MOST_ITEMS:
        raise NotAccepted(f"That is more than {MOST_ITEMS} drills at once.")
    wish = item_request(session, hand, wished)
    worked = work_out(hand, wish.chunk.span, wish.drill, wish.settings, wish.ladder)
    got = ReceivedItem(
        wish.chunk.span, wish.chunk.label, worked, wish.ladder, wish.role, every=wish.every
    )
    last = sending.last_place(session, row.id)
    store_item(session, row.id, last + 1, hand, got)


def _open_items(session: Session, assignment_id: UUID) -> list[AssignmentItem]:
    return sending.items_of(session, [assignment_id])[assignment_id]


def _one(session: Session, actor: Actor, assignment_id: UUID) -> Assignment:
    assignment = sending.assignment_in(session, actor.program_id, assignment_id)
    if assignment is None:
        raise NotFound("There is no such assignment.")
    return assignment


def _sending_of(session: Session, actor: Actor, assignment_id: UUID) -> Sequence[Assignment]:
    return sending.sent_with(session, _one(session, actor, assignment_id))
