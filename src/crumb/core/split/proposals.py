"""Proposed splits, with reasons: phrases, lines, marks, fixed lengths, load; and further down."""

from bisect import bisect_left, bisect_right
from collections.abc import Sequence
from dataclasses import replace
from fractions import Fraction
from itertools import pairwise

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.half_measures import is_barline
from crumb.core.score.model import ZERO, Measure, Part
from crumb.core.score.position import (
    Position,
    Span,
    absolute,
    beat_positions,
    canonical,
    is_held,
    landing_notes,
    position_at,
)
from crumb.core.split import by_load as load
from crumb.core.split.chunk_map import by_measures, with_landing
from crumb.core.split.nested import Edge
from crumb.core.split.phrases import phrase_edges
from crumb.core.survey.model import Survey

_FEWEST = 2  # notes of a chunk
_LINE = 4  # measures of a line where the file names none


def by_phrases(part: Part) -> list[Edge]:
    """An edge before each phrase; where no notes are known, after four measures or at a mark."""
    return _counted_off(part) if part.is_blank else worth_playing(part, phrase_edges(part))


def by_load(part: Part, survey: Survey) -> list[Edge]:
    """An edge before each phrase, and inside those that are too much at once."""
    return worth_playing(part, load.by_load(part, survey))


def _counted_off(part: Part) -> list[Edge]:
    """Four measures at a time, counted anew from whatever is printed at a barline."""
    marks = {edge.at: edge for edge in by_marks(part)}
    found, last = [], 1 if part.has_pickup else 0
    for measure in part.measures[1:]:
        at = Position(measure.index, ZERO)
        if measure.lead and at not in marks:
            last += 1  # the second half of a measure counts with the first
            continue
        if at in marks or measure.index - last == _LINE:
            found.append(marks.get(at) or Edge(at, 0, (f"{_LINE} measures",)))
            last = measure.index
    return found


def by_lines(part: Part) -> list[Edge]:
    """An edge where the file starts a new line or page; every four measures if it names none."""
    found = [
        Edge(Position(m.index, ZERO), 0, ("a new page" if m.new_page else "a new line",))
        for m in part.measures[1:]
        if m.new_system or m.new_page
    ]
    if found:
        return found
    reason = (f"the file names no lines: {_LINE} measures a line",)
    return [Edge(span.end, 0, reason) for span in by_measures(part, _LINE).spans[:-1]]


def by_marks(part: Part) -> list[Edge]:
    """An edge at rehearsal marks, double bars, repeats and changes of key, meter and tempo."""
    found = []
    for before, measure in pairwise(part.measures):
        reasons = mark_reasons(before, measure)
        if reasons:
            found.append(Edge(Position(measure.index, ZERO), 0, tuple(reasons)))
    return found


def mark_reasons(before: Measure, measure: Measure) -> list[str]:
    """What is printed at the barline between two measures that divides music."""
    reasons = []
    if measure.rehearsal:
        reasons.append(f"rehearsal mark {measure.rehearsal}")
    ends = [b for b in before.barlines if b.side == "right"]
    if any(b.repeat == "backward" for b in ends):
        reasons.append("a repeat ends")
    elif any(b.style in ("light-light", "light-heavy") for b in ends):
        reasons.append("a double bar")
    if any(b.repeat == "forward" for b in measure.barlines if b.side == "left"):
        reasons.append("a repeat starts")
    if measure.key != before.key:
        reasons.append("a new key")
    if measure.time != before.time and measure.index > 1:
        reasons.append(f"{measure.time.text} starts")
    marks = [d for d in measure.directions if d.at == 0]
    if any(d.kind == "tempo" for d in marks):
        reasons.append("a new tempo")
    if any(d.kind in ("segno", "coda") for d in marks):
        reasons.append("a sign to jump to")
    return reasons


def worth_playing(part: Part, edges: Sequence[Edge]) -> list[Edge]:
    """Edges without those that would leave a chunk of one note or none.

    Such a chunk goes with what follows; at the end with what comes before.
    """
    struck = sorted({Position(m.index, n.at) for m, n in part.each_note() if n.is_attack})
    kept: list[Edge] = []
    since = 0
    for edge in sorted(edges):
        place = bisect_left(struck, edge.at)
        if place - since >= _FEWEST:
            kept.append(edge)
            since = place
    while kept and len(struck) - bisect_left(struck, kept[-1].at) < _FEWEST:
        kept.pop()
    return kept


def every(part: Part, n: int) -> list[Edge]:
    """An edge every n measures.

    Raises:
        ChunkEditRefused: n is not between 1 and 64.
    """
    reason = (f"every {n} measures" if n > 1 else "every measure",)
    return [Edge(span.end, 0, reason) for span in by_measures(part, n).spans[:-1]]


# Further down ----------------------------------------------------------------------------------


