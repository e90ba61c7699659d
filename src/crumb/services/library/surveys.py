"""Surveys of stored parts, recomputed for another instrument or goal."""

from fractions import Fraction

from sqlalchemy.orm import Session

from crumb.core.survey.load import survey
from crumb.core.survey.model import Survey
from crumb.services.library.pieces import PartInHand
from crumb.store.codecs.survey import survey_from_json, survey_to_json


def goal_quarters(hand: PartInHand) -> Fraction:
    """The goal tempo in quarter notes a minute."""
    return hand.row.goal_bpm * hand.beat


def refresh_survey(session: Session, hand: PartInHand) -> None:
    """Work the survey out anew, after the goal or the instrument changed."""
    hand.row.survey = survey_to_json(_worked_out(hand))
    session.flush()


def survey_of(hand: PartInHand) -> Survey:
    """The stored survey; one that is not stored is worked out, and not stored by looking at it."""
    if hand.row.survey is None:
        return _worked_out(hand)
    return survey_from_json(hand.row.survey, hand.part)


def _worked_out(hand: PartInHand) -> Survey:
    return survey(hand.part, hand.instrument, goal_quarters=goal_quarters(hand))
