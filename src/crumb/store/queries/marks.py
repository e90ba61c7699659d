"""Queries of marks in parts, by who may see them."""

from collections.abc import Sequence
from uuid import UUID

from sqlalchemy import ColumnElement, and_, or_, select
from sqlalchemy.orm import Session

from crumb.core.vocabulary import MarkLayer
from crumb.store.tables import Mark

_OWN = MarkLayer.OWN
"""The layer of what somebody wrote for themselves."""


def shared(session: Session, part_id: UUID) -> Sequence[Mark]:
    """Marks in a part that were written for others."""
    return _on(session, part_id, Mark.layer != _OWN)


def reaching(
    session: Session, part_id: UUID, person_id: UUID, section_ids: Sequence[UUID]
) -> Sequence[Mark]:
    """Marks that reach a player of some sections, and the player's own."""
    theirs = or_(Mark.section_id.is_(None), Mark.section_id.in_(section_ids))
    own = and_(Mark.layer == _OWN, Mark.author_id == person_id)
    return _on(session, part_id, or_(and_(Mark.layer != _OWN, theirs), own))


def everything(session: Session, part_id: UUID) -> Sequence[Mark]:
    """All that stands in a part."""
    return _on(session, part_id)


def _on(session: Session, part_id: UUID, *which: ColumnElement[bool]) -> Sequence[Mark]:
    return session.scalars(
        select(Mark).where(Mark.part_id == part_id, Mark.removed_at.is_(None), *which)
    ).all()


def mark_of(session: Session, program_id: UUID, mark_id: UUID) -> Mark | None:
    """A mark of a program, taken away or not."""
    return session.scalar(select(Mark).where(Mark.id == mark_id, Mark.program_id == program_id))
