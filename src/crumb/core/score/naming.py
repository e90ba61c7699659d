"""Names of spans: the shortest that reads back as exactly the same span."""

import re
from collections.abc import Iterator
from fractions import Fraction

from crumb.core.errors import CrumbError
from crumb.core.score.half_measures import (
    attack_offsets,
    beat_offsets,
    beyond,
    home,
    is_barline,
    length_of,
    offset_of,
)
from crumb.core.score.meter import beats_of, lead_of
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Position, Span, beat_of, canonical, landing_notes
from crumb.core.score.written import LANDS, beat_end, parse_span, pickup_to

_PLAIN = re.compile(r"[0-9]{1,5}[A-Za-z]?|[A-Za-z][0-9]{1,5}")
_MOST_PICKUP = 4  # notes


def span_label(part: Part, span: Span, *, short: bool = False) -> str:
    """A span as it is written: ``33–36``, ``pickup to 33–36``, ``33 beat 3``, ``33 notes 5–8``.

    Args:
        part: the part.
        span: where in it.
        short: as on a bracket, ``›33–36``.
    """
    whole = Span(canonical(part, span.start), canonical(part, span.end), span.landing)
    lands = LANDS if span.landing and landing_notes(part, whole.end) else ""
    is_whole = is_barline(part, whole.start) and is_barline(part, whole.end)
    if is_whole and not _leads(part, whole):
        first, last = whole.start.index, home(part, whole.end.index - 1)
        return _joined(measure_name(part, first), measure_name(part, last)) + lands
    bare = Span(whole.start, whole.end)
    for name in _names(part, bare, short):
        if _says(part, name, bare):
            return name + lands
    return _exactly(part, bare) + lands


def bracket_label(part: Part, span: Span, label: str) -> str:
    """The short form of a span's label: only a pickup has one of its own."""
    return span_label(part, span, short=True) if "pickup" in label else label


def place_label(part: Part, at: Position) -> str:
    """A place as it is written: ``33``, ``33 beat 3``, ``33 note 5``."""
    return next(_starts(part, canonical(part, at)), None) or _beat_and_more(part, at)


def measure_name(part: Part, index: int) -> str:
    """A measure's printed number; told apart from others of the same, or counted if unsayable."""
    index = home(part, index)
    number = part.measures[index].number
    if _PLAIN.fullmatch(number):
        again = part.by_number[number].index(index)
        return number if again == 0 else f"{number}({again + 1})"
    return f"#{index + 1}"


def _says(part: Part, name: str, span: Span) -> bool:
    try:
        return parse_span(part, name) == span
    except CrumbError:
        return False


def _joined(first: str, last: str) -> str:
    return first if first == last else f"{first}–{last}"


def _leads(part: Part, span: Span) -> bool:
    """Whether a span opens with the pickup of the whole part."""
    first = part.measures[0]
    return span.start == Position(0, ZERO) and span.end.index > 1 and lead_of(first) > 0


def _names(part: Part, span: Span, short: bool) -> Iterator[str]:
    yield from _with_pickup(part, span, short)
    index, _ = offset_of(part, span.start)
    final, end = _last_measure(part, span.end)
    if index == final:
        yield from _within(part, span, end)
    for opens in _starts(part, span.start):
        for closes in _ends(part, final, end):
            yield f"{opens}–{closes}"


def _last_measure(part: Part, end: Position) -> tuple[int, Fraction]:
    """The measure a span ends in, and how far into the whole of it."""
    if not is_barline(part, end):
        return offset_of(part, end)
    index = home(part, end.index - 1)
    return index, length_of(part, index)


def _with_pickup(part: Part, span: Span, short: bool) -> Iterator[str]:
    """From late in one measure, or the short first one, over all of the next."""
    index, offset = offset_of(part, span.start)
    barline = Position(beyond(part, index), ZERO)
    if barline.index >= len(part.measures):
        return
    if span.end < Position(beyond(part, barline.index), ZERO):
        return
    if offset < length_of(part, index) / 2 and not _leads(part, span):
        return
    rest = span_label(part, Span(barline, span.end))
    if pickup_to(part, barline) == span.start:
        yield f"›{rest}" if short else f"pickup to {rest}"
    count = sum(at >= offset for at in attack_offsets(part, index))
    if 0 < count <= _MOST_PICKUP:
        yield f"{count}›{rest}" if short else f"{count}-note pickup to {rest}"


def _within(part: Part, span: Span, end: Fraction) -> Iterator[str]:
    """Inside one measure: its beats, then its notes."""
    index, offset = offset_of(part, span.start)
    measure, name = part.measures[index], measure_name(part, index)
    last = beat_end(part, index, end)
    if last is not None and (offset in beat_offsets(part, index) or offset == 0):
        first = beats_of(measure.time).slot(offset + lead_of(measure))[0] + 1
        yield f"{name} beat {first}" if first == last else f"{name} beats {first}–{last}"
    attacks = [*attack_offsets(part, index), length_of(part, index)]
    if offset in attacks and end in attacks:
        one, two = attacks.index(offset) + 1, attacks.index(end)
        yield f"{name} note {one}" if one == two else f"{name} notes {one}–{two}"


def _starts(part: Part, at: Position) -> Iterator[str]:
    index, offset = offset_of(part, at)
    name = measure_name(part, index)
    if offset == 0:
        yield name
        return
    if offset in beat_offsets(part, index):
        yield f"{name} beat {beat_of(part.measures[index], offset)}"
    attacks = attack_offsets(part, index)
    if offset in attacks:
        yield f"{name} note {attacks.index(offset) + 1}"


def _ends(part: Part, index: int, end: Fraction) -> Iterator[str]:
    name = measure_name(part, index)
    if end == length_of(part, index):
        yield name
        return
    beat = beat_end(part, index, end)
    if beat is not None:
        yield f"{name} beat {beat}"
    attacks = attack_offsets(part, index)
    if end in attacks[1:]:
        yield f"{name} note {attacks.index(end)}"


def _exactly(part: Part, span: Span) -> str:
    """Places between beats where no note starts, as a share of the beat."""
    opens = next(_starts(part, span.start), None) or _beat_and_more(part, span.start)
    if is_barline(part, span.end):
        return f"{opens}–{measure_name(part, span.end.index - 1)}"
    return f"{opens}–before {_beat_and_more(part, span.end)}"


def _beat_and_more(part: Part, at: Position) -> str:
    index, offset = offset_of(part, at)
    whole, more = divmod(beat_of(part.measures[index], offset), 1)
    name = f"{measure_name(part, index)} beat {whole}"
    return f"{name} and {more}" if more else name
