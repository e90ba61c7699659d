"""Queries of idempotency keys."""

from datetime import timedelta
from uuid import UUID

from sqlalchemy import delete, func
from sqlalchemy.orm import Session

from crumb.store.tables import IdempotencyKey


def key_of(session: Session, key: UUID) -> IdempotencyKey | None:
    """The act that was done under an id."""
    return session.get(IdempotencyKey, key)


def forget_older(session: Session, age: timedelta) -> None:
    """Forget acts that nobody will send again."""
    session.execute(delete(IdempotencyKey).where(IdempotencyKey.at < func.now() - age))
