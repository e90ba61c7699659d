"""Rehearsals, and what a director has put off."""

from datetime import date, datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ARRAY, CheckConstraint, ForeignKey, Index, String, Uuid, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.store.base import Base


class RehearsalRow(Base):
    """A rehearsal as it was planned, or a section's; ``done`` says what became of its lines.

    ``done`` holds how many times in a row each line was done, by its place in ``items``.
    """

    __tablename__ = "rehearsal"
    __table_args__ = (
        CheckConstraint("minutes between 5 and 180", name="minutes"),
        CheckConstraint("(done is null) = (ended_at is null)", name="ended"),
        Index("ix_rehearsal_program_id_day", "program_id", "day"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    piece_id: Mapped[UUID] = mapped_column(ForeignKey("piece.id"), index=True)
    section_id: Mapped[UUID | None] = mapped_column(ForeignKey("section.id"), index=True)
    day: Mapped[date]
    minutes: Mapped[int]
    items: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    absent: Mapped[list[UUID]] = mapped_column(ARRAY(Uuid()))
    done: Mapped[dict[str, int] | None] = mapped_column(JSONB(none_as_null=True))
    made_by: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    ended_at: Mapped[datetime | None]
    sent_home_at: Mapped[datetime | None]


class PutOff(Base):
    """A line of the Desk that somebody does not want to see until a day."""

    __tablename__ = "put_off"
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    line: Mapped[str] = mapped_column(String(120), primary_key=True)
    until: Mapped[date]