def inner(part: Part, span: Span, depth: int) -> list[Edge]:
    """A chunk divided one level further: phrases, measures, beats, then two notes at a time.

    Raises:
        ChunkEditRefused: two notes are left, which is as small as a chunk gets.
    """
    ways = (
        (_phrases_inside, "a phrase"),
        (_measures_inside, "a measure"),
        (_beats_inside, "a beat"),
        (_pairs_inside, "two notes"),
    )
    for places, name in ways:
        found = places(part, span)
        if found:
            return [Edge(at, depth, (name,)) for at in found]
    raise ChunkEditRefused("This is as small as a chunk gets: two notes.")


def inner_other_way(part: Part, span: Span, depth: int) -> list[Edge]:
    """A chunk divided a second way, at other places than its beats.

    Raises:
        ChunkEditRefused: the chunk holds too little to be cut in two ways.
    """
    _, pieces = two_partitions(part, span)
    return [Edge(piece.start, depth, ("cut another way",)) for piece in pieces[1:]]


def _phrases_inside(part: Part, span: Span) -> list[Position]:
    if span.end.index - span.start.index <= 4:
        return []
    return [e.at for e in by_phrases(part) if span.start < e.at < span.end]


def _measures_inside(part: Part, span: Span) -> list[Position]:
    found = (Position(i, ZERO) for i in range(span.start.index + 1, span.end.index + 1))
    return [
        p
        for p in found
        if span.start < p < span.end and is_barline(part, p) and not is_held(part, p)
    ]


def _beats_inside(part: Part, span: Span) -> list[Position]:
    return [p for p in beat_positions(part) if span.start < p < span.end and not is_held(part, p)]


def _pairs_inside(part: Part, span: Span) -> list[Position]:
    places = [
        Position(m.index, n.at)
        for m in part.measures[span.start.index : span.end.index + 1]
        for n in m.notes
        if n.is_attack
    ]
    inside = sorted({p for p in places if span.start <= p < span.end})
    if len(inside) < 2 or (len(inside) == 2 and not landing_notes(part, span.end)):
        return []
    # With its landing each piece is two notes.
    return [p for p in inside[1:] if not is_held(part, p)]


# Seams and the second way of cutting -------------------------------------------------------------


def seams(part: Part, spans: Sequence[Span]) -> list[Span]:
    """The crossing from each chunk into the next: last beat into first beat, with its landing."""
    beats = beat_positions(part)
    found = []
    for one, two in pairwise(spans):
        before, after = bisect_left(beats, one.end) - 1, bisect_right(beats, two.start)
        start = max(beats[before], one.start) if before >= 0 else one.start
        end = min(beats[after], two.end) if after < len(beats) else two.end
        found.append(with_landing(part, Span(start, end), on=True))
    return found


def two_partitions(part: Part, span: Span) -> tuple[list[Span], list[Span]]:
    """A hard run cut twice, differently, so that thinking pauses do not harden at one place.

    The first way is by beat. The second follows slurs where they do not start on the beat, and
    starts each group from its second note otherwise.

    Raises:
        ChunkEditRefused: the span holds too little to be cut in two ways.
    """
    by_beat = _beats_inside(part, span)
    starts = [
        Position(m.index, n.at)
        for m in part.measures[span.start.index : span.end.index + 1]
        for n in m.notes
        if n.is_attack and any(s.end == "start" for s in n.slurs)
    ]
    slurred = [p for p in starts if span.start < p < span.end and p not in by_beat]
    other = slurred or _second_notes(part, span, by_beat)
    if not by_beat or not other:
        raise ChunkEditRefused("This is too short to be cut in two ways.")
    return _pieces(part, span, by_beat), _pieces(part, span, sorted(set(other)))


def beat_pieces(part: Part, span: Span) -> list[Span]:
    """A span cut at every beat that starts with a note."""
    return _pieces(part, span, _beats_inside(part, span))


def _second_notes(part: Part, span: Span, beats: Sequence[Position]) -> list[Position]:
    found = []
    for beat in [span.start, *beats]:
        start = absolute(part, beat)
        later = [
            start_of
            for m in part.measures[beat.index : beat.index + 2]
            for n in m.notes
            if n.is_attack
            and start < (start_of := part.starts[m.index] + n.at) < absolute(part, span.end)
        ]
        if later:
            place = position_at(part, min(later))
            if place not in beats and not is_held(part, place):
                found.append(place)
    return found


def _pieces(part: Part, span: Span, cuts: Sequence[Position]) -> list[Span]:
    ends = [*cuts, span.end]
    starts = [span.start, *cuts]
    return [
        with_landing(part, Span(a, b), on=True) if b != span.end else replace(span, start=a)
        for a, b in zip(starts, ends, strict=True)
    ]


def delta_span(part: Part, first: Position, last: Position) -> Span:
    """Only the notes that differ between near twins, from one before to one after with landing."""
    attacks = sorted(
        {
            part.starts[m.index] + n.at
            for m in part.measures[max(first.index - 1, 0) : last.index + 2]
            for n in m.notes
            if n.is_attack
        }
    )
    low, high = absolute(part, first), absolute(part, last)
    before = [a for a in attacks if a < low]
    after = [a for a in attacks if a > high]
    start = before[-1] if before else low
    end = after[0] if after else part.length
    span = Span(position_at(part, start), canonical(part, position_at(part, Fraction(end))))
    return with_landing(part, span, on=True)
