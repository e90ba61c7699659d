"""The Stand: one drill that was sent, with all that its player reads and hears."""

from dataclasses import dataclass, replace
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill
from crumb.core.score.model import Part
from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.library.marks import marks_in
from crumb.services.library.pieces import load_part
from crumb.services.practice.notation import Read, notated_steps
from crumb.services.practice.today import TodayItem, lines_of
from crumb.store.queries import sending
from crumb.store.tables import Assignment, AssignmentItem


@dataclass(frozen=True, slots=True)
class StandView:
    """Everything the Stand needs for one item."""

    line: TodayItem
    part: Part
    drill: SentDrill
    notations: list[str | None]
    """Of each step, ready to be drawn."""


def stand(session: Session, actor: Actor, item_id: UUID) -> StandView:
    """One item for practising, as it was sent, with the marks that reach the student.

    Raises:
        NotFound: the student was not sent it.
    """
    assignment = my_assignment(session, actor, item_id)
    items = sending.items_of(session, [assignment.id])[assignment.id]
    if all(item.id != item_id for item in items):  # taken out since: who is at it may end it
        items.append(session.get_one(AssignmentItem, item_id))
    line = next(x for x in lines_of(session, actor, assignment, items) if x.item.id == item_id)
    steps = sending.steps_of(session, item_id)
    hand = load_part(session, actor, assignment.part_id)
    read = Read(hand.part, marks_in(session, actor, assignment.part_id))
    drill = replace(line.drill, steps=tuple(steps))
    return StandView(line, hand.part, drill, notated_steps(session, steps, read))


def my_assignment(session: Session, actor: Actor, item_id: UUID) -> Assignment:
    """The assignment of an item that was sent to the student.

    Raises:
        NotFound: the student was not sent it.
    """
    assignment = sending.assignment_with(session, actor.program_id, actor.person_id, item_id)
    if assignment is None:
        raise NotFound("This is not on your list.")
    return assignment
