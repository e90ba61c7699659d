"""The chunks of a part as they stand: everybody's map, or a section's own."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.score.naming import bracket_label, place_label, span_label
from crumb.core.score.position import Position, Span, absolute, sounding
from crumb.core.split import nested
from crumb.core.split.chunk_map import ChunkMap
from crumb.core.split.nested import Edge, NestedMap
from crumb.services.errors import NotFound
from crumb.services.library.pieces import PartInHand
from crumb.services.lru_cache import LruCache
from crumb.store.codecs import maps as codec
from crumb.store.queries import maps as ask
from crumb.store.tables import Chunk, ChunkMapVersion, PartMap


@dataclass(frozen=True, slots=True)
class ChunkView:
    """A chunk as it stands in the map."""

    id: UUID
    label: str
    span: Span
    tab: str
    """Its label as it fits on a bracket."""


@dataclass(frozen=True, slots=True)
class OrderWish:
    """The order to learn in: its kind, and chunk ids where it was set by hand."""

    kind: str = "front"
    by_hand: tuple[UUID, ...] = ()


@dataclass(frozen=True, slots=True)
class MapView:
    """The map in force. Version 0 is a part that was not split yet.

    ``levels`` are the chunks at each depth; the first of them is ``chunks``.
    """

    version: int
    chunks: tuple[ChunkView, ...]
    edit: str
    can_undo: bool
    can_redo: bool
    levels: tuple[tuple[ChunkView, ...], ...] = ()
    edges: tuple[Edge, ...] = ()
    order: OrderWish = field(default_factory=OrderWish)
    section_id: UUID | None = None


def span_of(chunk: Chunk) -> Span:
    """The span a chunk row holds."""
    return Span(
        Position(chunk.start_index, chunk.start_at),
        Position(chunk.end_index, chunk.end_at),
        chunk.landing,
    )


def map_of(session: Session, hand: PartInHand, section_id: UUID | None = None) -> PartMap:
    """The map a section splits a part by: its own, else everybody's."""
    if section_id is not None:
        own = ask.map_of_section(session, hand.row.id, section_id)
        if own is not None:
            return own
    return session.get_one(PartMap, hand.row.id)


def view_map(session: Session, hand: PartInHand, section_id: UUID | None = None) -> MapView:
    """The map in force for everybody, or for a section if it has its own."""
    return view_of(session, hand, map_of(session, hand, section_id))


def view_of(session: Session, hand: PartInHand, row: PartMap) -> MapView:
    """A map in force."""
    newest = ask.newest_version(session, row.id)
    version = session.get(ChunkMapVersion, (row.id, row.cursor))
    levels: tuple[tuple[ChunkView, ...], ...] = ()
    if version is not None:
        ids = [version.chunk_ids, *([UUID(i) for i in level] for level in version.inner)]
        levels = _levels(session, hand, ids)
    return MapView(
        version=row.cursor,
        chunks=levels[0] if levels else (),
        edit=version.edit if version else "",
        can_undo=row.cursor > 0,
        can_redo=(newest or 0) > row.cursor,
        levels=levels,
        edges=tuple(_edges(version)) if version else (),
        order=order_of(version),
        section_id=row.section_id,
    )


def _levels(
    session: Session, hand: PartInHand, ids: Sequence[Sequence[UUID]]
) -> tuple[tuple[ChunkView, ...], ...]:
    wanted = {i for level in ids for i in level}
    known = {c.id: c for c in chunks_of(session, hand, sorted(wanted))}
    return tuple(tuple(known[i] for i in level) for level in ids)


def order_of(version: ChunkMapVersion | None) -> OrderWish:
    """The order that a version of a map says."""
    if version is None:
        return OrderWish()
    return OrderWish(version.order_by, tuple(UUID(i) for i in version.by_hand))


def _edges(version: ChunkMapVersion) -> list[Edge]:
    return [] if version.edges is None else codec.edges_from_json(version.edges)


