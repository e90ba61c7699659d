"""Places as musicians say and print them.

``33-36``, ``33.2-34.1``, ``R3-R6``, ``61+`` and in words: *third measure of R*, *second from the
end of line 4*, *last note of 61*, *line 3*, *R to S*.
"""

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


_ORDINALS = [
    "first",
    "second",
    "third",
    "fourth",
    "fifth",
    "sixth",
    "seventh",
    "eighth",
    "ninth",
    "tenth",
    "eleventh",
    "twelfth",
]
_BAR = r"(?:measures?|bars?|mm?\.|b\.)"
_NTH = rf"(?P<nth>{'|'.join(_ORDINALS)}|last|\d{{1,3}}(?:st|nd|rd|th))"
_WHERE = r"(?P<where>.+?)"
_OF_PLACE = re.compile(rf"^(?:the )?{_NTH}(?: {_BAR})?(?: of| in| after) {_WHERE}$", re.IGNORECASE)
_FROM_END = re.compile(
    rf"^(?:the )?{_NTH}(?: {_BAR})? from the end(?: of| in) {_WHERE}$", re.IGNORECASE
)
_NOTE_OF = re.compile(rf"^(?:the )?{_NTH} (?P<what>note|beat)(?: of| in) {_WHERE}$", re.IGNORECASE)
_LINE = re.compile(r"^(?P<kind>line|system|page) (?P<n>\d{1,3})$", re.IGNORECASE)
_PLAIN = re.compile(rf"^(?:{_BAR}|letter|mark|rehearsal(?: mark)?|number)\s*(?=\S)", re.IGNORECASE)
_TO = re.compile(r"\s+(?:to|through|until|up to)\s+", re.IGNORECASE)


def find_span(part: Part, text: str) -> Span:
    """Read a place or stretch as people say it; see the head of this module.

    The measure of a letter counts as its first; a line is one the file prints.

    Raises:
        BadAddress: the words name no place, or the end stands before the start.
        EmptySpan: a landing is asked for where no note starts.
    """
    words = " ".join(text.split()).rstrip(".")
    said = _TO.split(words)
    if len(said) == 2:
        first, last = find_span(part, said[0]), find_span(part, said[1])
        if absolute(part, last.end) <= absolute(part, first.start):
            raise BadAddress(f"“{text}” ends before it starts.")
        return Span(first.start, last.end, last.landing)
    if (match := _NOTE_OF.match(words)) is not None:
        return _note_or_beat(part, find_span(part, match["where"]), match)
    if (match := _FROM_END.match(words)) is not None:
        inside = _measures_of(part, match["where"])
        return _one_of(part, inside[::-1], match["nth"], words)
    if (match := _OF_PLACE.match(words)) is not None:
        return _one_of(part, _measures_of(part, match["where"]), match["nth"], words)
    if _LINE.match(words) is not None:
        inside = _measures_of(part, words)
        return Span(Position(inside[0], ZERO), Position(inside[-1] + 1, ZERO))
    return parse_span(part, _PLAIN.sub("", words))


def _count(nth: str) -> int:
    """Which one is meant, from 1; 0 for the last."""
    word = nth.casefold()
    if word == "last":
        return 0
    return _ORDINALS.index(word) + 1 if word in _ORDINALS else int(re.sub(r"\D", "", word))


def _one_of(part: Part, indexes: list[int], nth: str, text: str) -> Span:
    count = _count(nth)
    if count > len(indexes):
        raise BadAddress(f"“{text}”: there are only {len(indexes)} measures there.")
    index = indexes[count - 1]
    return Span(Position(index, ZERO), Position(index + 1, ZERO))


def _measures_of(part: Part, where: str) -> list[int]:
    """The measures of a line, a page, from a letter to the next, of a stretch, or of the piece."""
    if where.casefold() in ("the piece", "the part", "all", "it"):
        return list(range(len(part.measures)))
    line = _LINE.match(where)
    if line is not None:
        return _printed_lines(part, line["kind"].casefold(), int(line["n"]))
    span = find_span(part, where)
    name = _PLAIN.sub("", where)
    if part.measures[span.start.index].rehearsal and not name[:1].isdigit() and name.isalpha():
        later = (m.index for m in part.measures[span.start.index + 1 :] if m.rehearsal)
        return list(range(span.start.index, next(later, len(part.measures))))
    return list(range(span.start.index, span.end.index + (span.end.at > 0)))


def _printed_lines(part: Part, kind: str, n: int) -> list[int]:
    starts = [0] + [
        m.index for m in part.measures[1:] if m.new_page or (m.new_system and kind != "page")
    ]
    if len(starts) == 1 and n > 1:
        raise BadAddress(f"The file of this part names no {kind}s: say measure numbers or letters.")
    if not 1 <= n <= len(starts):
        raise BadAddress(f"There is no {kind} {n}: this part has {len(starts)}.")
    end = starts[n] if n < len(starts) else len(part.measures)
    return list(range(starts[n - 1], end))


def _note_or_beat(part: Part, span: Span, match: re.Match[str]) -> Span:
    count = _count(match["nth"])
    places: list[tuple[Position, Position]] = []
    for index in range(span.start.index, span.end.index + (span.end.at > 0)):
        measure = part.measures[index]
        if match["what"].casefold() == "beat":
            beat, at = measure.time.beat, -lead_of(measure) % measure.time.beat
            ats = [at + k * beat for k in range(int((measure.length - at) / beat) + 1)]
            ends = [min(a + beat, measure.length) for a in ats]
        else:
            notes = sorted({(n.at, n.end) for n in measure.notes if n.is_attack})
            ats, ends = [a for a, _ in notes], [b for _, b in notes]
        places.extend(
            (Position(index, a), Position(index, b))
            for a, b in zip(ats, ends, strict=True)
            if a < b
        )
    if not places or count > len(places):
        raise BadAddress(f"There are only {len(places)} of them there.")
    start, end = places[count - 1]
    return Span(start, canonical(part, end))


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
