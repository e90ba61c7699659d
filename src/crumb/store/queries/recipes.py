"""Queries of a program's recipes of drills."""

from collections.abc import Sequence
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.store.tables import RecipeRow


def recipes_of(session: Session, program_id: UUID) -> Sequence[RecipeRow]:
    """Recipes that were not removed, newest first."""
    return session.scalars(
        select(RecipeRow)
        .where(RecipeRow.program_id == program_id, RecipeRow.removed_at.is_(None))
        .order_by(RecipeRow.made_at.desc())
    ).all()


def recipe_of(session: Session, program_id: UUID, recipe_id: UUID) -> RecipeRow | None:
    """One of a program."""
    return session.scalar(
        select(RecipeRow).where(RecipeRow.id == recipe_id, RecipeRow.program_id == program_id)
    )
