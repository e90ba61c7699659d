"""Places as they are written, one way for screen, paper and command line.

========================  =====================================================================
``33–36``                 whole measures; ``R 3–6`` counts from a rehearsal letter
``pickup to 33–36``       with the notes that lead into 33; short on a bracket ``›33–36``
``3-note pickup to 33``   with just so many of them; short ``3›33``
``33 beat 3``             one beat; ``33 beats 2–3``, ``33 beat 3–34 beat 1``
``33 notes 5–8``          attacks of one measure, counted from 1; ``33 note 5–34``
``33 beat 3 and 1/3``     so much of a beat later; ``before …`` where something ends there
``36→``                   with its landing, the note it runs into; typed ``36+``
``33(2)``, ``#17``        the second measure called 33; the seventeenth of the part
========================  =====================================================================

``33.2-34.1`` is read as beats, too. Ends are included as people say them.
"""

import re
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction

from crumb.core.errors import BadAddress, EmptySpan
from crumb.core.score.half_measures import (
    attack_offsets,
    beat_offsets,
    beyond,
    halves,
    home,
    is_barline,
    length_of,
    place_in,
    whole_measures,
)
from crumb.core.score.meter import beats_of, lead_of
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import (
    Position,
    Span,
    absolute,
    canonical,
    landing_notes,
)

LANDS = "→"
_LANDING = re.compile(r"\s*(?:\+|→|>|(?:and|with)(?: its)? landing)\s*$", re.IGNORECASE)
_PICKUP = re.compile(
    r"^(?:(?P<count>\d{1,3})[- ]note )?(?:the )?(?:pick-?ups?|upbeats?|anacrus[ie]s) (?:in)?to "
    r"|^(?P<short>\d{0,3})\s*[›>]\s*",
    re.IGNORECASE,
)
_DASH = re.compile(r"\s*[-–—]\s*")
_MEASURE = (
    r"(?:#\s?(?P<index>\d{1,5})"
    r"|(?P<letter>[A-Za-z]{1,3})\s(?P<nth>\d{1,4})"
    r"|(?P<name>[^\s.()#]+)(?:\((?P<again>\d{1,4})\))?)"
)
_PLACE = re.compile(
    rf"^(?P<before>before )?{_MEASURE}"
    r"(?:\.(?P<dotted>\d{1,3})"
    r"|\s+(?P<kind>beats?|notes?)\s+(?P<n>\d{1,4})(?:\s+and\s+(?P<more>\d{1,3}/\d{1,3}))?)?$",
    re.IGNORECASE,
)
_LETTER = re.compile(r"^(?P<letter>[A-Za-z]+)(?P<nth>\d{0,4})$")


def measure_index(part: Part, name: str, again: int = 1) -> int:
    """Index of a measure by printed number, or by letter and count (``R3``: third of R).

    Args:
        part: the part.
        name: what the measure is called.
        again: which one, where several are called so.

    Raises:
        BadAddress: no measure is called that.
    """
    called = part.by_number.get(name, ())
    if again <= len(called) and again > 0:
        return called[again - 1]
    letter = _LETTER.match(name)
    if letter:
        index = _letter_index(part, letter["letter"], int(letter["nth"] or 1))
        if index is not None:
            return index
    first, last = part.measures[0].number, part.measures[-1].number
    raise BadAddress(f"There is no measure {name}: this part goes from {first} to {last}.")


def _letter_index(part: Part, letter: str, nth: int) -> int | None:
    for measure in part.measures:
        if (measure.rehearsal or "").casefold() == letter.casefold():
            later = whole_measures(part, range(measure.index, len(part.measures)))
            return later[nth - 1] if 0 < nth <= len(later) else None
    return None


def parse_span(part: Part, text: str) -> Span:
    """Read a span as it is written; see the head of this module.

    Raises:
        BadAddress: the words name no place, or the end stands before the start.
        EmptySpan: a landing is asked for where no note starts.
    """
    words = " ".join(text.split())
    plain = _LANDING.sub("", words)
    landing = plain != words
    pickup = _PICKUP.match(plain)
    span = _stretch(part, plain[pickup.end() :] if pickup else plain, text)
    if pickup:
        count = pickup["count"] or pickup["short"]
        span = replace(span, start=pickup_to(part, span.start, int(count) if count else None))
    if absolute(part, span.end) <= absolute(part, span.start):
        raise BadAddress(f"“{text}” ends before it starts.")
    span = Span(canonical(part, span.start), canonical(part, span.end), landing)
    if landing and not landing_notes(part, span.end):
        raise EmptySpan(f"No note starts right after “{plain}”, so it cannot land.")
    return span


def pickup_to(part: Part, barline: Position, count: int | None = None) -> Position:
    """Where the notes start that lead into a measure.

    Args:
        part: the part.
        barline: the start of the measure they lead into.
        count: how many; None for those after the last rest, or of the last beat if none stands in
            the second half of the measure before.

    Raises:
        BadAddress: there is no measure before, or it has fewer notes.
    """
    if not is_barline(part, barline) or barline.index == 0:
        raise BadAddress("A pickup leads into a measure that another one stands before.")
    index = home(part, barline.index - 1)
    attacks = attack_offsets(part, index)
    if count is not None:
        if not 0 < count <= len(attacks):
            name = part.measures[index].number
            raise BadAddress(f"There are {len(attacks)} notes in measure {name}.")
        return place_in(part, index, attacks[-count])
    return place_in(part, index, _usual_pickup(part, index, attacks))


