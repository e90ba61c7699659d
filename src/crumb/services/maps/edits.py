"""Edits of a chunk map, each with the name that undo shows."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from uuid import UUID

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.position import Position
from crumb.core.split import chunk_map, nested, proposals
from crumb.core.split.chunk_map import ChunkMap
from crumb.core.split.nested import Edge, NestedMap
from crumb.core.split.order import ORDERS
from crumb.core.survey.model import Survey
from crumb.services.library.pieces import PartInHand
from crumb.services.library.surveys import survey_of
from crumb.services.maps.chunks import OrderWish


@dataclass(frozen=True, slots=True)
class Desk:
    """The map, the part and the survey that an edit works on."""

    hand: PartInHand
    map: NestedMap
    order: OrderWish

    @property
    def survey(self) -> Survey:
        """What the part asks for, worked out when an edit needs it."""
        return survey_of(self.hand)


@dataclass(frozen=True, slots=True)
class Change:
    """An edit with the name that undo shows."""

    name: str
    edit: Callable[[Desk], NestedMap | OrderWish]


def _at_level(name: str, depth: int, edit: Callable[[PartInHand, ChunkMap], ChunkMap]) -> Change:
    def apply_to(desk: Desk) -> NestedMap:
        part = desk.hand.part
        level = desk.map.level(part, depth) or chunk_map.one(part)
        return nested.with_level(part, desk.map, depth, edit(desk.hand, level))

    return Change(name, apply_to)


def by_measures(n: int) -> Change:
    """Split the whole part again, n measures a chunk."""
    name = f"Every {n} measures" if n > 1 else "Every measure"
    return Change(
        name,
        lambda desk: nested.split_at_edges(
            desk.hand.part, desk.map, proposals.every(desk.hand.part, n)
        ),
    )


_PROPOSALS: dict[str, tuple[str, Callable[[Desk], list[Edge]]]] = {
    "phrases": ("By phrases", lambda desk: proposals.by_phrases(desk.hand.part)),
    "lines": ("By lines", lambda desk: proposals.by_lines(desk.hand.part)),
    "marks": ("By marks", lambda desk: proposals.by_marks(desk.hand.part)),
    "load": ("By load", lambda desk: proposals.by_load(desk.hand.part, desk.survey)),
}


def propose(by: str) -> Change:
    """Split the whole part again by phrases, lines, marks or load."""
    name, edges = _PROPOSALS[by]
    return Change(name, lambda desk: nested.split_at_edges(desk.hand.part, desk.map, edges(desk)))


def split_inside(place: int, depth: int, *, other_way: bool = False) -> Change:
    """Split one chunk into smaller ones inside it; the other way, at other edges than before."""
    edges = proposals.inner_other_way if other_way else proposals.inner

    def inside(desk: Desk) -> NestedMap:
        part = desk.hand.part
        span = desk.map.level(part, depth).at(place)
        return nested.split_at_edges(part, desk.map, edges(part, span, depth + 1), within=span)

    return Change("Split inside another way" if other_way else "Split inside", inside)


def merge_inside(place: int, depth: int) -> Change:
    """Merge all chunks inside a chunk."""

    def flat(desk: Desk) -> NestedMap:
        span = desk.map.level(desk.hand.part, depth).at(place)
        return nested.merge_inside(desk.map, span, depth)

    return Change("Merge inside", flat)


def chunk_of_difference(first: Position, last: Position) -> Change:
    """Make the notes that differ between near kin a chunk of the deepest level."""

    def cut_out(desk: Desk) -> NestedMap:
        part = desk.hand.part
        span = proposals.delta_span(part, first, last)
        depth = desk.map.depth
        around = ChunkMap(()) if not desk.map.is_split else desk.map.level(part, 0)
        holder = next(
            (c for c in around.spans if c.start <= span.start < c.end), chunk_map.one(part).at(0)
        )
        edges = [Edge(p, depth, ("only what differs",)) for p in (span.start, span.end)]
        return nested.split_at_edges(part, desk.map, edges, within=holder)

    return Change("The difference as a chunk", cut_out)


def split(at: Position, depth: int = 0) -> Change:
    """Split the chunk that holds a place; a part that is not split yet is one chunk."""
    return _at_level("Split", depth, lambda hand, chunks: chunk_map.split(hand.part, chunks, at))


def merge(place: int, depth: int = 0) -> Change:
    """Merge a chunk with the next."""
    return _at_level("Merge", depth, lambda hand, chunks: chunk_map.merge(hand.part, chunks, place))


def move_edge(place: int, beats: int, depth: int = 0) -> Change:
    """Move the end of a chunk by beats."""
    return _at_level(
        "Move edge",
        depth,
        lambda hand, chunks: chunk_map.move_edge(hand.part, chunks, place, beats=beats),
    )


def move_edge_to(place: int, at: Position, depth: int = 0) -> Change:
    """Move the end of a chunk to a place."""
    return _at_level(
        "Move edge",
        depth,
        lambda hand, chunks: chunk_map.move_edge_to(hand.part, chunks, place, at),
    )


def set_landing(place: int, *, on: bool, depth: int = 0) -> Change:
    """Set the landing of a chunk on or off."""
    return _at_level(
        "Landing on" if on else "Landing off",
        depth,
        lambda hand, chunks: chunk_map.set_landing(hand.part, chunks, place, on=on),
    )


def set_order(kind: str, by_hand: Sequence[UUID] = ()) -> Change:
    """Set the order in which students learn the chunks.

    Raises:
        ChunkEditRefused: there is no such order.
    """
    if kind not in ORDERS:
        raise ChunkEditRefused(f"There is no order called {kind[:20]}.")
    wish = OrderWish(kind, tuple(by_hand) if kind == "hand" else ())
    return Change("Order", lambda _: wish)
