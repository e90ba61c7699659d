"""Assignments: receivers, and drills as they were sent."""

from datetime import date, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import (
    ForeignKey,
    SmallInteger,
    String,
    UniqueConstraint,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.core.drills.model import Slip
from crumb.core.evidence.model import Kind, Rhythm
from crumb.store.base import Base
from crumb.store.tables.choices import one_of


class RecipeRow(Base):
    """Drills in the order learn, set, prove, under a name; a section's own, or everybody's."""

    __tablename__ = "recipe"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    section_id: Mapped[UUID | None] = mapped_column(ForeignKey("section.id"))
    name: Mapped[str] = mapped_column(String(60))
    note: Mapped[str] = mapped_column(String(200), default="")
    items: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    removed_at: Mapped[datetime | None]


class Assignment(Base):
    """Chunks and drills sent to players of one part in one section.

    What was sent in one go shares a ``sending_id``; players with an exception have an assignment
    of their own in it.
    """

    __tablename__ = "assignment"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    sending_id: Mapped[UUID] = mapped_column(index=True)
    exception: Mapped[str] = mapped_column(String(16), server_default=text("''"), default="")
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"))
    section_id: Mapped[UUID] = mapped_column(ForeignKey("section.id"), index=True)
    plan_id: Mapped[UUID | None] = mapped_column(ForeignKey("plan.id"), index=True)
    """The plan that asks for it, of one student and day; none: a director sent it by hand."""
    due_on: Mapped[date]
    minutes_a_day: Mapped[int]
    sent_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]


class AssignmentItem(Base):
    """One drill on one chunk, with its ladder."""

    __tablename__ = "assignment_item"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    assignment_id: Mapped[UUID] = mapped_column(ForeignKey("assignment.id"), index=True)
    place: Mapped[int]
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"), index=True)
    drill: Mapped[str] = mapped_column(String(40))
    settings: Mapped[dict[str, Any]] = mapped_column(JSONB)
    start_bpm: Mapped[Fraction]
    goal_bpm: Mapped[Fraction]
    step_bpm: Mapped[Fraction]
    role: Mapped[str] = mapped_column(String(8), server_default=text("'focus'"), default="focus")
    note: Mapped[str] = mapped_column(String(200), server_default=text("''"), default="")
    minutes: Mapped[int | None]
    """What a plan gives it; none: its share of the day's."""
    every: Mapped[int] = mapped_column(SmallInteger, server_default=text("1"), default=1)
    """It comes at every so-many-th day of practice."""
    frozen: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    """What the drill was when it was sent (``crumb.core.sending``); its steps are ``sent_step``."""
    removed_at: Mapped[datetime | None]


class SentStep(Base):
    """A step of a drill as it was sent: what a repetition of it is, whatever the code does later.

    ``quarters``, ``click``, ``click_at`` and ``clicks`` are quarter notes, ``pace`` the share of
    the ladder's tempo, ``attacks`` how many notes are struck; ``notation`` is a key (none: nothing
    to read).
    """

    __tablename__ = "sent_step"
    __table_args__ = (
        one_of("kind", Kind),
        one_of("rhythm", Rhythm),
        one_of("slip", Slip),
    )
    item_id: Mapped[UUID] = mapped_column(ForeignKey("assignment_item.id"), primary_key=True)
    place: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(80))
    say: Mapped[str] = mapped_column(String(400))
    kind: Mapped[str] = mapped_column(String(8))
    as_written: Mapped[bool]
    is_aided: Mapped[bool]
    rhythm: Mapped[str] = mapped_column(String(8))
    start_index: Mapped[int]
    start_at: Mapped[Fraction]
    end_index: Mapped[int]
    end_at: Mapped[Fraction]
    repetitions: Mapped[int]
    quarters: Mapped[Fraction]
    click: Mapped[Fraction]
    click_at: Mapped[Fraction]
    clicks: Mapped[list[str]] = mapped_column(JSONB, server_default=text("'[]'"))
    pace: Mapped[Fraction]
    slip: Mapped[str] = mapped_column(String(8))
    burst: Mapped[Fraction | None]
    attacks: Mapped[int]
    notation: Mapped[str | None] = mapped_column(ForeignKey("notation.key"))
    sounds: Mapped[list[list[Any]]] = mapped_column(JSONB)


class AssignmentStudent(Base):
    """A student who was sent an assignment."""

    __tablename__ = "assignment_student"
    assignment_id: Mapped[UUID] = mapped_column(ForeignKey("assignment.id"), primary_key=True)
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)


class Sheet(Base):
    """A printed practice sheet: its code finds the place where its ticks are typed in."""

    __tablename__ = "sheet"
    __table_args__ = (UniqueConstraint("assignment_id", "student_id"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    code: Mapped[str] = mapped_column(String(8), unique=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    assignment_id: Mapped[UUID] = mapped_column(ForeignKey("assignment.id"), index=True)
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), index=True)
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
