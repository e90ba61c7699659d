"""Chunks inside chunks: one set of edges, each with the depth from which it divides the part.

Depth 0 edges divide the part into its chunks; depth 1 edges divide those further, and so on down to
two notes. The chunks at a depth tile the part, because every edge of a lesser depth divides it too.
"""

from collections.abc import Iterable
from dataclasses import dataclass, replace

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.model import ZERO, Part
from crumb.core.score.position import Position, Span, canonical, is_held, landing_notes, whole
from crumb.core.split.chunk_map import ChunkMap

DEEPEST = 8


@dataclass(frozen=True, slots=True, order=True)
class Edge:
    """A cut between two chunks, and why it is there."""

    at: Position
    depth: int = 0
    reasons: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class NestedMap:
    """Edges in order; ``quiet`` holds (depth, end) of chunks whose landing was turned off."""

    edges: tuple[Edge, ...] = ()
    quiet: frozenset[tuple[int, Position]] = frozenset()
    is_split: bool = False

    @property
    def depth(self) -> int:
        """How many levels there are, at least one."""
        return max((edge.depth for edge in self.edges), default=0) + 1

    def level(self, part: Part, depth: int) -> ChunkMap:
        """The chunks at a depth, in order, each landing where a note allows it."""
        if not self.is_split:
            return ChunkMap(())
        cuts = [edge.at for edge in self.edges if edge.depth <= depth]
        ends = [*cuts, Position(len(part.measures), ZERO)]
        spans = []
        start = Position(0, ZERO)
        for end in ends:
            quiet = (depth, end) in self.quiet
            lands = not quiet and end.index < len(part.measures) and _lands(part, end)
            spans.append(Span(start, end, lands))
            start = end
        return ChunkMap(tuple(spans))

    def reasons_at(self, at: Position) -> tuple[str, ...]:
        """Why there is an edge at a place."""
        return next((edge.reasons for edge in self.edges if edge.at == at), ())


def _lands(part: Part, end: Position) -> bool:
    return bool(landing_notes(part, end))


def from_chunks(part: Part, chunks: ChunkMap) -> NestedMap:
    """A map of one level."""
    edges = tuple(Edge(span.end) for span in chunks.spans[:-1])
    made = NestedMap(edges, frozenset(), bool(chunks))
    return replace(made, quiet=_quiet(part, made, 0, chunks))


def _quiet(
    part: Part, nested: NestedMap, depth: int, chunks: ChunkMap
) -> frozenset[tuple[int, Position]]:
    others = {entry for entry in nested.quiet if entry[0] != depth}
    return frozenset(
        others
        | {
            (depth, span.end)
            for span in chunks.spans
            if not span.landing and span.end.index < len(part.measures) and _lands(part, span.end)
        }
    )


def with_level(part: Part, nested: NestedMap, depth: int, after: ChunkMap) -> NestedMap:
    """The map once the chunks of one depth were edited; what lies deeper stays where it was.

    An edge that two merged chunks shared goes down a level if there is one below; an edge that was
    moved keeps its depth.
    """
    before = {edge.at: edge for edge in nested.edges}
    old = {edge.at for edge in nested.edges if edge.depth <= depth}
    new = {span.end for span in after.spans[:-1]}
    gone, come = sorted(old - new), sorted(new - old)
    is_deeper = any(edge.depth > depth for edge in nested.edges)
    if len(gone) == 1 and len(come) == 1:
        moved = before.pop(gone[0])
        kept = before.get(come[0])
        level = min(moved.depth, kept.depth) if kept else moved.depth
        before[come[0]] = Edge(come[0], level, ("moved by hand",))
    else:
        for at in gone:
            if is_deeper:
                before[at] = replace(before[at], depth=depth + 1)
            else:
                del before[at]
        for at in come:
            reasons = before[at].reasons if at in before else ("cut by hand",)
            before[at] = Edge(at, depth, reasons)
    made = NestedMap(tuple(sorted(before.values())), nested.quiet, True)
    quiet = _quiet(part, made, depth, after)
    return replace(made, quiet=frozenset(q for q in quiet if q[1] in before))


def split_at_edges(
    part: Part, nested: NestedMap, edges: Iterable[Edge], *, within: Span | None = None
) -> NestedMap:
    """The map with proposed edges: of the whole part, or inside one chunk.

    Args:
        part: the part.
        nested: the map so far.
        edges: what is proposed, all of one depth.
        within: the chunk that is divided further; None starts the whole part anew.

    Raises:
        ChunkEditRefused: nothing to divide, or deeper than anybody reads.
    """
    fresh = [replace(e, at=canonical(part, e.at)) for e in edges]
    fresh = [e for e in fresh if not is_held(part, e.at)]
    if within is None:
        all_of_it = whole(part)
        inner = (e for e in sorted(fresh, reverse=True) if all_of_it.start < e.at < all_of_it.end)
        unique = {e.at: e for e in inner}
        return NestedMap(tuple(sorted(unique.values())), frozenset(), True)
    inside = [e for e in fresh if within.start < e.at < within.end]
    if not inside:
        raise ChunkEditRefused("There is nothing left to divide here.")
    if inside[0].depth > DEEPEST:
        raise ChunkEditRefused("Chunks are divided deep enough here.")
    depth = inside[0].depth
    kept = {
        e.at: e for e in nested.edges if not (within.start < e.at < within.end) or e.depth < depth
    }
    for edge in inside:
        kept.setdefault(edge.at, edge)
    return NestedMap(tuple(sorted(kept.values())), nested.quiet, True)


def merge_inside(nested: NestedMap, within: Span, depth: int) -> NestedMap:
    """The map with everything inside a chunk of this depth joined again."""
    edges = tuple(
        e for e in nested.edges if not (within.start < e.at < within.end and e.depth > depth)
    )
    return replace(nested, edges=edges)
