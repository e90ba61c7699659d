"""The declarative base: constraint names that migrations can rely on, exact column types."""

from datetime import datetime
from fractions import Fraction
from functools import lru_cache
from uuid import UUID

from sqlalchemy import DateTime, Dialect, MetaData, String, Uuid
from sqlalchemy.orm import DeclarativeBase
from sqlalchemy.types import TypeDecorator

ORDER = "und-x-icu"
"""How names are put in order: as Unicode's collation says, whatever the database's own locale."""

NAMES = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


@lru_cache(maxsize=8192)
def _parsed(text: str) -> Fraction:
    """The few offsets and tempos there are come back in every row of evidence."""
    return Fraction(text)


class ExactFraction(TypeDecorator[Fraction]):
    """A fraction stored as text such as ``3/2``: musical time is never a float."""

    impl = String(40)
    cache_ok = True

    def process_bind_param(self, value: Fraction | None, dialect: Dialect) -> str | None:
        """To the database."""
        return None if value is None else str(value)

    def process_result_value(self, value: str | None, dialect: Dialect) -> Fraction | None:
        """From the database."""
        return None if value is None else _parsed(value)


class Base(DeclarativeBase):
    """Root of all tables."""

    metadata = MetaData(naming_convention=NAMES)
    type_annotation_map = {  # noqa: RUF012 - SQLAlchemy reads it as a class attribute
        datetime: DateTime(timezone=True),
        UUID: Uuid(),
        Fraction: ExactFraction(),
    }