def nested_of(session: Session, hand: PartInHand, version: ChunkMapVersion | None) -> NestedMap:
    """The map of a version; one from before maps were nested is its chunks alone."""
    if version is None:
        return NestedMap()
    if version.edges is None:
        spans = tuple(c.span for c in chunks_of(session, hand, version.chunk_ids))
        return nested.from_chunks(hand.part, ChunkMap(spans))
    quiet = codec.quiet_from_json(version.quiet)
    return NestedMap(tuple(_edges(version)), quiet, is_split=True)


def nested_in_force(session: Session, hand: PartInHand) -> tuple[int, NestedMap]:
    """Everybody's map of a part as it is now: its version, and its edges."""
    row = map_of(session, hand)
    version = session.get(ChunkMapVersion, (row.id, row.cursor))
    return row.cursor, nested_of(session, hand, version)


def chunks_of(session: Session, hand: PartInHand, ids: Sequence[UUID]) -> tuple[ChunkView, ...]:
    """Chunks by id, in the order asked for."""
    known = {i: view for i in ids if (view := _views.get(i)) is not None}
    unknown = [i for i in ids if i not in known]
    if unknown:
        rows = ask.chunks_by_id(session, unknown)
        known |= {chunk.id: _viewed(hand, chunk) for chunk in rows}
    return tuple(known[i] for i in ids)


def get_chunk(session: Session, hand: PartInHand, chunk_id: UUID) -> ChunkView:
    """One chunk of this part, in force or not.

    Raises:
        NotFound: not of this part.
    """
    chunk = session.get(Chunk, chunk_id)
    if chunk is None or chunk.part_id != hand.row.id:
        raise NotFound("There is no such chunk.")
    return _viewed(hand, chunk)


_views: LruCache[UUID, ChunkView] = LruCache(20_000)
"""Chunks seen last. Neither their span nor the notation of their part ever changes."""


def _viewed(hand: PartInHand, chunk: Chunk) -> ChunkView:
    known = _views.get(chunk.id)
    if known is not None:
        return known
    span = span_of(chunk)
    label = span_label(hand.part, span)
    view = ChunkView(chunk.id, label, span, bracket_label(hand.part, span, label))
    return _views.keep(chunk.id, view)


def with_inner_edges(
    session: Session, hand: PartInHand, chunk: ChunkView, settings: Mapping[str, object]
) -> Mapping[str, object]:
    """Settings of a chain by chunk: where the chunks inside this one begin, unless it was said."""
    if settings.get("unit") != "chunk" or settings.get("edges"):
        return settings
    view = view_map(session, hand)
    inside = sorted({e.at for e in view.edges if chunk.span.start < e.at < chunk.span.end})
    places = [place_label(hand.part, at) for at in inside]
    return {**settings, "edges": ", ".join(places)} if places else settings


def known_chunk(session: Session, hand: PartInHand, span: Span) -> UUID | None:
    """The id of a chunk that a part has or had; None if it never had this very one."""
    return ask.chunk_with(session, hand.row.id, span)


def keep_chunks(
    session: Session, hand: PartInHand, levels: Sequence[Sequence[Span]]
) -> tuple[list[list[UUID]], list[UUID]]:
    """An id for each span, kept if the part ever had that very chunk; and the new ones."""
    part_id = hand.row.id
    known = {span_of(chunk): chunk.id for chunk in ask.chunks_of_part(session, part_id)}
    heard = sounding(hand.part)
    made = []
    for span in (span for level in levels for span in level):
        if span not in known:
            chunk = Chunk(
                id=uuid4(),
                part_id=part_id,
                start_index=span.start.index,
                start_at=span.start.at,
                end_index=span.end.index,
                end_at=span.end.at,
                landing=span.landing,
                opens=heard is None or absolute(hand.part, span.start) <= heard[0],
                closes=heard is None or absolute(hand.part, span.end) >= heard[1],
            )
            session.add(chunk)
            known[span] = chunk.id
            made.append(chunk.id)
    session.flush()
    return [[known[span] for span in level] for level in levels], made
