"""Chunks of a part that the director confirmed to be alike."""

from collections.abc import Sequence
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.maps.chunks import ChunkView
from crumb.store.queries import planning as ask


def confirmed_kin_of(
    session: Session, part_id: UUID, chunks: Sequence[ChunkView]
) -> dict[UUID, tuple[UUID, ...]]:
    """Chunks that lie in confirmed kin, each with its others."""
    found: dict[UUID, set[UUID]] = {}
    for (a_first, a_last), (b_first, b_last) in ask.confirmed_kin(session, part_id):
        # Kin that are cut alike lend to each other, chunk by chunk.
        ours, others = (
            {
                (c.span.start.index - first, c.span.start.at, c.span.end.index - first): c
                for c in chunks
                if first <= c.span.start.index <= last
            }
            for first, last in ((a_first, a_last), (b_first, b_last))
        )
        for place in ours.keys() & others.keys():
            one, other = ours[place], others[place]
            if one.id != other.id:
                found.setdefault(one.id, set()).add(other.id)
                found.setdefault(other.id, set()).add(one.id)
    return {chunk_id: tuple(sorted(kin)) for chunk_id, kin in found.items()}
