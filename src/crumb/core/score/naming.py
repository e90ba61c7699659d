"""What a span is called: the shortest name that says exactly it when it is read again."""

import re
from collections.abc import Iterator

from crumb.core.errors import CrumbError
from crumb.core.score.meter import beat_starts, beats_of, lead_of
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Position, Span, beat_of, canonical
from crumb.core.score.written import LANDS, attack_offsets, beat_end, parse_span, pickup_to

_PLAIN = re.compile(r"[0-9]{1,5}[A-Za-z]?|[A-Za-z][0-9]{1,5}")
_MOST_PICKUP = 12  # notes


def span_label(part: Part, span: Span, *, short: bool = False) -> str:
    """A span as it is written: ``33–36``, ``pickup to 33–36``, ``33 beat 3``, ``33 notes 5–8``.

    Args:
        part: the part.
        span: where in it.
        short: as on a bracket, ``›33–36``.
    """
    whole = Span(canonical(part, span.start), canonical(part, span.end), span.landing)
    lands = LANDS if span.landing else ""
    if whole.start.at == 0 and whole.end.at == 0 and not _leads(part, whole):
        first, last = whole.start.index, whole.end.index - 1
        return _joined(measure_name(part, first), measure_name(part, last)) + lands
    bare = Span(whole.start, whole.end)
    for name in _names(part, bare, short):
        if _says(part, name, bare):
            return name + lands
    return _exactly(part, bare) + lands


def place_label(part: Part, at: Position) -> str:
    """A place as it is written: ``33``, ``33 beat 3``, ``33 note 5``."""
    return next(_starts(part, canonical(part, at)), None) or _beat_and_more(part, at)


def measure_name(part: Part, index: int) -> str:
    """A measure's printed number; told apart from others of the same, or counted if unsayable."""
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
    return span.start.index == 0 and span.end.index > 1 and lead_of(first) > 0


def _names(part: Part, span: Span, short: bool) -> Iterator[str]:
    yield from _with_pickup(part, span, short)
    first, last = span.start, span.end
    final = last.index if last.at > 0 else last.index - 1
    if first.index == final:
        yield from _within(part, span)
    closing = part.measures[final]
    end = last.at if last.at > 0 else closing.length
    for opens in _starts(part, first):
        for closes in _ends(part, final, end == closing.length, beat_end(closing, end), span):
            yield f"{opens}–{closes}"


def _with_pickup(part: Part, span: Span, short: bool) -> Iterator[str]:
    """From late in one measure, or the short first one, over all of the next."""
    start = span.start
    measure = part.measures[start.index]
    barline = Position(start.index + 1, ZERO)
    if span.end < Position(start.index + 2, ZERO) or barline.index >= len(part.measures):
        return
    if start.at < measure.length / 2 and not _leads(part, span):
        return
    rest = span_label(part, Span(barline, span.end))
    if pickup_to(part, barline) == start:
        yield f"›{rest}" if short else f"pickup to {rest}"
    count = sum(at >= start.at for at in attack_offsets(measure))
    if 0 < count <= _MOST_PICKUP:
        yield f"{count}›{rest}" if short else f"{count}-note pickup to {rest}"


def _within(part: Part, span: Span) -> Iterator[str]:
    """Inside one measure: its beats, then its notes."""
    index = span.start.index
    measure = part.measures[index]
    name = measure_name(part, index)
    end = span.end.at if span.end.index == index else measure.length
    last = beat_end(measure, end)
    if last is not None and (span.start.at in beat_starts(measure) or span.start.at == 0):
        first = beats_of(measure.time).slot(span.start.at + lead_of(measure))[0] + 1
        yield f"{name} beat {first}" if first == last else f"{name} beats {first}–{last}"
    attacks = [*attack_offsets(measure), measure.length]
    if span.start.at in attacks and end in attacks:
        one, two = attacks.index(span.start.at) + 1, attacks.index(end)
        yield f"{name} note {one}" if one == two else f"{name} notes {one}–{two}"


def _starts(part: Part, at: Position) -> Iterator[str]:
    measure = part.measures[at.index]
    name = measure_name(part, at.index)
    if at.at == 0:
        yield name
        return
    if at.at in beat_starts(measure):
        yield f"{name} beat {beat_of(measure, at.at)}"
    attacks = attack_offsets(measure)
    if at.at in attacks:
        yield f"{name} note {attacks.index(at.at) + 1}"


def _ends(part: Part, index: int, is_whole: bool, beat: int | None, span: Span) -> Iterator[str]:
    name = measure_name(part, index)
    if is_whole:
        yield name
        return
    if beat is not None:
        yield f"{name} beat {beat}"
    attacks = attack_offsets(part.measures[index])
    if span.end.at in attacks[1:]:
        yield f"{name} note {attacks.index(span.end.at)}"


def _exactly(part: Part, span: Span) -> str:
    """Places between beats where no note starts, as a share of the beat."""
    opens = next(_starts(part, span.start), None) or _beat_and_more(part, span.start)
    if span.end.at == 0:
        return f"{opens}–{measure_name(part, span.end.index - 1)}"
    return f"{opens}–before {_beat_and_more(part, span.end)}"


def _beat_and_more(part: Part, at: Position) -> str:
    whole, more = divmod(beat_of(part.measures[at.index], at.at), 1)
    name = f"{measure_name(part, at.index)} beat {whole}"
    return f"{name} and {more}" if more else name
