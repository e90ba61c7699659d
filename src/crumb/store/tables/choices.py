"""Check constraints made of the closed sets of the core: a word is written down once."""

from enum import StrEnum

from sqlalchemy import CheckConstraint


def one_of(column: str, words: type[StrEnum]) -> CheckConstraint:
    """The constraint, named as the column, that holds it to the words of a set."""
    listed = ", ".join(f"'{word}'" for word in words)
    return CheckConstraint(f"{column} in ({listed})", name=column)
