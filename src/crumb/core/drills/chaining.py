"""Chaining: the end first, then one more unit in front, until the chunk is whole."""

from crumb.core.drills.model import SET, DrillKind, Parameter, Settings, Step
from crumb.core.drills.written import written_step
from crumb.core.errors import DrillDoesNotFit
from crumb.core.score.address import span_label
from crumb.core.score.model import Part
from crumb.core.score.position import (
    Position,
    Span,
    beat_positions,
    is_held,
    starts_at,
)

UNITS = ("beat", "measure")


def _joints(part: Part, span: Span, unit: str) -> list[Position]:
    """Where a link of the chain may start, last first, the start of the span at the end.

    A link starts on a note that is struck there: a rest in front would only delay the start.
    """
    places = [
        place
        for place in beat_positions(part)
        if span.start < place < span.end
        and (unit == "beat" or place.at == 0)
        and not is_held(part, place)
        and starts_at(part.measures[place.index], place.at)
    ]
    return [*reversed(places), span.start]


def _backward(part: Part, span: Span, settings: Settings) -> tuple[Step, ...]:
    unit = str(settings["unit"])
    joints = _joints(part, span, unit)
    if len(joints) < 2:
        more = " Chain it by beat." if unit == "measure" else ""
        raise DrillDoesNotFit(f"There is no second {unit} here to put in front of the last.{more}")
    repetitions = int(settings["repetitions"])
    return tuple(
        written_step(
            part,
            Span(place, span.end, span.landing),
            name=_link_name(part, place, span),
            repetitions=repetitions,
            kind=SET,
        )
        for place in joints
    )


def _link_name(part: Part, place: Position, span: Span) -> str:
    label = span_label(part, Span(place, span.end))
    return f"All of {label}" if place == span.start else label


BACKWARD = DrillKind(
    name="backward",
    title="Backward chain",
    family="Chaining",
    use_when="The end breaks down, or a stubborn fast spot never gets past its middle.",
    how="The last beat or measure until it is sure, then one more in front, to the whole chunk.",
    clean_means="From the first note of the link to the landing without a stop, in tempo.",
    on_slip="The count starts anew; so it does after a pause of more than eight seconds.",
    needs="Two beats or measures that start with a note.",
    make=_backward,
    parameters=(
        Parameter("unit", "One link is a", "beat", choices=UNITS),
        Parameter("repetitions", "Clean in a row", 5, low=1, high=20),
    ),
)
