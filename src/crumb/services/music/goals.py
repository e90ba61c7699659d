"""The goal tempo: of a part, and of a piece as a whole."""

from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.evidence import levels
from crumb.services.library import pieces, surveys
from crumb.services.library.pieces import PartInHand
from crumb.store.queries import locks


def set_goal(session: Session, actor: Actor, part_id: UUID, goal: Fraction) -> PartInHand:
    """The goal tempo of one part; its survey follows, and every level on it, at once or soon.

    Raises:
        NotFound: not here.
        NotAccepted: a tempo nobody plays.
    """
    hand = pieces.load_part(session, actor, part_id, for_change=True)
    _set(session, hand, pieces.check_goal(goal))
    return hand


def set_piece_goal(session: Session, actor: Actor, piece_id: UUID, goal: Fraction) -> None:
    """One goal tempo for all parts of a piece, counted in the beat of the first.

    A part in another meter gets the same speed in its own beats. Each can be changed by itself
    afterwards.

    Raises:
        NotFound: not here.
        NotAccepted: a tempo nobody plays.
    """
    _, rows = pieces.piece_with_parts(session, actor, piece_id)
    locks.have_parts(session, [row.id for row in rows])  # all, in their one order
    quarters: Fraction | None = None
    for row in rows:
        hand = pieces.load_part(session, actor, row.id, for_change=True)
        if quarters is None:
            quarters = pieces.check_goal(goal) * hand.beat
        _set(session, hand, pieces.check_goal(quarters / hand.beat))


def set_range(
    session: Session, actor: Actor, part_id: UUID, floor: Fraction | None, festival: Fraction | None
) -> PartInHand:
    """The slowest tempo a part can be performed at, and the one of its best day (None: not said).

    Raises:
        NotFound: not here.
        NotAccepted: tempos nobody plays, or on the wrong side of the goal.
    """
    hand = pieces.load_part(session, actor, part_id, for_change=True)
    goal = hand.row.goal_bpm
    if floor is not None and pieces.check_goal(floor) >= goal:
        raise NotAccepted("The floor lies under the goal tempo.")
    if festival is not None and pieces.check_goal(festival) <= goal:
        raise NotAccepted("The festival tempo lies above the goal tempo.")
    hand.row.floor_bpm, hand.row.festival_bpm = floor, festival
    return hand


def _set(session: Session, hand: PartInHand, goal: Fraction) -> None:
    if goal == hand.row.goal_bpm:
        return
    hand.row.goal_bpm = goal
    # A floor or festival tempo that the goal has passed says nothing any more.
    if hand.row.floor_bpm is not None and hand.row.floor_bpm >= goal:
        hand.row.floor_bpm = None
    if hand.row.festival_bpm is not None and hand.row.festival_bpm <= goal:
        hand.row.festival_bpm = None
    surveys.refresh_survey(session, hand)
    session.flush()
    levels.refresh_part(session, hand.row.id)
