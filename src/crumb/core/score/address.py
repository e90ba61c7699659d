"""Places as musicians say them.

*Third measure of R*, *second from the end of line 4*, *last note of 61*, *beat 3 of 33*, *line 3*,
*R to S*; and everything as it is written.
"""

import re
from itertools import pairwise

from crumb.core.errors import BadAddress
from crumb.core.score.half_measures import (
    attack_offsets,
    beat_offsets,
    beyond,
    length_of,
    place_in,
    whole_measures,
)
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Position, Span, absolute, canonical
from crumb.core.score.written import parse_span

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
_INSIDE = re.compile(
    rf"^(?:the )?(?P<kind>beats?|notes?) (?P<n>\d{{1,4}}(?:\s*[-–]\s*\d{{1,4}})?)(?: of| in)"
    rf"(?: {_BAR})? (?P<where>\S+)$",
    re.IGNORECASE,
)
_PICKUP = re.compile(
    r"^(?:(?:the )?(?:\d{1,3}[- ]note )?(?:pick-?ups?|upbeats?|anacrus[ie]s) (?:in)?to )"
    r"(?P<where>.+)$",
    re.IGNORECASE,
)
_LINE = re.compile(r"^(?P<kind>line|system|page) (?P<n>\d{1,3})$", re.IGNORECASE)
_PLAIN = re.compile(rf"^(?:{_BAR}|letter|mark|rehearsal(?: mark)?|number)\s*(?=\S)", re.IGNORECASE)
_COUNTED = re.compile(r"\b(?:beats|notes) \d{1,4}$", re.IGNORECASE)
_TO = re.compile(r"\s+(?:to|through|until|up to)\s+", re.IGNORECASE)


def find_span(part: Part, text: str) -> Span:
    """Read a place or stretch as people say or write it.

    The measure of a letter counts as its first; a line is one the file prints.

    Raises:
        BadAddress: the words name no place, or the end stands before the start.
        EmptySpan: a landing is asked for where no note starts.
    """
    words = " ".join(text.split()).rstrip(".")
    if (match := _PICKUP.match(words)) is not None:
        return parse_span(part, words[: match.start("where")] + _written(match["where"]))
    if (match := _INSIDE.match(words)) is not None:
        return parse_span(part, f"{match['where']} {match['kind']} {match['n']}")
    said = _TO.split(words)
    if len(said) == 2 and said[1].isdecimal() and _COUNTED.search(said[0]):
        return parse_span(part, _written(words))  # beats 2 to 3, which are no measures
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
        return Span(Position(inside[0], ZERO), Position(beyond(part, inside[-1]), ZERO))
    return parse_span(part, _PLAIN.sub("", words))


def _written(words: str) -> str:
    """A stretch of measures with its words taken off."""
    return "–".join(_PLAIN.sub("", piece) for piece in _TO.split(words))


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
    return Span(Position(index, ZERO), Position(beyond(part, index), ZERO))


def _measures_of(part: Part, where: str) -> list[int]:
    """The measures of a line, a page, from a letter to the next, of a stretch, or of the piece."""
    return whole_measures(part, _indexes_of(part, where))


def _indexes_of(part: Part, where: str) -> list[int]:
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
    for index in whole_measures(part, range(span.start.index, span.end.index + (span.end.at > 0))):
        is_beat = match["what"].casefold() == "beat"
        ats = beat_offsets(part, index) if is_beat else attack_offsets(part, index)
        if is_beat and 0 not in ats:
            ats = [ZERO, *ats]
        edges = [place_in(part, index, at) for at in (*ats, length_of(part, index))]
        places.extend(pairwise(edges))
    if not places or count > len(places):
        raise BadAddress(f"There are only {len(places)} of them there.")
    start, end = places[count - 1]
    return Span(start, canonical(part, end))
