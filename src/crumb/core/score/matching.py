"""Matching of a corrected part's measures to the old one's."""

from collections.abc import Sequence
from difflib import SequenceMatcher
from fractions import Fraction

from crumb.core.score.model import Measure, Part, Printed
from crumb.core.score.position import Position, Span


def carried_measures(old: Part, new: Part) -> dict[int, int]:
    """Index in the old part to index in the new, for measures whose notes are the same.

    Order is kept: what was moved elsewhere counts as new there. Where one of the parts has no
    notes, measures are the same that are printed in one place, or else bear one number.
    """
    if old.is_on_pages and new.is_on_pages:
        return _carried_by_place(old, new)
    if old.is_blank or new.is_blank:
        return _carried_by_number(old, new)
    a, b = [_content(m) for m in old.measures], [_content(m) for m in new.measures]
    found = {}
    for block in SequenceMatcher(None, a, b, autojunk=False).get_matching_blocks():
        found.update({block.a + k: block.b + k for k in range(block.size)})
    return found


def _carried_by_place(old: Part, new: Part) -> dict[int, int]:
    """Measures whose places on a page are mostly one: a barline that was moved changes none."""
    found: dict[int, int] = {}
    after = -1
    for measure in old.measures:
        same = [
            other.index
            for other in new.measures[after + 1 :]
            if measure.length == other.length and _is_one_place(measure.printed, other.printed)
        ]
        if same:
            after = found[measure.index] = same[0]
    return found


_MOSTLY = Fraction(3, 5)


def _is_one_place(a: Printed | None, b: Printed | None) -> bool:
    if a is None or b is None or a.page != b.page:
        return False
    middle = (a.first_line + a.last_line) / 2
    if not b.first_line <= middle <= b.last_line:
        return False
    shared = min(a.right, b.right) - max(a.left, b.left)
    return shared >= _MOSTLY * max(a.right - a.left, b.right - b.left)


def _carried_by_number(old: Part, new: Part) -> dict[int, int]:
    """Measures of one number and one length: the part was on paper, and now its notes are here."""
    pairs = SequenceMatcher(
        None,
        [(m.number, m.length) for m in old.measures],
        [(m.number, m.length) for m in new.measures],
        autojunk=False,
    ).get_matching_blocks()
    return {b.a + k: b.b + k for b in pairs for k in range(b.size)}


def carried_position(position: Position, carried: dict[int, int]) -> Position | None:
    """A place of the old part in the new one; None if its measure is not there.

    The start of a measure that changed is the end of the one before it, if that is there.
    """
    if position.index in carried:
        return Position(carried[position.index], position.at)
    before = carried.get(position.index - 1)
    return Position(before + 1, position.at) if before is not None and not position.at else None


def carried_span(span: Span, carried: dict[int, int]) -> Span | None:
    """A span of the old part in the new one; None unless every measure of it is there in order."""
    last = span.end.index - 1 if span.end.at == 0 else span.end.index
    places = [carried.get(index) for index in range(span.start.index, last + 1)]
    first = places[0] if places else None
    if first is None or places != list(range(first, first + len(places))):
        return None
    end = Position(first + span.end.index - span.start.index, span.end.at)
    return Span(Position(first, span.start.at), end, span.landing)


def carried_through(span: Span, moves: Sequence[dict[int, int]]) -> Span | None:
    """A span of an old part after each new version in turn; None once the music is not the same."""
    found: Span | None = span
    for moved in moves:
        if found is None:
            return None
        found = carried_span(found, moved)
    return found


def _content(measure: Measure) -> tuple[object, ...]:
    """The content that makes a measure the same: meter and notes, not layout, marks, numbers."""
    return (
        measure.length,
        *(
            (n.at, n.duration, n.pitch, n.place, n.is_rest, bool(n.grace), n.tie, n.voice)
            for n in measure.notes
            if not n.hidden
        ),
    )
