"""Pieces and their parts, what is alike in them, what is written into them."""

from datetime import datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.core.vocabulary import KinVerdict, MarkLayer
from crumb.store.base import Base
from crumb.store.tables.choices import one_of


class Piece(Base):
    """A piece of music as it was brought in; the upload itself lies in the file store."""

    __tablename__ = "piece"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    title: Mapped[str] = mapped_column(String(200))
    composer: Mapped[str] = mapped_column(String(200))
    file_name: Mapped[str] = mapped_column(String(200))
    file_key: Mapped[str] = mapped_column(String(100))
    replaced_by_id: Mapped[UUID | None] = mapped_column(ForeignKey("piece.id"))
    report: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, server_default=text("'[]'"))
    objectives: Mapped[list[str]] = mapped_column(JSONB, server_default=text("'[]'"), default=[])
    """What it is about, in the director's words: three at most, on every page of it."""
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())
    deleted_at: Mapped[datetime | None]
    """Taken away by a director; a week later it is gone."""
    erases_evidence: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    """Whether what was played on it goes too."""


class PiecePart(Base):
    """One part of a piece: its normalised notation (immutable) and the goal tempo.

    A part may be without notation: then its measures are numbered and measured, and no more.
    """

    __tablename__ = "part"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    piece_id: Mapped[UUID] = mapped_column(ForeignKey("piece.id"), index=True)
    place: Mapped[int]
    name: Mapped[str] = mapped_column(String(120))
    instrument: Mapped[str] = mapped_column(String(120))
    notation: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(JSONB)
    goal_bpm: Mapped[Fraction]
    floor_bpm: Mapped[Fraction | None]
    """The slowest at which it can still be performed."""
    festival_bpm: Mapped[Fraction | None]
    """What it would be at its best."""
    page_map: Mapped[dict[str, list[int]] | None] = mapped_column(JSONB(none_as_null=True))
    """Indexes of measures that start a ``lines`` or ``pages``, where a person said so."""
    on_pages: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    """Where its measures are printed: keys of ``pages``, and a row of ``measures`` for each."""
    played_on: Mapped[str] = mapped_column(String(40), server_default=text("''"), default="")
    is_set_aside: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    survey: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    replaces_id: Mapped[UUID | None] = mapped_column(ForeignKey("part.id"), index=True)
    root_id: Mapped[UUID]
    """The first version of it, perhaps itself: who writes levels of any version locks that."""
    carried: Mapped[dict[str, int]] = mapped_column(JSONB, server_default=text("'{}'"))
    version_of_id: Mapped[UUID | None] = mapped_column(ForeignKey("part.id"), index=True)
    """The part this one was rewritten from for another instrument."""


class PartSection(Base):
    """A section plays a part; a divided section plays several."""

    __tablename__ = "part_section"
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), primary_key=True)
    section_id: Mapped[UUID] = mapped_column(ForeignKey("section.id"), primary_key=True, index=True)


class KinLink(Base):
    """Two stretches of measures found alike; the director confirms or refuses it."""

    __tablename__ = "kin_link"
    __table_args__ = (one_of("verdict", KinVerdict),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    piece_id: Mapped[UUID] = mapped_column(ForeignKey("piece.id"), index=True)
    place: Mapped[int]
    a_part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    a_first: Mapped[int]
    a_last: Mapped[int]
    b_part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    b_first: Mapped[int]
    b_last: Mapped[int]
    relation: Mapped[str] = mapped_column(String(16))
    interval: Mapped[int]
    scale: Mapped[Fraction]
    steps: Mapped[int] = mapped_column(server_default=text("0"), default=0)
    later: Mapped[Fraction] = mapped_column(server_default=text("'0'"), default=Fraction(0))
    differs: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    verdict: Mapped[str | None] = mapped_column(String(12))
    is_claimed: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    """Whether a person said so first."""


class Mark(Base):
    """Something written into a part: by the director, a section leader, or a student for itself.

    A mark is taken away by saying when, so that undo can bring it back.
    """

    __tablename__ = "mark"
    __table_args__ = (one_of("layer", MarkLayer),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    section_id: Mapped[UUID | None] = mapped_column(ForeignKey("section.id"))
    author_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    layer: Mapped[str] = mapped_column(String(10))
    kind: Mapped[str] = mapped_column(String(20))
    text: Mapped[str] = mapped_column(String(80))
    index: Mapped[int]
    at: Mapped[Fraction]
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    removed_at: Mapped[datetime | None]


class Notation(Base):
    """A piece of notation that was sent, kept under the hash of its text; many steps share one."""

    __tablename__ = "notation"
    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    xml: Mapped[str]
