"""Every table. Each row belongs to a program; evidence is append-only (a trigger holds it)."""

from datetime import date, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import (
    ARRAY,
    CheckConstraint,
    ForeignKey,
    Index,
    LargeBinary,
    String,
    UniqueConstraint,
    Uuid,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.store.base import Base


class Program(Base):
    """A school's music program."""

    __tablename__ = "program"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    class_code: Mapped[str] = mapped_column(String(12), unique=True)
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Person(Base):
    """A director or a student. A secret is a password or a PIN, hashed."""

    __tablename__ = "person"
    __table_args__ = (
        CheckConstraint("role in ('director', 'student')", name="role"),
        Index("uq_person_email", text("lower(email)"), unique=True),
        Index("ix_person_program_name", "program_id", "name"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    role: Mapped[str] = mapped_column(String(12))
    name: Mapped[str] = mapped_column(String(80))
    email: Mapped[str | None] = mapped_column(String(200))
    secret_hash: Mapped[str] = mapped_column(String(200))
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Section(Base):
    """Players of one part."""

    __tablename__ = "section"
    __table_args__ = (UniqueConstraint("program_id", "name"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    name: Mapped[str] = mapped_column(String(80))


class SectionMember(Base):
    """A student plays in a section."""

    __tablename__ = "section_member"
    section_id: Mapped[UUID] = mapped_column(ForeignKey("section.id"), primary_key=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    is_leader: Mapped[bool] = mapped_column(server_default=text("false"), default=False)


class SignedIn(Base):
    """A server-side session; the cookie's token is stored hashed only."""

    __tablename__ = "signed_in"
    token_hash: Mapped[bytes] = mapped_column(LargeBinary(32), primary_key=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), index=True)
    expires_at: Mapped[datetime]


class SignInFailure(Base):
    """A failed sign-in, kept to slow down guessing."""

    __tablename__ = "sign_in_failure"
    __table_args__ = (Index("ix_sign_in_failure_account_at", "account", "at"),)
    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    account: Mapped[str] = mapped_column(String(260))
    at: Mapped[datetime]


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
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class ImportJob(Base):
    """An upload on its way to a piece: what was sent, how far it is, what came of it."""

    __tablename__ = "import_job"
    __table_args__ = (
        CheckConstraint("state in ('waiting', 'working', 'done', 'failed')", name="state"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    file_name: Mapped[str] = mapped_column(String(200))
    file_key: Mapped[str] = mapped_column(String(100))
    replaces_id: Mapped[UUID | None] = mapped_column(ForeignKey("piece.id"))
    state: Mapped[str] = mapped_column(String(12), default="waiting")
    stage: Mapped[str] = mapped_column(String(40), default="")
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    message: Mapped[str] = mapped_column(String(400), default="")
    piece_id: Mapped[UUID | None] = mapped_column(ForeignKey("piece.id"))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    ended_at: Mapped[datetime | None]


class PiecePart(Base):
    """One part of a piece: its normalised notation (immutable) and the goal tempo."""

    __tablename__ = "part"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    piece_id: Mapped[UUID] = mapped_column(ForeignKey("piece.id"), index=True)
    place: Mapped[int]
    name: Mapped[str] = mapped_column(String(120))
    instrument: Mapped[str] = mapped_column(String(120))
    notation: Mapped[str]
    facts: Mapped[dict[str, Any]] = mapped_column(JSONB)
    goal_bpm: Mapped[Fraction]
    played_on: Mapped[str] = mapped_column(String(40), server_default=text("''"), default="")
    is_set_aside: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    survey: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    replaces_id: Mapped[UUID | None] = mapped_column(ForeignKey("part.id"))
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
    __table_args__ = (CheckConstraint("verdict in ('confirmed', 'refused')", name="verdict"),)
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
    differs: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    verdict: Mapped[str | None] = mapped_column(String(12))


class Mark(Base):
    """Something written into a part: by the director, a section leader, or a student for itself.

    A mark is taken away by saying when, so that undo can bring it back.
    """

    __tablename__ = "mark"
    __table_args__ = (CheckConstraint("layer in ('director', 'leader', 'own')", name="layer"),)
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
    """A span of a part, never changed: an edit makes new chunks."""

    __tablename__ = "chunk"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"), index=True)
    start_index: Mapped[int]
    start_at: Mapped[Fraction]
    end_index: Mapped[int]
    end_at: Mapped[Fraction]
    landing: Mapped[bool]


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
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"))
    drill: Mapped[str] = mapped_column(String(40))
    settings: Mapped[dict[str, Any]] = mapped_column(JSONB)
    start_bpm: Mapped[Fraction]
    goal_bpm: Mapped[Fraction]
    step_bpm: Mapped[Fraction]
    role: Mapped[str] = mapped_column(String(8), server_default=text("'focus'"), default="focus")
    note: Mapped[str] = mapped_column(String(200), server_default=text("''"), default="")
    removed_at: Mapped[datetime | None]


class AssignmentStudent(Base):
    """Who was sent it."""

    __tablename__ = "assignment_student"
    assignment_id: Mapped[UUID] = mapped_column(ForeignKey("assignment.id"), primary_key=True)
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)


class RepetitionRow(Base):
    """One playing of a step: evidence, written once. The id was made in the browser."""

    __tablename__ = "repetition"
    __table_args__ = (
        CheckConstraint("kind in ('learn', 'set', 'prove')", name="kind"),
        CheckConstraint("source in ('self', 'paper')", name="source"),
        Index("ix_repetition_student_part", "student_id", "part_id", "played_at"),
        Index("ix_repetition_item_student", "item_id", "student_id", "played_at"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    part_id: Mapped[UUID] = mapped_column(ForeignKey("part.id"))
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"))
    item_id: Mapped[UUID] = mapped_column(ForeignKey("assignment_item.id"))
    step: Mapped[int]
    step_name: Mapped[str] = mapped_column(String(80))
    kind: Mapped[str] = mapped_column(String(8))
    as_written: Mapped[bool]
    start_index: Mapped[int]
    start_at: Mapped[Fraction]
    end_index: Mapped[int]
    end_at: Mapped[Fraction]
    tempo_bpm: Mapped[Fraction]
    is_clean: Mapped[bool]
    played_at: Mapped[datetime]
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())
    source: Mapped[str] = mapped_column(String(8), server_default=text("'self'"), default="self")


class Retraction(Base):
    """A student took a repetition back; the repetition itself stays."""

    __tablename__ = "retraction"
    repetition_id: Mapped[UUID] = mapped_column(ForeignKey("repetition.id"), primary_key=True)
    retracted_at: Mapped[datetime]
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Mastery(Base):
    """Projection: where a student stands on a chunk. Rebuildable from evidence at any time."""

    __tablename__ = "mastery"
    student_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True)
    chunk_id: Mapped[UUID] = mapped_column(ForeignKey("chunk.id"), primary_key=True, index=True)
    level: Mapped[int]
    proved_bpm: Mapped[Fraction | None]
    why: Mapped[str] = mapped_column(String(200))
    clean: Mapped[int]
    slips: Mapped[int]
    last_played_at: Mapped[datetime | None]


class SheetJob(Base):
    """A set of practice sheets on its way to a PDF."""

    __tablename__ = "sheet_job"
    __table_args__ = (
        CheckConstraint("state in ('waiting', 'working', 'done', 'failed')", name="state"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    sending_id: Mapped[UUID]
    state: Mapped[str] = mapped_column(String(12), default="waiting")
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    message: Mapped[str] = mapped_column(String(400), default="")
    file_key: Mapped[str] = mapped_column(String(100), default="")
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    ended_at: Mapped[datetime | None]


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


class Drawing(Base):
    """An engraving, kept under the hash of its music and layout."""

    __tablename__ = "drawing"
    key: Mapped[str] = mapped_column(String(64), primary_key=True)
    svg: Mapped[bytes]
