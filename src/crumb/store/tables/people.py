"""Programs, people, sections, sign-in."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import (
    ARRAY,
    CheckConstraint,
    ForeignKey,
    Index,
    LargeBinary,
    SmallInteger,
    String,
    Uuid,
    func,
    text,
)
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.core.vocabulary import Paper, Role, SchoolWords
from crumb.store.base import Base
from crumb.store.tables.choices import one_of


class Program(Base):
    """A school's music program."""

    __tablename__ = "program"
    __table_args__ = (
        one_of("words", SchoolWords),
        one_of("paper", Paper),
        CheckConstraint("take_weeks between 1 and 26", name="take_weeks"),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    class_code: Mapped[str] = mapped_column(String(12), unique=True)
    time_zone: Mapped[str] = mapped_column(String(64), server_default=text("'UTC'"), default="UTC")
    """Where the school is: what a day is for its students."""
    words: Mapped[str] = mapped_column(String(2), server_default=text("'us'"), default="us")
    """Whose school English is spoken: measure and quarter note, or bar and crotchet."""
    paper: Mapped[str] = mapped_column(
        String(12), server_default=text("'us-letter'"), default=Paper.US_LETTER
    )
    has_takes: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    """Whether students may record themselves: the school's consent, off until it is given."""
    take_weeks: Mapped[int] = mapped_column(SmallInteger, server_default=text("6"), default=6)
    """For how long takes are kept."""
    mastery_rules: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    """What levels ask for, where the director changed it; none: the usual."""
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Person(Base):
    """Anybody of a program. A secret is a password or a PIN, hashed; empty: they cannot sign in."""

    __tablename__ = "person"
    __table_args__ = (
        one_of("role", Role),
        Index("uq_person_email_key", "email_key", unique=True),
        Index(
            "uq_person_program_id_name_key",
            "program_id",
            "name_key",
            unique=True,
            postgresql_where=text("role = 'student'"),
        ),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    role: Mapped[str] = mapped_column(String(12))
    name: Mapped[str] = mapped_column(String(80))
    name_key: Mapped[str] = mapped_column(String(400))
    """The name as it is compared (``crumb.core.names``)."""
    email: Mapped[str | None] = mapped_column(String(200))
    email_key: Mapped[str | None] = mapped_column(String(800))
    secret_hash: Mapped[str] = mapped_column(String(200))
    calendar_key: Mapped[str | None] = mapped_column(String(43), unique=True)
    """Whoever has it reads this person's days; made when asked for, gone when taken back."""
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class Section(Base):
    """Players of one part."""

    __tablename__ = "section"
    __table_args__ = (
        Index("uq_section_program_id_name_key", "program_id", "name_key", unique=True),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"))
    name: Mapped[str] = mapped_column(String(80))
    name_key: Mapped[str] = mapped_column(String(400))


class SectionMember(Base):
    """A student plays in a section."""

    __tablename__ = "section_member"
    section_id: Mapped[UUID] = mapped_column(ForeignKey("section.id"), primary_key=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    is_leader: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    shows_leader: Mapped[bool] = mapped_column(server_default=text("false"), default=False)
    """Whether this player lets the section's leader count them among those who have a chunk."""


class Charge(Base):
    """A helper's charge: a section that an assistant hears, or a helper's one student."""

    __tablename__ = "charge"
    __table_args__ = (CheckConstraint("(section_id is null) <> (student_id is null)", name="one"),)
    id: Mapped[UUID] = mapped_column(primary_key=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), index=True)
    section_id: Mapped[UUID | None] = mapped_column(ForeignKey("section.id"), index=True)
    student_id: Mapped[UUID | None] = mapped_column(ForeignKey("person.id"), index=True)


class SignedIn(Base):
    """A server-side session; the cookie's token is stored hashed only."""

    __tablename__ = "signed_in"
    token_hash: Mapped[bytes] = mapped_column(LargeBinary(32), primary_key=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), index=True)
    signed_in_at: Mapped[datetime] = mapped_column(server_default=func.now())
    expires_at: Mapped[datetime]


class KnownDevice(Base):
    """A device that this person signed in on before; strangers' guesses do not lock it out."""

    __tablename__ = "known_device"
    device_hash: Mapped[bytes] = mapped_column(LargeBinary(32), primary_key=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), primary_key=True, index=True)
    seen_at: Mapped[datetime] = mapped_column(server_default=func.now())


class SignInGate(Base):
    """Tries at one gate (an account, a device, an address) since its window began.

    The key is a hash, so that whatever a stranger sends fits.
    """

    __tablename__ = "sign_in_gate"
    key: Mapped[bytes] = mapped_column(LargeBinary(32), primary_key=True)
    since: Mapped[datetime]
    tries: Mapped[int]


class Invitation(Base):
    """A link by which somebody who helps makes an account; its token is stored hashed only."""

    __tablename__ = "invitation"
    token_hash: Mapped[bytes] = mapped_column(LargeBinary(32), primary_key=True)
    id: Mapped[UUID] = mapped_column(unique=True, server_default=text("gen_random_uuid()"))
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    made_by: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    role: Mapped[str] = mapped_column(
        String(12), server_default=text("'director'"), default=Role.DIRECTOR
    )
    section_ids: Mapped[list[UUID]] = mapped_column(
        ARRAY(Uuid), server_default=text("'{}'"), default=list
    )
    student_id: Mapped[UUID | None]
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
