"""Places as musicians say and print them: ``33-36``, ``33.2-34.1``, ``R3-R6``, ``61+``."""

import re
from fractions import Fraction

from crumb.core.errors import BadAddress, EmptySpan
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import (
    Position,
    Span,
    absolute,
    beat_of,
    canonical,
    landing_notes,
    lead_of,
)

_RANGE = re.compile(
    r"^\s*(?P<first>[^\s+–-]+)(?:\s*[-–]\s*(?P<last>[^\s+–-]+))?\s*(?P<plus>\+)?\s*$"
)
_PLACE = re.compile(r"^(?P<measure>[^.]+)(?:\.(?P<beat>\d{1,3}))?$")
_LETTER = re.compile(r"^(?P<letter>[A-Za-z]+)(?P<nth>\d{0,4})$")


def measure_index(part: Part, name: str) -> int:
    """Index of a measure by printed number, or by letter and count (``R3``: third of R).

    Raises:
        BadAddress: no measure is called that.
    """
    for i, measure in enumerate(part.measures):
        if measure.number == name:
            return i
    letter = _LETTER.match(name)
    if letter:
        for i, measure in enumerate(part.measures):
            if (measure.rehearsal or "").casefold() == letter["letter"].casefold():
                index = i + int(letter["nth"] or 1) - 1
                if i <= index < len(part.measures):
                    return index
    first, last = part.measures[0].number, part.measures[-1].number
    raise BadAddress(f"There is no measure {name}: this part goes from {first} to {last}.")


def parse_span(part: Part, text: str) -> Span:
    """Read a span; both ends are included as people say them, ``+`` asks for a landing.

    Raises:
        BadAddress: the words name no place, or the end stands before the start.
        EmptySpan: a landing is asked for where no note starts.
    """
    match = _RANGE.match(text)
    if not match:
        raise BadAddress(f"“{text}” is not a place: say 33-36, 33.2-34.1, R3-R6 or 61+.")
    start, _ = _place(part, match["first"])
    _, end = _place(part, match["last"] or match["first"])
    if absolute(part, end) <= absolute(part, start):
        raise BadAddress(f"“{text}” ends before it starts.")
    landing = match["plus"] is not None
    if landing and not landing_notes(part, end):
        raise EmptySpan(f"No note starts right after “{text.rstrip('+ ')}”, so it cannot land.")
    return Span(canonical(part, start), canonical(part, end), landing)


def _place(part: Part, text: str) -> tuple[Position, Position]:
    """Start and end of one named measure or beat."""
    match = _PLACE.match(text)
    if not match:
        raise BadAddress(f"“{text}” is not a measure or a beat.")
    index = measure_index(part, match["measure"])
    measure = part.measures[index]
    if match["beat"] is None:
        return Position(index, ZERO), Position(index, measure.length)
    beat = measure.time.beat
    at = (int(match["beat"]) - 1) * beat - lead_of(measure)
    if not -beat < at < measure.length:
        raise BadAddress(f"Measure {measure.number} has no beat {match['beat']}.")
    return Position(index, max(at, ZERO)), Position(index, min(at + beat, measure.length))


def _beat_text(beat: Fraction) -> str:
    whole, part = divmod(beat, 1)
    return str(whole) if not part else f"{whole}+{part}"


def span_label(part: Part, span: Span) -> str:
    """A span as printed on its tab: ``33–36``, ``33.2–34.1``, ``61+``."""
    plus = "+" if span.landing else ""
    first, last = span.start, span.end
    opening = part.measures[first.index].number
    if last.at == 0:
        closing = part.measures[last.index - 1]
        if first.at == 0:
            both = opening == closing.number or first.index == last.index - 1
            return f"{opening}{plus}" if both else f"{opening}–{closing.number}{plus}"
        last_beat = beat_of(closing, closing.length) - 1
    else:
        closing = part.measures[last.index]
        last_beat = beat_of(closing, last.at) - 1
    start_text = f"{opening}.{_beat_text(beat_of(part.measures[first.index], first.at))}"
    end_text = f"{closing.number}.{_beat_text(last_beat)}"
    return f"{start_text}{plus}" if start_text == end_text else f"{start_text}–{end_text}{plus}"
