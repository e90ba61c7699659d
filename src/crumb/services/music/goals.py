"""The goal tempo: of a part, and of a piece as a whole."""

from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.evidence import levels
from crumb.services.library import pieces, surveying
from crumb.services.library.pieces import PartInHand
from crumb.services.who import Who


def set_goal(session: Session, who: Who, part_id: UUID, goal: Fraction) -> PartInHand:
    """The goal tempo of one part; its survey and every level on it are worked out anew.

    Raises:
        NotFound: not here.
        NotAccepted: a tempo nobody plays.
    """
    hand = pieces.load_part(session, who, part_id, for_change=True)
    _set(session, hand, pieces.check_goal(goal))
    session.commit()
    return hand


def set_piece_goal(session: Session, who: Who, piece_id: UUID, goal: Fraction) -> None:
    """One goal tempo for all parts of a piece, counted in the beat of the first.

    A part in another meter gets the same speed in its own beats. Each can be changed by itself
    afterwards.

    Raises:
        NotFound: not here.
        NotAccepted: a tempo nobody plays.
    """
    _, rows = pieces.piece_with_parts(session, who, piece_id)
    quarters: Fraction | None = None
    for row in rows:
        hand = pieces.load_part(session, who, row.id, for_change=True)
        if quarters is None:
            quarters = pieces.check_goal(goal) * hand.beat
        _set(session, hand, pieces.check_goal(quarters / hand.beat))
    session.commit()


def _set(session: Session, hand: PartInHand, goal: Fraction) -> None:
    if goal == hand.row.goal_bpm:
        return
    hand.row.goal_bpm = goal
    surveying.refresh_survey(session, hand)
    session.flush()
    levels.refresh_part(session, hand.row.id)
