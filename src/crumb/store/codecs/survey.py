"""Codec of surveys."""

from fractions import Fraction
from typing import Any

from crumb.core.score.model import Part
from crumb.core.score.position import Position
from crumb.core.survey.model import MeasureLoad, Objective, Spot, Survey


def survey_to_json(found: Survey) -> dict[str, Any]:
    """A survey; of each spot its offset, kind, reason, weight and note."""
    # A few offsets come over and over, as the same objects.
    places = {id(spot.at.at): spot.at.at for m in found.measures for spot in m.spots}
    said = {key: str(at) for key, at in places.items()}
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
                    [said[id(s.at.at)], s.kind, s.why, round(s.weight, 2), s.note_id]
                    for s in m.spots
                ],
            }
            for m in found.measures
        ],
    }


def survey_from_json(kept: dict[str, Any], part: Part) -> Survey:
    """A survey read again, of the part it was made of."""
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
                number=part.measures[i].number,
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
