"""Comparison of two ways of playing, from a student's repetitions and ratings."""

from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drill_names import DrillName
from crumb.core.drills.comparison import Comparison, compare
from crumb.services.errors import NotAccepted
from crumb.store.queries import sending, ways
from crumb.store.tables import AssignmentItem

TWO_WAYS = DrillName.TWO_WAYS


def comparison(session: Session, item_id: UUID, student_id: UUID) -> Comparison:
    """How the two ways of a drill that was sent compare for a student.

    Raises:
        NotAccepted: the drill compares no ways.
    """
    if session.get_one(AssignmentItem, item_id).drill != TWO_WAYS:
        raise NotAccepted("This drill does not compare two ways.")
    first, second = (step.name for step in sending.steps_of(session, item_id)[:2])
    return compare(
        (first, second),
        ways.tries(session, item_id, student_id),
        ways.ratings(session, item_id, student_id),
    )


def verdicts(session: Session, student_id: UUID, chunk_id: UUID) -> list[str]:
    """Results of a student's comparisons on a chunk, newest first."""
    items = ways.compared_on(session, student_id, chunk_id, TWO_WAYS)
    return [comparison(session, item, student_id).verdict for item in items]
