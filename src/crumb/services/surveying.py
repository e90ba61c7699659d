"""The survey of a stored part: worked out for its instrument and goal, kept, worked out anew."""

from fractions import Fraction
from typing import Any

from sqlalchemy.orm import Session

from crumb.core.score.model import Part
from crumb.core.score.position import Position
from crumb.core.survey.instruments import Instrument, instrument_named
from crumb.core.survey.load import survey
from crumb.core.survey.model import MeasureLoad, Objective, Spot, Survey
from crumb.services.music import PartInHand


def instrument_of(part: Part) -> Instrument:
    """What a part is played on, by its instrument's name, else its own."""
    found = instrument_named(part.instrument, transpose=part.transposition.chromatic)
    if found.family == "other":
        found = instrument_named(part.name, transpose=part.transposition.chromatic)
    return found


def surveyed(part: Part, played_on: str, goal_quarters: Fraction) -> dict[str, Any]:
    """A survey as it is stored."""
    found = survey(part, instrument_named(played_on), goal_quarters=goal_quarters)
    return {
        "instrument": found.instrument,
        "goal": str(found.goal_quarters),
        "crux": found.crux,
        "objectives": [
            {"kind": o.kind, "text": o.text, "measures": list(o.measures)} for o in found.objectives
        ],
        "measures": [
            {
                "load": round(m.load, 3),
                "beats": [round(b, 3) for b in m.beats],
                "rate": round(m.notes_per_second, 2),
                "spots": [
                    [str(s.at.at), s.kind, s.why, round(s.weight, 2), s.note_id] for s in m.spots
                ],
            }
            for m in found.measures
        ],
    }


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
