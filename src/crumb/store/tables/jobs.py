"""Background jobs, and the workers that take them."""

from datetime import datetime
from uuid import UUID

from sqlalchemy import ForeignKey, Index, String, false, func, text
from sqlalchemy.orm import Mapped, mapped_column

from crumb.core.vocabulary import JobKind, JobState
from crumb.store.base import Base
from crumb.store.tables.choices import one_of


class Job(Base):
    """An upload on its way to a piece, pages on their way to measures, sheets on theirs to paper.

    It waits, is worked on with progress, and ends done, failed or cancelled. ``alive_at`` is the
    last sign of life of whoever works on it, ``tries`` how often it was begun.
    """

    __tablename__ = "job"
    __table_args__ = (
        one_of("kind", JobKind),
        one_of("state", JobState),
        Index(
            "ix_job_open",
            "state",
            "alive_at",
            postgresql_where=text("state in ('waiting', 'working')"),
        ),
    )
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"))
    kind: Mapped[str] = mapped_column(String(8))
    state: Mapped[str] = mapped_column(String(12), default=JobState.WAITING)
    stage: Mapped[str] = mapped_column(String(40), default="")
    done: Mapped[int] = mapped_column(default=0)
    total: Mapped[int] = mapped_column(default=0)
    tries: Mapped[int] = mapped_column(default=0)
    message: Mapped[str] = mapped_column(String(400), default="")
    file_name: Mapped[str] = mapped_column(String(200), default="")
    file_key: Mapped[str] = mapped_column(String(100), default="")
    """The upload of an import; the PDF of sheets, once they are done."""
    bytes: Mapped[int] = mapped_column(server_default=text("0"), default=0)
    """Of the upload."""
    replaces_id: Mapped[UUID | None] = mapped_column(ForeignKey("piece.id"))
    piece_id: Mapped[UUID | None] = mapped_column(ForeignKey("piece.id"))
    sending_id: Mapped[UUID | None]
    take_id: Mapped[UUID | None]
    page_set_id: Mapped[UUID | None] = mapped_column(index=True)
    boxes: Mapped[bool] = mapped_column(server_default=false(), default=False)
    """Whether sheets have a circle for each repetition."""
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    alive_at: Mapped[datetime] = mapped_column(server_default=func.now())
    ended_at: Mapped[datetime | None]


class WorkerSeen(Base):
    """When a worker last gave a sign of life."""

    __tablename__ = "worker"
    name: Mapped[str] = mapped_column(String(120), primary_key=True)
    seen_at: Mapped[datetime]
