"""Idempotency keys: acts whose id a device made, with the answer of each."""

from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ForeignKey, String, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from crumb.store.base import Base


class IdempotencyKey(Base):
    """The id of an act that was done; the same id again gets the same ``answer``."""

    __tablename__ = "idempotency_key"
    id: Mapped[UUID] = mapped_column(primary_key=True)
    program_id: Mapped[UUID] = mapped_column(ForeignKey("program.id"), index=True)
    person_id: Mapped[UUID] = mapped_column(ForeignKey("person.id"), index=True)
    act: Mapped[str] = mapped_column(String(40))
    answer: Mapped[Any] = mapped_column(JSONB)
    at: Mapped[datetime] = mapped_column(server_default=func.now(), index=True)
