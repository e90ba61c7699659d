"""Which sections play which parts."""

from collections.abc import Iterable, Sequence
from uuid import UUID

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from crumb.store.tables import PartSection, PiecePart


def sections_by_part(session: Session, program_id: UUID) -> dict[UUID, list[UUID]]:
    """The sections of every part of a program that has any."""
    rows = session.execute(
        select(PartSection.part_id, PartSection.section_id)
        .join(PiecePart, PiecePart.id == PartSection.part_id)
        .where(PiecePart.program_id == program_id)
    )
    found: dict[UUID, list[UUID]] = {}
    for part_id, section_id in rows:
        found.setdefault(part_id, []).append(section_id)
    return found


def sections_on(session: Session, part_id: UUID) -> Sequence[UUID]:
    """The sections that play a part."""
    return session.scalars(
        select(PartSection.section_id).where(PartSection.part_id == part_id)
    ).all()


def parts_played_by(session: Session, piece_id: UUID, section_id: UUID) -> Sequence[UUID]:
    """The parts of a piece that a section plays, in score order."""
    return session.scalars(
        select(PartSection.part_id)
        .join(PiecePart, PiecePart.id == PartSection.part_id)
        .where(PiecePart.piece_id == piece_id, PartSection.section_id == section_id)
        .order_by(PiecePart.place)
    ).all()


def put(session: Session, part_id: UUID, section_ids: Iterable[UUID]) -> None:
    """Say who plays a part from now on, in the place of whoever did."""
    session.execute(delete(PartSection).where(PartSection.part_id == part_id))
    session.add_all(
        PartSection(part_id=part_id, section_id=one) for one in dict.fromkeys(section_ids)
    )
    session.flush()
