"""The survey of a stored part: worked out for its instrument and goal, kept, worked out anew."""

from fractions import Fraction

from sqlalchemy.orm import Session

from crumb.core.score.position import Position
from crumb.core.survey.model import MeasureLoad, Objective, Spot, Survey
from crumb.services.music import PartInHand
from crumb.services.preparing import instrument_of, surveyed


def goal_quarters(hand: PartInHand) -> Fraction:
    """The goal tempo in quarter notes a minute."""
    return hand.row.goal_bpm * hand.beat


def refresh_survey(session: Session, hand: PartInHand) -> None:
    """Work the survey out anew, after the goal or the instrument changed."""
    hand.row.survey = surveyed(hand.part, hand.row.played_on, goal_quarters(hand))
    session.flush()


def survey_of(hand: PartInHand) -> Survey:
    """The stored survey; a part from before there were surveys is read now."""
    if not hand.row.played_on:
        hand.row.played_on = instrument_of(hand.part).name
    if hand.row.survey is None:
        hand.row.survey = surveyed(hand.part, hand.row.played_on, goal_quarters(hand))
    kept = hand.row.survey
    return Survey(
        instrument=kept["instrument"],
        goal_quarters=Fraction(kept["goal"]),
        crux=kept["crux"],
        objectives=tuple(
            Objective(o["kind"], o["text"], tuple(o["measures"])) for o in kept["objectives"]
        ),
        measures=tuple(
            MeasureLoad(
                index=i,
                number=hand.part.measures[i].number,
                load=m["load"],
                beats=tuple(m["beats"]),
                notes_per_second=m["rate"],
                spots=tuple(
                    Spot(Position(i, Fraction(at)), kind, why, weight, note_id)
                    for at, kind, why, weight, note_id in m["spots"]
                ),
            )
            for i, m in enumerate(kept["measures"])
        ),
    )
