"""Queries of chunk maps and their chunks."""

from collections.abc import Iterable, Sequence
from uuid import UUID

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from crumb.core.score.position import Span
from crumb.store.tables import Chunk, ChunkMapVersion, PartMap


def maps_of(session: Session, part_id: UUID) -> Sequence[PartMap]:
    """Everybody's map of a part, and those that sections have of their own."""
    return session.scalars(select(PartMap).where(PartMap.part_id == part_id)).all()


def chunks_by_id(session: Session, chunk_ids: Iterable[UUID]) -> Sequence[Chunk]:
    """Chunks, in no order."""
    return session.scalars(select(Chunk).where(Chunk.id.in_(list(chunk_ids)))).all()


def map_of_section(session: Session, part_id: UUID, section_id: UUID) -> PartMap | None:
    """The map that a section has of its own."""
    return session.scalar(
        select(PartMap).where(PartMap.part_id == part_id, PartMap.section_id == section_id)
    )


def newest_version(session: Session, map_id: UUID) -> int | None:
    """The number of the newest version of a map, undone ones too."""
    return session.scalar(
        select(ChunkMapVersion.number)
        .where(ChunkMapVersion.map_id == map_id)
        .order_by(ChunkMapVersion.number.desc())
        .limit(1)
    )


def chunks_of_part(session: Session, part_id: UUID) -> Sequence[Chunk]:
    """Every chunk that a part has or had."""
    return session.scalars(select(Chunk).where(Chunk.part_id == part_id)).all()


def chunk_with(session: Session, part_id: UUID, span: Span) -> UUID | None:
    """The chunk of a part with exactly a span."""
    return session.scalar(
        select(Chunk.id).where(
            Chunk.part_id == part_id,
            Chunk.start_index == span.start.index,
            Chunk.start_at == span.start.at,
            Chunk.end_index == span.end.index,
            Chunk.end_at == span.end.at,
            Chunk.landing.is_(span.landing),
        )
    )


def forget_after(session: Session, map_id: UUID, number: int) -> None:
    """Delete the versions of a map after one: they were undone."""
    session.execute(
        delete(ChunkMapVersion).where(
            ChunkMapVersion.map_id == map_id, ChunkMapVersion.number > number
        )
    )