def _usual_pickup(part: Part, index: int, attacks: Sequence[Fraction]) -> Fraction:
    if lead_of(part.measures[index]) > 0:
        return ZERO
    length = length_of(part, index)
    half = length / 2
    cut = [m.lead for m in halves(part, index) if m.lead >= half]
    if cut:
        return cut[0]  # what follows a repeat sign in the middle of a measure
    rests = [
        m.lead + n.end
        for m in halves(part, index)
        for n in m.notes
        if n.is_rest and not n.hidden and m.lead + n.end < length
    ]
    after = [at for at in attacks if at >= max(half, *rests, ZERO)]
    if rests and after and (max(rests) > half or after[0] in rests):
        return after[0]
    last_beat = max((at for at in beat_offsets(part, index) if at > 0), default=ZERO)
    return min((at for at in attacks if at >= max(half, last_beat)), default=last_beat)


def _stretch(part: Part, words: str, text: str) -> Span:
    pieces = _DASH.split(words)
    if len(pieces) > 2:
        raise _not_a_place(text)
    first = _PLACE.match(pieces[0])
    if first is None:
        raise _not_a_place(text)
    start, end = _read(part, first)
    if len(pieces) == 1:
        return Span(start, end)
    return Span(start, _last(part, first, pieces[1], text))


def _last(part: Part, first: re.Match[str], piece: str, text: str) -> Position:
    """The end of a stretch: a bare number counts what the start counts, where it says ``beats``."""
    index = _index(part, first)
    kind = (first["kind"] or "").casefold()
    if piece.isdecimal() and len(piece) <= 4:
        if kind in ("beats", "notes"):
            return _inside(part, index, kind, int(piece), None)[1]
        letter = _letter_of(first)
        named = part.by_number.get(piece, ())
        if letter and not any(i >= index for i in named):
            later = _letter_index(part, letter, int(piece))
            if later is not None and later >= index:
                return Position(beyond(part, later), ZERO)
    place = _PLACE.match(piece)
    if place is None:
        raise _not_a_place(text)
    start, end = _read(part, place)
    return start if place["before"] else end


def _letter_of(match: re.Match[str]) -> str:
    if match["letter"]:
        return match["letter"]
    found = _LETTER.match(match["name"] or "")
    return found["letter"] if found else ""


def _index(part: Part, match: re.Match[str]) -> int:
    if match["index"]:
        index = int(match["index"]) - 1
        if not 0 <= index < len(part.measures):
            raise BadAddress(f"This part has {len(part.measures)} measures.")
        return index
    if match["letter"]:
        return measure_index(part, match["letter"] + match["nth"])
    return measure_index(part, match["name"], int(match["again"] or 1))


def _read(part: Part, match: re.Match[str]) -> tuple[Position, Position]:
    """Start and end of one named measure, beat or note."""
    index = _index(part, match)
    kind, n = (match["kind"] or "").casefold(), match["n"]
    if match["dotted"]:
        kind, n = "beat", match["dotted"]
    if not kind:
        return Position(index, ZERO), Position(beyond(part, index), ZERO)
    return _inside(part, index, kind, int(n), match["more"])


def _inside(
    part: Part, index: int, kind: str, n: int, more: str | None
) -> tuple[Position, Position]:
    measure, length = part.measures[index], length_of(part, index)
    if kind.startswith("note"):
        attacks = [*attack_offsets(part, index), length]
        if not 0 < n < len(attacks):
            raise BadAddress(f"Measure {measure.number} has {len(attacks) - 1} notes, no {n}th.")
        return place_in(part, index, attacks[n - 1]), place_in(part, index, attacks[n])
    beats, lead = beats_of(measure.time), lead_of(measure)
    if n < 1 or beats.start(n - 1) - lead >= length or beats.start(n) <= lead:
        raise BadAddress(f"Measure {measure.number} has no beat {n}.")
    start, end = beats.start(n - 1) - lead, beats.start(n) - lead
    if more is not None:
        top, _, bottom = more.partition("/")
        if not int(bottom) or int(top) >= int(bottom):
            raise BadAddress(f"“{more}” is no part of a beat.")
        start += (end - start) * Fraction(int(top), int(bottom))
    return place_in(part, index, max(start, ZERO)), place_in(part, index, min(end, length))


def _not_a_place(text: str) -> BadAddress:
    return BadAddress(
        f"“{text[:60]}” is not a place: say 33-36, pickup to 33, 33 beat 3, 33 notes 5-8,"
        " R 3 or 61+."
    )


def beat_end(part: Part, index: int, offset: Fraction) -> int | None:
    """The beat of a whole measure that ends at an offset, counted from 1; None if none does."""
    measure = part.measures[index]
    into = offset + lead_of(measure)
    place, start, _ = beats_of(measure.time).slot(into)
    if start == into:
        return place
    return place + 1 if offset == length_of(part, index) else None
