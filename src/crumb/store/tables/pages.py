"""Pages that were brought in: sets of files, and each page as it was read and mended."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String, false, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.store.base import Base


class PageSet(Base):
    """Files of pages that were brought in together: a part, or the parts of a whole piece."""

    __tablename__ = "page_set"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    """Made on the device, so that an upload that is sent twice is kept once."""
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    title: Mapped[str] = mapped_column(String(200), default="")
    composer: Mapped[str] = mapped_column(String(200), default="")
    sources: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    """Each file: ``name`` and ``key``."""
    bytes: Mapped[int] = mapped_column(server_default=text("0"), default=0)
    piece_id: Mapped[UUID | None] = mapped_column(ForeignKey("piece.id"), index=True)
    """The piece that was made of it, in its latest version."""
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class PageRow(Base):
    """A page of a set.

    ``measures`` is none until it was read. ``earlier`` and ``later`` are what it was before acts
    that can be undone, and after those that were.
    """

    __tablename__ = "page"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    set_id: Mapped[UUID] = mapped_column(ForeignKey("page_set.id", ondelete="cascade"), index=True)
    place: Mapped[int]
    source: Mapped[int]
    number: Mapped[int]
    turn: Mapped[int] = mapped_column(server_default=text("0"), default=0)
    """Quarter turns to the right."""
    is_left_out: Mapped[bool] = mapped_column(server_default=false(), default=False)
    begins: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    """The part that begins here: ``name``, ``played_on``, ``section_id``."""
    picture: Mapped[str] = mapped_column(String(100), default="")
    width: Mapped[int] = mapped_column(default=0)
    height: Mapped[int] = mapped_column(default=0)
    is_drawn: Mapped[bool] = mapped_column(server_default=false(), default=False)
    message: Mapped[str] = mapped_column(String(400), default="")
    measures: Mapped[list[dict[str, Any]] | None] = mapped_column(JSONB(none_as_null=True))
    earlier: Mapped[list[Any]] = mapped_column(JSONB, server_default=text("'[]'"), default=[])
    later: Mapped[list[Any]] = mapped_column(JSONB, server_default=text("'[]'"), default=[])
