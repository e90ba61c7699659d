"""Queries of technique tags that people gave to chunks."""

from collections.abc import Mapping, Sequence
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.score.position import Position
from crumb.store import tables as t


def said_of(session: Session, chunk_ids: Sequence[UUID]) -> dict[UUID, dict[str, bool]]:
    """By chunk, what was said of each technique: it asks for it, or does not."""
    found: dict[UUID, dict[str, bool]] = {i: {} for i in chunk_ids}
    for row in session.scalars(select(t.ChunkTag).where(t.ChunkTag.chunk_id.in_(chunk_ids))):
        found[row.chunk_id][row.tag] = row.is_on
    return found


def say(session: Session, chunk_id: UUID, tag: str, person_id: UUID, *, is_on: bool) -> None:
    """The last word of somebody on a technique of a chunk."""
    row = {"chunk_id": chunk_id, "tag": tag, "is_on": is_on, "person_id": person_id}
    session.execute(
        insert(t.ChunkTag)
        .values(row)
        .on_conflict_do_update(
            index_elements=["chunk_id", "tag"], set_={"is_on": is_on, "person_id": person_id}
        )
    )


def carry(session: Session, old_part: UUID, new_part: UUID, carried: Mapping[int, int]) -> None:
    """Put what was said of chunks on those of a new version that hold the same measures.

    Args:
        session: the session.
        old_part: the part as it was.
        new_part: the part as it is now, its chunks made.
        carried: indexes of measures, from the old to the new.
    """
    made = {
        (c.start_index, c.start_at, c.end_index, c.end_at, c.landing): c.id
        for c in session.scalars(select(t.Chunk).where(t.Chunk.part_id == new_part))
    }
    rows = session.execute(
        select(t.ChunkTag, t.Chunk).join(t.Chunk).where(t.Chunk.part_id == old_part)
    ).all()
    for tag, chunk in rows:
        start = _moved(Position(chunk.start_index, chunk.start_at), carried)
        end = _moved(Position(chunk.end_index, chunk.end_at), carried)
        if start is None or end is None:
            continue
        same = made.get((start.index, start.at, end.index, end.at, chunk.landing))
        if same is not None:
            say(session, same, tag.tag, tag.person_id, is_on=tag.is_on)


def _moved(at: Position, carried: Mapping[int, int]) -> Position | None:
    """A place in the new version; the end of a measure goes with that measure."""
    if at.index in carried:
        return Position(carried[at.index], at.at)
    if at.at == 0 and at.index - 1 in carried:
        return Position(carried[at.index - 1] + 1, at.at)
    return None
