"""How parts are divided."""

from datetime import datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import ARRAY, ForeignKey, Index, String, UniqueConstraint, Uuid, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.store.base import Base


class PartMap(Base):
    """A way of dividing a part: everybody's (its id is the part's), or a section's own.

    ``cursor`` says which of its versions is in force.
    """

    __tablename__ = "part_map"
    __table_args__ = (UniqueConstraint("part_id", "section_id"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    section_id: Mapped[UUID | None] = mapped_column(ForeignKey("section.id"))
    cursor: Mapped[int] = mapped_column(default=0)


class Chunk(Base):
    """A span of a part, never changed: an edit makes new chunks.

    ``opens``: nothing sounds before it, so it has no seam there; ``closes``: nothing after it.
    """

    __tablename__ = "chunk"
    __table_args__ = (Index("ix_chunk_part_id_start_index", "part_id", "start_index"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"))
    start_index: Mapped[int]
    start_at: Mapped[Fraction]
    end_index: Mapped[int]
    end_at: Mapped[Fraction]
    landing: Mapped[bool]
    opens: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    closes: Mapped[bool] = mapped_column(server_default=text("false"), default=False)


class ChunkTag(Base):
    """A technique somebody says a chunk asks for, or does not, whatever the survey finds."""

    __tablename__ = "chunk_tag"
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"), primary_key=True)
    tag: Mapped[str] = mapped_column(String(40), primary_key=True)
    is_on: Mapped[bool]
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    said_at: Mapped[datetime] = mapped_column(server_default=func.now())


class ChunkMapVersion(Base):
    """One state of a map: its chunks, what divides them further, and the order to learn them in.

    ``edges`` are the cuts with depth and reasons, ``inner`` the chunk ids of each deeper level,
    ``quiet`` the chunks (depth and end) that do not land.
    """

    __tablename__ = "chunk_map_version"
    map_id: Mapped[UUID] = mapped_column(ForeignKey("part_map.id"), primary_key=True)
    number: Mapped[int] = mapped_column(primary_key=True)
    chunk_ids: Mapped[list[UUID]] = mapped_column(ARRAY(Uuid()))
    edges: Mapped[list[dict[str, Any]] | None] = mapped_column(JSONB)
    quiet: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, server_default=text("'[]'"))
    inner: Mapped[list[list[str]]] = mapped_column(JSONB, server_default=text("'[]'"))
    order_by: Mapped[str] = mapped_column(String(12), server_default=text("'front'"))
    by_hand: Mapped[list[str]] = mapped_column(JSONB, server_default=text("'[]'"))
    edit: Mapped[str] = mapped_column(String(80))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
