"""Types that several schemas share."""

import re
from datetime import date, datetime
from decimal import Decimal
from fractions import Fraction
from typing import Annotated, Literal
from uuid import UUID

from pydantic import (
    AfterValidator,
    AwareDatetime,
    BaseModel,
    BeforeValidator,
    Field,
    StringConstraints,
    model_validator,
)

from crumb.api.text import refuse_control_characters

_EXACT = re.compile(r"[0-9]{1,9}(/[1-9][0-9]{0,8})?")


def _read_exact(value: object) -> str:
    if not isinstance(value, str) or not _EXACT.fullmatch(value):
        raise ValueError("an exact fraction such as 3/2 is needed")
    return value


Exact = Annotated[str, BeforeValidator(_read_exact)]


Bpm = Annotated[Decimal, Field(ge=10, le=400, max_digits=7, decimal_places=4)]


Line = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]


Secret = Annotated[str, StringConstraints(min_length=1, max_length=200)]


LayoutName = Literal["page", "phone-page", "snippet", "phone-snippet"]


def to_fraction(value: Decimal) -> Fraction:
    """A decimal from the wire, exactly."""
    return Fraction(value)


class Given(BaseModel):
    """A body of a request. It refuses characters that nobody can see or store."""

    @model_validator(mode="before")
    @classmethod
    def _no_control_characters(cls, value: object) -> object:
        refuse_control_characters(value)
        return value


class GivenOnce(Given):
    """An act with an id that the device made: sent again, it is not done again."""

    id: UUID | None = None


class Problem(BaseModel):
    """A problem in plain words (RFC 9457)."""

    type: str
    title: str
    status: int
    detail: str
    instead: list[str] | None = None
    request_id: str | None = None


def _read_moment(value: datetime) -> datetime:
    if not 1970 <= value.year <= 2199:
        raise ValueError("a moment between 1970 and 2199 is needed")
    return value


Moment = Annotated[AwareDatetime, AfterValidator(_read_moment)]


def _read_day(value: date) -> date:
    if not 1970 <= value.year <= 2199:
        raise ValueError("a day between 1970 and 2199 is needed")
    return value


Day = Annotated[date, AfterValidator(_read_day)]


class PositionOut(BaseModel):
    """A measure by index and an offset in it."""

    index: Annotated[int, Field(ge=0, le=100_000)]
    at: Exact


Depth = Annotated[int, Field(ge=0, le=9)]


Settings = Annotated[dict[str, int | str], Field(max_length=20)]
