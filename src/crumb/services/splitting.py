"""The chunk maps of a part: versions, edits, undo and redo; everybody's map and a section's own."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.address import span_label
from crumb.core.score.matching import carried_position
from crumb.core.score.position import Position, Span
from crumb.core.split import chunk_map, nested, proposals
from crumb.core.split.chunk_map import ChunkMap
from crumb.core.split.nested import Edge, NestedMap
from crumb.core.split.order import ORDERS
from crumb.core.survey.model import Survey
from crumb.services import standings
from crumb.services.errors import ChangedMeanwhile, NotFound
from crumb.services.music import PartInHand, load_part
from crumb.services.people import get_section
from crumb.services.surveying import survey_of
from crumb.services.who import Who
from crumb.store.tables import Chunk, ChunkMapVersion, PartMap


@dataclass(frozen=True, slots=True)
class ChunkView:
    """A chunk as it stands in the map."""

    id: UUID
    label: str
    span: Span


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


@dataclass(frozen=True, slots=True)
class Desk:
    """What an edit works on."""

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
        own = session.scalar(
            select(PartMap).where(PartMap.part_id == hand.row.id, PartMap.section_id == section_id)
        )
        if own is not None:
            return own
    return session.get_one(PartMap, hand.row.id)


def view_map(session: Session, hand: PartInHand, section_id: UUID | None = None) -> MapView:
    """The map in force for everybody, or for a section if it has its own."""
    return _view(session, hand, map_of(session, hand, section_id))


def _view(session: Session, hand: PartInHand, row: PartMap) -> MapView:
    newest = session.scalar(
        select(ChunkMapVersion.number)
        .where(ChunkMapVersion.map_id == row.id)
        .order_by(ChunkMapVersion.number.desc())
        .limit(1)
    )
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
        edges=tuple(_edges(hand, version)) if version else (),
        order=_order(version),
        section_id=row.section_id,
    )


def _levels(
    session: Session, hand: PartInHand, ids: Sequence[Sequence[UUID]]
) -> tuple[tuple[ChunkView, ...], ...]:
    wanted = {i for level in ids for i in level}
    known = {c.id: c for c in chunks_of(session, hand, sorted(wanted))}
    return tuple(tuple(known[i] for i in level) for level in ids)


def _order(version: ChunkMapVersion | None) -> OrderWish:
    if version is None:
        return OrderWish()
    return OrderWish(version.order_by, tuple(UUID(i) for i in version.by_hand))


def _edges(hand: PartInHand, version: ChunkMapVersion) -> list[Edge]:
    if version.edges is None:
        return []
    return [Edge(_place(row), int(row["depth"]), tuple(row["reasons"])) for row in version.edges]


def _place(row: dict[str, Any]) -> Position:
    return Position(int(row["index"]), Fraction(row["at"]))


def _nested(session: Session, hand: PartInHand, version: ChunkMapVersion | None) -> NestedMap:
    """The map of a version; one from before maps were nested is its chunks alone."""
    if version is None:
        return NestedMap()
    if version.edges is None:
        spans = tuple(c.span for c in chunks_of(session, hand, version.chunk_ids))
        return nested.from_chunks(hand.part, ChunkMap(spans))
    quiet = frozenset((int(row["depth"]), _place(row)) for row in version.quiet)
    return NestedMap(tuple(_edges(hand, version)), quiet, is_split=True)


def chunks_of(session: Session, hand: PartInHand, ids: Sequence[UUID]) -> tuple[ChunkView, ...]:
    """Chunks by id, in the order asked for."""
    rows = {c.id: c for c in session.scalars(select(Chunk).where(Chunk.id.in_(ids)))}
    return tuple(
        ChunkView(i, span_label(hand.part, span_of(rows[i])), span_of(rows[i])) for i in ids
    )


def get_chunk(session: Session, hand: PartInHand, chunk_id: UUID) -> ChunkView:
    """One chunk of this part, in force or not.

    Raises:
        NotFound: not of this part.
    """
    chunk = session.get(Chunk, chunk_id)
    if chunk is None or chunk.part_id != hand.row.id:
        raise NotFound("There is no such chunk.")
    return ChunkView(chunk.id, span_label(hand.part, span_of(chunk)), span_of(chunk))


def with_inner_edges(
    session: Session, hand: PartInHand, chunk: ChunkView, settings: Mapping[str, object]
) -> Mapping[str, object]:
    """Settings of a chain by chunk: where the chunks inside this one begin, unless it was said."""
    if settings.get("unit") != "chunk" or settings.get("edges"):
        return settings
    view = view_map(session, hand)
    inside = sorted({e.at for e in view.edges if chunk.span.start < e.at < chunk.span.end})
    places = [span_label(hand.part, Span(at, chunk.span.end)).split("–")[0] for at in inside]
    return {**settings, "edges": ", ".join(places)} if places else settings


# Edits -------------------------------------------------------------------------------------------


def _at_level(name: str, depth: int, edit: Callable[[PartInHand, ChunkMap], ChunkMap]) -> Change:
    def apply_to(desk: Desk) -> NestedMap:
        part = desk.hand.part
        level = desk.map.level(part, depth) or chunk_map.one(part)
        return nested.with_level(part, desk.map, depth, edit(desk.hand, level))

    return Change(name, apply_to)


def every(n: int) -> Change:
    """Divide the whole part anew, n measures a chunk."""
    name = f"Every {n} measures" if n > 1 else "Every measure"
    return Change(
        name,
        lambda desk: nested.divided(desk.hand.part, desk.map, proposals.every(desk.hand.part, n)),
    )


_PROPOSALS: dict[str, tuple[str, Callable[[Desk], list[Edge]]]] = {
    "phrases": ("By phrases", lambda desk: proposals.by_phrases(desk.hand.part)),
    "lines": ("By lines", lambda desk: proposals.by_lines(desk.hand.part)),
    "marks": ("By marks", lambda desk: proposals.by_marks(desk.hand.part)),
    "load": ("By load", lambda desk: proposals.by_load(desk.hand.part, desk.survey)),
}


def propose(by: str) -> Change:
    """Divide the whole part anew by phrases, lines, marks or load."""
    name, edges = _PROPOSALS[by]
    return Change(name, lambda desk: nested.divided(desk.hand.part, desk.map, edges(desk)))


def divide_inside(place: int, depth: int, *, other_way: bool = False) -> Change:
    """Divide one chunk of a depth a level further; the other way, at other places than before."""
    edges = proposals.inner_other_way if other_way else proposals.inner

    def inside(desk: Desk) -> NestedMap:
        part = desk.hand.part
        span = desk.map.level(part, depth).at(place)
        return nested.divided(part, desk.map, edges(part, span, depth + 1), within=span)

    return Change("Divide another way" if other_way else "Divide further", inside)


def join_inside(place: int, depth: int) -> Change:
    """Join everything inside a chunk again."""

    def flat(desk: Desk) -> NestedMap:
        span = desk.map.level(desk.hand.part, depth).at(place)
        return nested.flattened(desk.map, span, depth)

    return Change("Join inside", flat)


def make_delta(first: Position, last: Position) -> Change:
    """Cut out only the notes that differ between near twins, as chunks of the deepest kind."""

    def cut_out(desk: Desk) -> NestedMap:
        part = desk.hand.part
        span = proposals.delta_span(part, first, last)
        depth = desk.map.depth
        around = ChunkMap(()) if not desk.map.is_split else desk.map.level(part, 0)
        holder = next(
            (c for c in around.spans if c.start <= span.start < c.end), chunk_map.one(part).at(0)
        )
        edges = [Edge(p, depth, ("only what differs",)) for p in (span.start, span.end)]
        return nested.divided(part, desk.map, edges, within=holder)

    return Change("The difference as a chunk", cut_out)


def cut(at: Position, depth: int = 0) -> Change:
    """Cut the chunk that holds a place; a part that was not split yet is one chunk."""
    return _at_level("Split", depth, lambda hand, chunks: chunk_map.split(hand.part, chunks, at))


def join(place: int, depth: int = 0) -> Change:
    """Join a chunk with the next."""
    return _at_level("Merge", depth, lambda hand, chunks: chunk_map.merge(hand.part, chunks, place))


def shift(place: int, beats: int, depth: int = 0) -> Change:
    """Move the end of a chunk by beats."""
    return _at_level(
        "Move edge",
        depth,
        lambda hand, chunks: chunk_map.move_edge(hand.part, chunks, place, beats=beats),
    )


def put_edge(place: int, at: Position, depth: int = 0) -> Change:
    """Move the end of a chunk to a place."""
    return _at_level(
        "Move edge",
        depth,
        lambda hand, chunks: chunk_map.move_edge_to(hand.part, chunks, place, at),
    )


def land(place: int, *, on: bool, depth: int = 0) -> Change:
    """Turn a landing on or off."""
    return _at_level(
        "Landing on" if on else "Landing off",
        depth,
        lambda hand, chunks: chunk_map.set_landing(hand.part, chunks, place, on=on),
    )


def put_in_order(kind: str, by_hand: Sequence[UUID] = ()) -> Change:
    """Say in which order the chunks are learned.

    Raises:
        ChunkEditRefused: there is no such order.
    """
    if kind not in ORDERS:
        raise ChunkEditRefused(f"There is no order called {kind[:20]}.")
    wish = OrderWish(kind, tuple(by_hand) if kind == "hand" else ())
    return Change("Order", lambda _: wish)


# Versions ----------------------------------------------------------------------------------------


def step_through(
    session: Session,
    who: Who,
    part_id: UUID,
    version: int,
    *,
    back: bool,
    section_id: UUID | None = None,
) -> MapView:
    """Undo (back) or redo one edit.

    Raises:
        ChunkEditRefused: there is nothing to undo or redo.
        ChangedMeanwhile: the map was edited elsewhere.
    """
    hand, row = _locked(session, who, part_id, version, section_id)
    target = row.cursor + (-1 if back else 1)
    exists = target == 0 or session.get(ChunkMapVersion, (row.id, target)) is not None
    if target < 0 or not exists:
        raise ChunkEditRefused("There is nothing to undo." if back else "There is nothing to redo.")
    row.cursor = target
    session.flush()
    view = _view(session, hand, row)
    shown = {chunk.id for level in view.levels for chunk in level}
    standings.refresh_chunks(session, hand, shown)
    session.commit()
    return view


def _locked(
    session: Session, who: Who, part_id: UUID, version: int, section_id: UUID | None
) -> tuple[PartInHand, PartMap]:
    hand = load_part(session, who, part_id, for_change=True)
    row = map_of(session, hand, section_id)
    session.refresh(row, ["cursor"])
    if row.cursor != version:
        raise ChangedMeanwhile("The chunks were changed somewhere else; here they are as they are.")
    return hand, row


def apply(
    session: Session,
    who: Who,
    part_id: UUID,
    version: int,
    change: Change,
    section_id: UUID | None = None,
) -> MapView:
    """Make one change to the map in force; ``version`` is the state the director saw.

    Raises:
        ChunkEditRefused: the change cannot be; the map stays as it is.
        ChangedMeanwhile: the map was edited elsewhere.
    """
    hand, row = _locked(session, who, part_id, version, section_id)
    before = session.get(ChunkMapVersion, (row.id, version))
    desk = Desk(hand, _nested(session, hand, before), _order(before))
    made = change.edit(desk)
    after, order = (desk.map, made) if isinstance(made, OrderWish) else (made, desk.order)
    if not after.is_split:
        raise ChunkEditRefused("Split the part first.")
    if (after, order) == (desk.map, desk.order):
        return _view(session, hand, row)
    # A new edit after undo takes the place of what was undone.
    session.execute(
        delete(ChunkMapVersion).where(
            ChunkMapVersion.map_id == row.id, ChunkMapVersion.number > version
        )
    )
    _store_version(session, hand, row, after, order, change.name)
    session.commit()
    return _view(session, hand, row)


def _store_version(
    session: Session,
    hand: PartInHand,
    row: PartMap,
    after: NestedMap,
    order: OrderWish,
    name: str,
) -> None:
    levels = [after.level(hand.part, depth).spans for depth in range(after.depth)]
    ids, made = _chunk_ids(session, hand.row.id, levels)
    row.cursor += 1
    session.add(
        ChunkMapVersion(
            map_id=row.id,
            number=row.cursor,
            chunk_ids=ids[0],
            inner=[[str(i) for i in level] for level in ids[1:]],
            edges=[
                {
                    "index": e.at.index,
                    "at": str(e.at.at),
                    "depth": e.depth,
                    "reasons": list(e.reasons),
                }
                for e in after.edges
            ],
            quiet=[
                {"depth": depth, "index": at.index, "at": str(at.at)}
                for depth, at in sorted(after.quiet)
            ],
            order_by=order.kind,
            by_hand=[str(i) for i in order.by_hand],
            edit=name,
        )
    )
    session.flush()
    standings.refresh_chunks(session, hand, made)


def _chunk_ids(
    session: Session, part_id: UUID, levels: Sequence[Sequence[Span]]
) -> tuple[list[list[UUID]], list[UUID]]:
    """An id for each span, kept if the part ever had that very chunk; and the new ones."""
    known = {
        span_of(c): c.id for c in session.scalars(select(Chunk).where(Chunk.part_id == part_id))
    }
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
            )
            session.add(chunk)
            known[span] = chunk.id
            made.append(chunk.id)
    session.flush()
    return [[known[span] for span in level] for level in levels], made


def carried_version(
    session: Session,
    before: PartInHand,
    hand: PartInHand,
    version: ChunkMapVersion,
    carried: dict[int, int],
    target: PartMap,
) -> tuple[int, list[str]]:
    """Put the edges of an old version's map into a new version's.

    Returns:
        How many edges were moved, and the places of those that could not be.
    """
    old = _nested(session, before, version)
    edges, lost = [], []
    for edge in old.edges:
        at = carried_position(edge.at, carried)
        if at is None or not Position(0, Fraction(0)) < at < Position(
            len(hand.part.measures), at.at
        ):
            lost.append(f"before measure {before.part.measures[edge.at.index].number}")
        else:
            edges.append(replace(edge, at=at))
    made = nested.divided(hand.part, NestedMap(), edges)
    quiet = ((depth, carried_position(at, carried)) for depth, at in old.quiet)
    made = replace(made, quiet=frozenset((d, at) for d, at in quiet if at is not None))
    _store_version(session, hand, target, made, _order(version), "New version")
    return len(edges), lost


def own_map(session: Session, who: Who, part_id: UUID, section_id: UUID) -> MapView:
    """Give a section a map of its own, as everybody's stands now; if it has one, that.

    Raises:
        NotFound: no such part or section.
    """
    hand = load_part(session, who, part_id, for_change=True)
    get_section(session, who, section_id)
    row = map_of(session, hand, section_id)
    if row.section_id is None:
        before = session.get(ChunkMapVersion, (row.id, row.cursor))
        made = PartMap(id=uuid4(), part_id=part_id, section_id=section_id, cursor=0)
        session.add(made)
        session.flush()
        if before is not None:
            _store_version(
                session, hand, made, _nested(session, hand, before), _order(before), before.edit
            )
        row = made
        session.commit()
    return _view(session, hand, row)
