"""Queries of pieces and parts. Notation and survey are long: they are read by themselves."""

from collections.abc import Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Cast, Text, cast, func, literal, select, update
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session, defer
from sqlalchemy.orm.interfaces import ORMOption

from crumb.core.vocabulary import JobState
from crumb.store.tables import Job, Piece, PiecePart


def _short() -> tuple[ORMOption, ...]:
    return defer(PiecePart.notation), defer(PiecePart.survey)


def pieces_of(session: Session, program_id: UUID) -> Sequence[Piece]:
    """Pieces of a program as they stand, newest first."""
    return session.scalars(
        select(Piece)
        .where(
            Piece.program_id == program_id,
            Piece.replaced_by_id.is_(None),
            Piece.deleted_at.is_(None),
        )
        .order_by(Piece.created_at.desc())
    ).all()


def parts_of(session: Session, program_id: UUID) -> Sequence[PiecePart]:
    """All parts of a program, in score order."""
    return session.scalars(
        select(PiecePart)
        .where(PiecePart.program_id == program_id)
        .order_by(PiecePart.place)
        .options(*_short())
    ).all()


def parts_in(session: Session, piece_id: UUID) -> Sequence[PiecePart]:
    """The parts of a piece, in score order."""
    return session.scalars(
        select(PiecePart)
        .where(PiecePart.piece_id == piece_id)
        .order_by(PiecePart.place)
        .options(*_short())
    ).all()


def piece_of(session: Session, program_id: UUID, piece_id: UUID) -> Piece | None:
    """A piece of a program that was not taken away."""
    return session.scalar(
        select(Piece).where(
            Piece.id == piece_id, Piece.program_id == program_id, Piece.deleted_at.is_(None)
        )
    )


def part_of(
    session: Session, program_id: UUID, part_id: UUID, *, for_change: bool = False
) -> PiecePart | None:
    """A part of a program whose piece was not taken away; locked if it is to be changed.

    Its id never changes: who only points at it (what is sent, what a plan lays out) goes on.
    """
    query = (
        select(PiecePart)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .where(
            PiecePart.id == part_id,
            PiecePart.program_id == program_id,
            Piece.deleted_at.is_(None),
        )
        .options(*_short())
    )
    return session.scalar(
        query.with_for_update(of=PiecePart, key_share=True) if for_change else query
    )


def any_part(session: Session, part_id: UUID) -> PiecePart:
    """A part by its id alone."""
    return session.get_one(PiecePart, part_id, options=_short())


def notation_of(session: Session, part_id: UUID) -> str | None:
    """A part's notation; empty where it was erased."""
    return session.scalar(select(PiecePart.notation).where(PiecePart.id == part_id))


def version_for(session: Session, part_id: UUID, *, played_on: str) -> UUID | None:
    """The version of a part that was kept for an instrument."""
    return session.scalar(
        select(PiecePart.id).where(
            PiecePart.version_of_id == part_id, PiecePart.played_on == played_on
        )
    )


def version_called(session: Session, part_id: UUID, name: str) -> UUID | None:
    """The version of a part with a name."""
    return session.scalar(
        select(PiecePart.id).where(PiecePart.version_of_id == part_id, PiecePart.name == name)
    )


def last_place(session: Session, piece_id: UUID) -> int:
    """The place of the last part of a piece; 0 without any."""
    last = session.scalar(select(func.max(PiecePart.place)).where(PiecePart.piece_id == piece_id))
    return last or 0


# Taken away -------------------------------------------------------------------------------------


def with_earlier(session: Session, piece_id: UUID) -> list[UUID]:
    """A piece and all the versions that it replaced."""
    found = [piece_id]
    newest = found
    while newest:
        newest = list(session.scalars(select(Piece.id).where(Piece.replaced_by_id.in_(newest))))
        found += newest
    return found


def mark_taken_away(
    session: Session, piece_ids: Sequence[UUID], at: datetime | None, *, erases_evidence: bool
) -> None:
    """Say when pieces were taken away (None: they are back), and what goes with them."""
    session.execute(
        update(Piece)
        .where(Piece.id.in_(piece_ids))
        .values(deleted_at=at, erases_evidence=erases_evidence)
    )


def taken_away(session: Session, program_id: UUID, since: datetime) -> Sequence[Piece]:
    """Pieces taken away after a moment whose music is still there, the latest first."""
    return session.scalars(
        select(Piece)
        .where(
            Piece.program_id == program_id,
            Piece.deleted_at > since,
            Piece.file_key != "",
        )
        .order_by(Piece.deleted_at.desc())
    ).all()


def taken_away_before(session: Session, moment: datetime) -> Sequence[UUID]:
    """Pieces of any program taken away before a moment whose music is still there."""
    return session.scalars(
        select(Piece.id).where(Piece.deleted_at < moment, Piece.file_key != "").order_by(Piece.id)
    ).all()


def to_erase(session: Session, piece_id: UUID, moment: datetime) -> Piece | None:
    """A piece, locked, if it is still one that was taken away before a moment."""
    return session.scalar(
        select(Piece)
        .where(Piece.id == piece_id, Piece.deleted_at < moment, Piece.file_key != "")
        .with_for_update(skip_locked=True)
    )


def is_file_used(session: Session, key: str) -> bool:
    """Whether a file is some piece's, or of something that is being brought in."""
    piece = select(Piece.id).where(Piece.file_key == key).limit(1)
    waiting = select(Job.id).where(
        Job.file_key == key, Job.state.in_((JobState.WAITING, JobState.WORKING))
    )
    return session.scalar(piece) is not None or session.scalar(waiting.limit(1)) is not None


def json_of(text: str) -> Cast[Any]:
    """JSON that is text already, as the value of a column."""
    return cast(literal(text, Text), JSONB)


def title_of(session: Session, piece_id: UUID) -> str:
    """The title of a piece; empty if it is gone."""
    return session.scalar(select(Piece.title).where(Piece.id == piece_id)) or ""
