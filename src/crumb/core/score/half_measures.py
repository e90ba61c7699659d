"""A measure that a repeat cuts in two is one measure, though it is written as two.

Exporters write the second half as a measure of its own, without a number, with the same one or a
letter after it (MusicXML 4.0: ``implicit`` is for such measures). It is counted, named and found as
what it is.
"""

from collections.abc import Iterable, Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise
from string import ascii_letters

from crumb.core.score.meter import beats_of, lead_of
from crumb.core.score.model import Measure, Part
from crumb.core.score.position import Position


def with_halves(measures: Sequence[Measure]) -> list[Measure]:
    """Measures with the second halves among them known as such."""
    made = list(measures)
    for before, measure in pairwise(measures):
        before = made[before.index]
        if _continues(before, measure):
            made[measure.index] = replace(measure, number=before.number, lead=before.length)
    return made


def _continues(before: Measure, measure: Measure) -> bool:
    # The plainest question first: nearly every measure has a number of its own.
    own = measure.number.rstrip(ascii_letters)  # 7a goes on with 7
    is_numbered = own[:1].isdigit() and own != before.number
    if is_numbered and not measure.implicit:
        return False
    if before.lead or lead_of(before) or measure.time != before.time or not before.length:
        return False
    return before.length + measure.length == before.nominal


def home(part: Part, index: int) -> int:
    """The index a measure begins at: its own, or that of its first half."""
    return index - 1 if index < len(part.measures) and part.measures[index].lead else index


def beyond(part: Part, index: int) -> int:
    """The index after a whole measure."""
    after = home(part, index) + 1
    return after + 1 if after < len(part.measures) and part.measures[after].lead else after


def halves(part: Part, index: int) -> Sequence[Measure]:
    """The halves of a measure: one, or two."""
    return part.measures[home(part, index) : beyond(part, index)]


def is_barline(part: Part, at: Position) -> bool:
    """Whether a place is the start of a whole measure, or the end of the part."""
    return at.at == 0 and home(part, at.index) == at.index


def offset_of(part: Part, at: Position) -> tuple[int, Fraction]:
    """Where a measure begins, and how far into the whole of it a place lies."""
    first = home(part, at.index)
    return first, at.at + (part.measures[at.index].lead if first < at.index else 0)


def place_in(part: Part, index: int, offset: Fraction) -> Position:
    """The place so far into a whole measure."""
    for measure in halves(part, index):
        if offset < measure.lead + measure.length:
            return Position(measure.index, offset - measure.lead)
    return Position(beyond(part, index), Fraction(0))


def length_of(part: Part, index: int) -> Fraction:
    """Quarter notes of a whole measure."""
    last = halves(part, index)[-1]
    return last.lead + last.length


def attack_offsets(part: Part, index: int) -> list[Fraction]:
    """Where something is struck in a whole measure, in order, chords once."""
    return sorted(
        {m.lead + note.at for m in halves(part, index) for note in m.notes if note.is_attack}
    )


def beat_offsets(part: Part, index: int) -> list[Fraction]:
    """Where beats begin in a whole measure; a pickup's are counted to the barline."""
    measure = part.measures[home(part, index)]
    lead = lead_of(measure)
    edges = beats_of(measure.time).edges(lead, lead + length_of(part, index))
    return [at - lead for at in edges]


def whole_measures(part: Part, indexes: Iterable[int]) -> list[int]:
    """The indexes at which a whole measure begins."""
    return [index for index in indexes if home(part, index) == index]
