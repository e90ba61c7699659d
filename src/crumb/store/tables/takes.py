"""Takes that students hand in, what they are asked for, and the style of a passage.

A take is no evidence: it is erased when its weeks are over.
"""

from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from sqlalchemy import CheckConstraint, ForeignKey, Index, Numeric, SmallInteger, String, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.core.vocabulary import TakeState
from crumb.store.base import Base
from crumb.store.tables.choices import one_of


class Take(Base):
    """A recording of a chunk by one student; its id was made on the student's device.

    ``sound`` is a key of the store of sounds: the upload, and once it is ready what was made of it.
    ``anchors`` say which place of the music sounds when, ``hearing_id`` what was judged of it.
    """

    __tablename__ = "take"
    __table_args__ = (
        one_of("state", TakeState),
        CheckConstraint("(state = 'ready') = (seconds is not null)", name="ready"),
        CheckConstraint("recorded_at between '1969-12-31' and '2200-01-02'", name="recorded_at"),
        Index("ix_take_student_id_chunk_id", "student_id", "chunk_id"),
        Index("ix_take_program_id_handed_in_at", "program_id", "handed_in_at"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"))
    state: Mapped[str] = mapped_column(
        String(8), server_default=text("'waiting'"), default="waiting"
    )
    message: Mapped[str] = mapped_column(String(200), server_default=text("''"), default="")
    sound: Mapped[str] = mapped_column(String(64))
    bytes: Mapped[int] = mapped_column(server_default=text("0"), default=0)
    seconds: Mapped[Decimal | None] = mapped_column(Numeric(8, 3))
    why_anew: Mapped[str] = mapped_column(String(200), server_default=text("''"), default="")
    anchors: Mapped[list[dict[str, Any]]] = mapped_column(
        JSONB, server_default=text("'[]'"), default=list
    )
    hearing_id: Mapped[UUID | None] = mapped_column(ForeignKey("hearing.id"), index=True)
    recorded_at: Mapped[datetime]
    handed_in_at: Mapped[datetime] = mapped_column(server_default=func.now())


class TakeTask(Base):
    """A task: takes that a section is asked to hand in until a day."""

    __tablename__ = "take_task"
    __table_args__ = (Index("ix_take_task_section_id_due_on", "section_id", "due_on"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    section_id: Mapped[UUID] = mapped_column(ForeignKey("section.id"))
    due_on: Mapped[date]
    made_by_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    withdrawn_at: Mapped[datetime | None]


class TakeChoice(Base):
    """A passage a task asks for; those of one ``thing`` are alternatives, any of them closes it."""

    __tablename__ = "take_choice"
    task_id: Mapped[UUID] = mapped_column(ForeignKey("take_task.id"), primary_key=True)
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"), primary_key=True, index=True)
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    thing: Mapped[int] = mapped_column(SmallInteger)
    place: Mapped[int] = mapped_column(SmallInteger)
    """Its place among the alternatives."""
    least_seconds: Mapped[int] = mapped_column(SmallInteger)


class StyleBrief(Base):
    """How a passage is to be played, in the director's words: read before the first take."""

    __tablename__ = "style_brief"
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"), primary_key=True)
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    text: Mapped[str] = mapped_column(String(300))
    by_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    said_at: Mapped[datetime] = mapped_column(server_default=func.now())
