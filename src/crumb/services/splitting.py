"""The chunk map of a part: versions, edits, undo and redo."""

from collections.abc import Callable
from dataclasses import dataclass
from uuid import UUID, uuid4

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.address import span_label
from crumb.core.score.position import Position, Span
from crumb.core.split import chunk_map
from crumb.core.split.chunk_map import ChunkMap
from crumb.services import standings
from crumb.services.errors import ChangedMeanwhile, NotFound
from crumb.services.music import PartInHand, load_part
from crumb.services.who import Who
from crumb.store.tables import Chunk, ChunkMapVersion


@dataclass(frozen=True, slots=True)
class ChunkView:
    """A chunk as it stands in the map."""

    id: UUID
    label: str
    span: Span


@dataclass(frozen=True, slots=True)
class MapView:
    """The map in force. Version 0 is a part that was not split yet."""

    version: int
    chunks: tuple[ChunkView, ...]
    edit: str
    can_undo: bool
    can_redo: bool


@dataclass(frozen=True, slots=True)
class Change:
    """An edit with the name that undo shows."""

    name: str
    edit: Callable[[PartInHand, ChunkMap], ChunkMap]


def span_of(chunk: Chunk) -> Span:
    """The span a chunk row holds."""
    return Span(
        Position(chunk.start_index, chunk.start_at),
        Position(chunk.end_index, chunk.end_at),
        chunk.landing,
    )


def view_map(session: Session, hand: PartInHand) -> MapView:
    """The map in force."""
    cursor = hand.row.map_cursor
    newest = session.scalar(
        select(ChunkMapVersion.number)
        .where(ChunkMapVersion.part_id == hand.row.id)
        .order_by(ChunkMapVersion.number.desc())
        .limit(1)
    )
    version = session.get(ChunkMapVersion, (hand.row.id, cursor))
    chunks = chunks_of(session, hand, version.chunk_ids) if version else ()
    return MapView(
        version=cursor,
        chunks=chunks,
        edit=version.edit if version else "",
        can_undo=cursor > 0,
        can_redo=(newest or 0) > cursor,
    )


def chunks_of(session: Session, hand: PartInHand, ids: list[UUID]) -> tuple[ChunkView, ...]:
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


def every(n: int) -> Change:
    """Divide the whole part anew, n measures a chunk."""
    name = f"Every {n} measures" if n > 1 else "Every measure"
    return Change(name, lambda hand, _: chunk_map.by_measures(hand.part, n))


def cut(at: Position) -> Change:
    """Cut the chunk that holds a place; a part that was not split yet is one chunk."""
    return Change(
        "Split",
        lambda hand, chunks: chunk_map.split(hand.part, chunks or chunk_map.one(hand.part), at),
    )


def join(place: int) -> Change:
    """Join a chunk with the next."""
    return Change("Merge", lambda hand, chunks: chunk_map.merge(hand.part, chunks, place))


def shift(place: int, beats: int) -> Change:
    """Move the end of a chunk by beats."""
    return Change(
        "Move edge",
        lambda hand, chunks: chunk_map.move_edge(hand.part, chunks, place, beats=beats),
    )


def put_edge(place: int, at: Position) -> Change:
    """Move the end of a chunk to a place."""
    return Change(
        "Move edge", lambda hand, chunks: chunk_map.move_edge_to(hand.part, chunks, place, at)
    )


def land(place: int, *, on: bool) -> Change:
    """Turn a landing on or off."""
    return Change(
        "Landing on" if on else "Landing off",
        lambda hand, chunks: chunk_map.set_landing(hand.part, chunks, place, on=on),
    )


def step_through(session: Session, who: Who, part_id: UUID, version: int, *, back: bool) -> MapView:
    """Undo (back) or redo one edit.

    Raises:
        ChunkEditRefused: there is nothing to undo or redo.
        ChangedMeanwhile: the map was edited elsewhere.
    """
    hand = _locked(session, who, part_id, version)
    target = hand.row.map_cursor + (-1 if back else 1)
    exists = target == 0 or session.get(ChunkMapVersion, (part_id, target)) is not None
    if target < 0 or not exists:
        raise ChunkEditRefused("There is nothing to undo." if back else "There is nothing to redo.")
    hand.row.map_cursor = target
    session.flush()
    view = view_map(session, hand)
    standings.refresh_chunks(session, hand, [chunk.id for chunk in view.chunks])
    session.commit()
    return view


def _locked(session: Session, who: Who, part_id: UUID, version: int) -> PartInHand:
    hand = load_part(session, who, part_id, for_change=True)
    session.refresh(hand.row, ["map_cursor"])
    if hand.row.map_cursor != version:
        raise ChangedMeanwhile("The chunks were changed somewhere else; here they are as they are.")
    return hand


def apply(session: Session, who: Who, part_id: UUID, version: int, change: Change) -> MapView:
    """Make one change to the map in force; ``version`` is the state the director saw.

    Raises:
        ChunkEditRefused: the change cannot be; the map stays as it is.
        ChangedMeanwhile: the map was edited elsewhere.
    """
    hand = _locked(session, who, part_id, version)
    before = session.get(ChunkMapVersion, (part_id, version))
    spans = tuple(c.span for c in chunks_of(session, hand, before.chunk_ids)) if before else ()
    after = change.edit(hand, ChunkMap(spans))
    if after.spans == spans:
        return view_map(session, hand)
    # A new edit after undo takes the place of what was undone.
    session.execute(
        delete(ChunkMapVersion).where(
            ChunkMapVersion.part_id == part_id, ChunkMapVersion.number > version
        )
    )
    ids, made = _chunk_ids(session, part_id, after.spans)
    session.add(
        ChunkMapVersion(part_id=part_id, number=version + 1, chunk_ids=ids, edit=change.name)
    )
    hand.row.map_cursor = version + 1
    session.flush()
    standings.refresh_chunks(session, hand, made)
    session.commit()
    return view_map(session, hand)


def _chunk_ids(
    session: Session, part_id: UUID, spans: tuple[Span, ...]
) -> tuple[list[UUID], list[UUID]]:
    """An id for each span, kept if the part ever had that very chunk; and the new ones."""
    known = {
        span_of(c): c.id for c in session.scalars(select(Chunk).where(Chunk.part_id == part_id))
    }
    ids, made = [], []
    for span in spans:
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
        ids.append(known[span])
    session.flush()
    return ids, made
