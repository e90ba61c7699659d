"""Queries of rehearsals."""

from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.store import tables as t


def rehearsal_row(
    session: Session, program_id: UUID, rehearsal_id: UUID, *, for_change: bool = False
) -> t.RehearsalRow | None:
    """A rehearsal of a program."""
    query = select(t.RehearsalRow).where(
        t.RehearsalRow.id == rehearsal_id, t.RehearsalRow.program_id == program_id
    )
    return session.scalar(query.with_for_update() if for_change else query)


def rehearsals_of(
    session: Session, program_id: UUID, most: int
) -> list[tuple[t.RehearsalRow, str, str | None]]:
    """The last rehearsals, the newest first, with piece and section."""
    rows = session.execute(
        select(t.RehearsalRow, t.Piece.title, t.Section.name)
        .join(t.Piece, t.Piece.id == t.RehearsalRow.piece_id)
        .outerjoin(t.Section, t.Section.id == t.RehearsalRow.section_id)
        .where(t.RehearsalRow.program_id == program_id, t.Piece.deleted_at.is_(None))
        .order_by(t.RehearsalRow.day.desc(), t.RehearsalRow.made_at.desc())
        .limit(most)
    )
    return [(row, title, section) for row, title, section in rows]
