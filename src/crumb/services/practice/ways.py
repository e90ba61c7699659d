"""Two ways compared by the student who plays them."""

from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drills.comparison import Comparison, Rating
from crumb.services.access import Actor
from crumb.services.evidence.way_comparison import comparison
from crumb.services.practice.stand import my_assignment
from crumb.store.queries import ways as store


def ways(session: Session, actor: Actor, item_id: UUID) -> Comparison:
    """How the two ways of a drill compare for the student who asks.

    Raises:
        NotFound: the student was not sent it.
        NotAccepted: it compares no ways.
    """
    my_assignment(session, actor, item_id)
    return comparison(session, item_id, actor.person_id)


def rate(
    session: Session, actor: Actor, item_id: UUID, rating_id: UUID, rating: Rating
) -> Comparison:
    """Keep what a student heard of one way; the comparison comes back.

    Raises:
        NotFound: the student was not sent it.
        NotAccepted: it compares no ways.
    """
    my_assignment(session, actor, item_id)
    comparison(session, item_id, actor.person_id)
    store.keep(session, rating_id, item_id, actor.person_id, rating)
    return comparison(session, item_id, actor.person_id)
