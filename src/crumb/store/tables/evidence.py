"""How students played (append-only, a trigger holds it), and what follows from it."""

from datetime import date, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import (
    ARRAY,
    CheckConstraint,
    ForeignKey,
    Index,
    Integer,
    SmallInteger,
    String,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.core.evidence.model import Kind, Rhythm, Source, What
from crumb.store.base import Base
from crumb.store.tables.choices import one_of


class Evidence(Base):
    """One thing that says how a student played, written once; its id was made where it was noted.

    A repetition of some span, or a hearing that sets a level; from an assignment's step or from
    none. ``local_day`` is the program's day of ``played_at``. ``doubt`` says why it proves nothing
    (it is kept all the same). Ids grow with time, so the table can be parted by them.
    """

    __tablename__ = "evidence"
    __table_args__ = (
        one_of("what", What),
        one_of("kind", Kind),
        one_of("rhythm", Rhythm),
        one_of("source", Source),
        CheckConstraint(
            "case what when 'repetition' then is_clean is not null"
            " else level between 0 and 6 and by_id is not null end",
            name="complete",
        ),
        Index("ix_evidence_student_id_part_id", "student_id", "part_id", "played_at"),
        Index("ix_evidence_student_id_played_at", "student_id", "played_at"),
        Index("ix_evidence_item_id_student_id", "item_id", "student_id", "played_at"),
        Index("ix_evidence_part_id", "part_id"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"))
    what: Mapped[str] = mapped_column(String(12), server_default=text("'repetition'"))
    item_id: Mapped[UUID | None] = mapped_column(ForeignKey("assignment_item.id"))
    step: Mapped[int | None]
    step_name: Mapped[str] = mapped_column(String(80), server_default=text("''"))
    kind: Mapped[str] = mapped_column(String(8))
    as_written: Mapped[bool]
    is_aided: Mapped[bool] = mapped_column(server_default=text("false"))
    rhythm: Mapped[str] = mapped_column(String(8), server_default=text("'written'"))
    start_index: Mapped[int]
    start_at: Mapped[Fraction]
    end_index: Mapped[int]
    end_at: Mapped[Fraction]
    tempo_bpm: Mapped[Fraction | None]
    is_clean: Mapped[bool | None]
    level: Mapped[int | None] = mapped_column(SmallInteger)
    by_id: Mapped[UUID | None] = mapped_column(ForeignKey("person.id"))
    reason: Mapped[str] = mapped_column(String(400), server_default=text("''"))
    played_at: Mapped[datetime]
    local_day: Mapped[date]
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())
    source: Mapped[str] = mapped_column(String(12), server_default=text("'self'"))
    doubt: Mapped[str] = mapped_column(String(16), server_default=text("''"))
    rules: Mapped[int] = mapped_column(SmallInteger, server_default=text("1"))


class WayRating(Base):
    """A student's rating of one of two ways; the device made its id."""

    __tablename__ = "way_rating"
    __table_args__ = (
        CheckConstraint("way in (0, 1)", name="way"),
        CheckConstraint("intonation between 1 and 5 and tone between 1 and 5", name="rating"),
        Index("ix_way_rating_item_id_student_id", "item_id", "student_id"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    item_id: Mapped[UUID] = mapped_column(ForeignKey("assignment_item.id"))
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    way: Mapped[int] = mapped_column(SmallInteger)
    intonation: Mapped[int] = mapped_column(SmallInteger)
    tone: Mapped[int] = mapped_column(SmallInteger)
    rated_at: Mapped[datetime] = mapped_column(server_default=func.now())


class SlipPlace(Base):
    """A slip's place and kind, as the student said; of one place the newest holds."""

    __tablename__ = "slip_place"
    __table_args__ = (
        CheckConstraint("(at_index is null) = (at_offset is null)", name="place"),
        Index("ix_slip_place_evidence_id", "evidence_id"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    evidence_id: Mapped[UUID] = mapped_column(ForeignKey("evidence.id"))
    at_index: Mapped[int | None]
    at_offset: Mapped[Fraction | None]
    what: Mapped[str] = mapped_column(String(16), server_default=text("''"))
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Diary(Base):
    """A line of a student's own: minutes, how it feels, what was hard; its id was made there.

    ``said`` has the shape of its ``kind`` (``core.evidence.diary``).
    """

    __tablename__ = "diary"
    __table_args__ = (
        Index("ix_diary_student_id_local_day", "student_id", "local_day"),
        Index("ix_diary_program_id_kind", "program_id", "kind", "local_day"),
        Index("ix_diary_item_id", "item_id"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    kind: Mapped[str] = mapped_column(String(16))
    item_id: Mapped[UUID | None] = mapped_column(ForeignKey("assignment_item.id"))
    at: Mapped[datetime]
    local_day: Mapped[date]
    said: Mapped[dict[str, Any]] = mapped_column(JSONB)
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Hearing(Base):
    """A verdict of a listener: written once, with the evidence that sets the level.

    ``slips`` are places with what they were, ``missing`` what the checklist lacks; ``before`` the
    level that stood until then.
    """

    __tablename__ = "hearing"
    __table_args__ = (Index("ix_hearing_student_id_chunk_id", "student_id", "chunk_id"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"))
    evidence_id: Mapped[UUID] = mapped_column(ForeignKey("evidence.id"), index=True)
    by_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    level: Mapped[int] = mapped_column(SmallInteger)
    before: Mapped[int] = mapped_column(SmallInteger)
    went_well: Mapped[str] = mapped_column(String(200))
    one_thing: Mapped[str] = mapped_column(String(200))
    missing: Mapped[list[str]] = mapped_column(JSONB)
    slips: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    heard_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Retraction(Base):
    """Something was taken back; the record of it stays."""

    __tablename__ = "retraction"
    evidence_id: Mapped[UUID] = mapped_column(ForeignKey("evidence.id"), primary_key=True)
    retracted_at: Mapped[datetime]
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Mastery(Base):
    """Projection: where a student stands on a chunk. Rebuildable from evidence at any time.

    ``fold`` is what the next repetition needs to know of all earlier ones, ``last_id`` the last
    that was folded in, ``rules`` which rules it was folded by. Secure tempo is that of the last day
    played; ``fold`` holds what it is on any other.
    """

    __tablename__ = "mastery"
    __table_args__ = (
        Index("ix_mastery_waits", "chunk_id", "student_id", postgresql_where=text("rules <= 0")),
    )
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"), primary_key=True, index=True)
    level: Mapped[int]
    proved_bpm: Mapped[Fraction | None]
    why: Mapped[str] = mapped_column(String(200))
    next_step: Mapped[str] = mapped_column(String(200), server_default=text("''"))
    seam_in: Mapped[bool] = mapped_column(server_default=text("false"))
    seam_out: Mapped[bool] = mapped_column(server_default=text("false"))
    secure_bpm: Mapped[float | None]
    secure_low: Mapped[float | None]
    secure_high: Mapped[float | None]
    is_enough: Mapped[bool] = mapped_column(server_default=text("false"))
    best_bpm: Mapped[Fraction | None]
    due_on: Mapped[date | None]
    clean: Mapped[int]
    slips: Mapped[int]
    last_played_at: Mapped[datetime | None]
    last_id: Mapped[UUID | None]
    fold: Mapped[dict[str, Any]] = mapped_column(JSONB, server_default=text("'{}'"))
    rules: Mapped[int] = mapped_column(SmallInteger)


class ClimbRow(Base):
    """Projection: where a student stands on the ladder of a drill that was sent."""

    __tablename__ = "climb"
    item_id: Mapped[UUID] = mapped_column(ForeignKey("assignment_item.id"), primary_key=True)
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    tempo: Mapped[Fraction]
    reach: Mapped[Fraction]
    step: Mapped[int]
    in_a_row: Mapped[int]
    slips_in_a_row: Mapped[int]
    done: Mapped[list[int]] = mapped_column(ARRAY(Integer))
    cycles: Mapped[int]
    is_finished: Mapped[bool]
    told: Mapped[str] = mapped_column(String(12))
    last_at: Mapped[Fraction | None]
    last_played_at: Mapped[datetime | None]
    last_id: Mapped[UUID | None]


class Heard(Base):
    """Something that somebody heard go wrong on a chunk, of one student or of a whole section.

    ``symptom`` is a row of ``crumb.core.plan.cures``; it feeds drills and plans until it is ended.
    """

    __tablename__ = "heard"
    __table_args__ = (
        CheckConstraint("(section_id is null) <> (student_id is null)", name="whose"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"))
    section_id: Mapped[UUID | None] = mapped_column(ForeignKey("section.id"))
    student_id: Mapped[UUID | None] = mapped_column(ForeignKey("person.id"), index=True)
    symptom: Mapped[str] = mapped_column(String(20))
    by_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    said_at: Mapped[datetime] = mapped_column(server_default=func.now())
    ended_at: Mapped[datetime | None]
