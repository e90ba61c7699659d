"""A chunk map and its edits.

A map tiles the part: chunks in order, each starting where the one before ends, so that every note
belongs to exactly one chunk. Landings overlap by design and do not count.
"""

from dataclasses import dataclass, replace
from itertools import pairwise

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.half_measures import whole_measures
from crumb.core.score.model import ZERO, Part
from crumb.core.score.naming import span_label
from crumb.core.score.position import (
    Position,
    Span,
    beat_positions,
    canonical,
    is_held,
    landing_notes,
    whole,
)


@dataclass(frozen=True, slots=True)
class ChunkMap:
    """Spans in order from the first note to the last."""

    spans: tuple[Span, ...]

    def __bool__(self) -> bool:
        """Whether the part was divided at all."""
        return bool(self.spans)

    def at(self, place: int) -> Span:
        """The chunk at a place.

        Raises:
            ChunkEditRefused: there is no such chunk.
        """
        if not 0 <= place < len(self.spans):
            raise ChunkEditRefused("There is no such chunk any more.")
        return self.spans[place]


def one(part: Part) -> ChunkMap:
    """The whole part as a single chunk."""
    return ChunkMap((whole(part),))


def by_measures(part: Part, n: int) -> ChunkMap:
    """Chunks of n measures each; a pickup belongs with what follows, landings where they can be.

    Raises:
        ChunkEditRefused: n is not between 1 and 64, or the part is empty.
    """
    if not 1 <= n <= 64:
        raise ChunkEditRefused("A chunk holds between 1 and 64 measures.")
    count = len(part.measures)
    begins = whole_measures(part, range(count))
    first_full = 1 if part.has_pickup and count > 1 else 0
    edges = [0, *begins[first_full + n :: n], count]
    spans = [Span(Position(a, ZERO), Position(b, ZERO)) for a, b in pairwise(edges)]
    return ChunkMap(tuple(with_landing(part, span, on=True) for span in spans))


def with_landing(part: Part, span: Span, *, on: bool) -> Span:
    """The span with its landing on where a note allows it, or off."""
    return replace(span, landing=on and bool(landing_notes(part, span.end)))


def split(part: Part, chunks: ChunkMap, at: Position) -> ChunkMap:
    """Split the chunk that holds ``at`` in two there; the first half lands on the second.

    Raises:
        ChunkEditRefused: there is an edge already, a note is held there, or a half would be empty.
    """
    at = canonical(part, at)
    if is_held(part, at):
        raise ChunkEditRefused("A note is held here: cut where a note starts.")
    for place, span in enumerate(chunks.spans):
        if span.start < at < span.end:
            first = with_landing(part, Span(span.start, at), on=True)
            second = replace(span, start=at)
            _require_notes(part, first)
            _require_notes(part, second)
            return _replaced(chunks, place, 1, (first, second))
    raise ChunkEditRefused("There is an edge here already.")


def merge(part: Part, chunks: ChunkMap, place: int) -> ChunkMap:
    """Merge a chunk with the next one.

    Raises:
        ChunkEditRefused: it is the last chunk.
    """
    span = chunks.at(place)
    if place + 1 >= len(chunks.spans):
        raise ChunkEditRefused("This is the last chunk: there is nothing after it to merge with.")
    following = chunks.spans[place + 1]
    return _replaced(chunks, place, 2, (Span(span.start, following.end, following.landing),))


def move_edge(part: Part, chunks: ChunkMap, place: int, *, beats: int) -> ChunkMap:
    """Move the end of a chunk by beats (later if positive), and the next chunk's start with it.

    An edge never stops inside a note: it goes on to the next beat that is free.

    Raises:
        ChunkEditRefused: the last edge does not move, or a chunk would be left without a note.
    """
    return _with_edge(part, chunks, place, _moved(part, chunks.at(place).end, beats))


def move_edge_to(part: Part, chunks: ChunkMap, place: int, at: Position) -> ChunkMap:
    """Move the end of a chunk to a place, and the next chunk's start with it.

    Raises:
        ChunkEditRefused: a note is held there, the last edge does not move, or a chunk would be
            left without a note.
    """
    at = canonical(part, at)
    if is_held(part, at):
        raise ChunkEditRefused("A note is held here: an edge stands where a note starts.")
    return _with_edge(part, chunks, place, at)


def _with_edge(part: Part, chunks: ChunkMap, place: int, edge: Position) -> ChunkMap:
    span = chunks.at(place)
    if place + 1 >= len(chunks.spans):
        raise ChunkEditRefused("The end of the music does not move.")
    following = chunks.spans[place + 1]
    if not span.start < edge < following.end:
        raise ChunkEditRefused("There is no beat left to give away on that side.")
    first = with_landing(part, replace(span, end=edge), on=span.landing)
    second = replace(following, start=edge)
    _require_notes(part, first)
    _require_notes(part, second)
    return _replaced(chunks, place, 2, (first, second))


def _moved(part: Part, edge: Position, beats: int) -> Position:
    free = [p for p in beat_positions(part) if not is_held(part, p)]
    later = beats > 0
    for _ in range(abs(beats)):
        others = [p for p in free if (p > edge if later else p < edge)]
        if not others:
            raise ChunkEditRefused("There is no beat left to give away on that side.")
        edge = min(others) if later else max(others)
    return edge


def set_landing(part: Part, chunks: ChunkMap, place: int, *, on: bool) -> ChunkMap:
    """Turn a chunk's landing on or off.

    Raises:
        ChunkEditRefused: no note starts right after the chunk.
    """
    span = chunks.at(place)
    if on and not landing_notes(part, span.end):
        raise ChunkEditRefused(
            f"No note starts right after {span_label(part, span)}, so it has nothing to land on."
        )
    return _replaced(chunks, place, 1, (replace(span, landing=on),))


def _require_notes(part: Part, span: Span) -> None:
    first, last = canonical(part, span.start), canonical(part, span.end)
    for i in range(first.index, min(last.index, len(part.measures) - 1) + 1):
        measure = part.measures[i]
        low = first.at if i == first.index else ZERO
        high = last.at if i == last.index else measure.length
        if any(low <= n.at < high for n in measure.notes if not n.hidden):
            return
    raise ChunkEditRefused("That would leave a chunk without anything in it.")


def _replaced(chunks: ChunkMap, place: int, count: int, spans: tuple[Span, ...]) -> ChunkMap:
    return ChunkMap((*chunks.spans[:place], *spans, *chunks.spans[place + count :]))
