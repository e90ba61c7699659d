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
    WithJsonSchema,
    model_validator,
)

from crumb.api.text import refuse_control_characters

_EXACT = re.compile(r"[0-9]{1,9}(/[1-9][0-9]{0,8})?")


def _read_exact(value: object) -> str:
    if not isinstance(value, str) or not _EXACT.fullmatch(value):
        raise ValueError("an exact fraction such as 3/2 is needed")
    return value


Exact = Annotated[
    str,
    BeforeValidator(_read_exact),
    Field(json_schema_extra={"pattern": f"^{_EXACT.pattern}$", "maxLength": 19}),
]


Bpm = Annotated[
    Decimal,
    Field(ge=10, le=400, max_digits=7, decimal_places=4),
    WithJsonSchema({"type": "number", "minimum": 10, "maximum": 400}),
]
"""A tempo: beats a minute, exact to a ten-thousandth."""


BpmStep = Annotated[
    Decimal,
    Field(gt=0, le=100, max_digits=7, decimal_places=4),
    WithJsonSchema({"type": "number", "exclusiveMinimum": 0, "maximum": 100}),
]
"""From one tempo of a ladder to the next."""


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


Moment = Annotated[
    AwareDatetime,
    AfterValidator(_read_moment),
    Field(
        json_schema_extra={
            "formatMinimum": "1970-01-01T00:00:00Z",
            "formatMaximum": "2199-12-31T23:59:59Z",
        }
    ),
]
"""The one type of a moment from outside: with a time zone, and never so far away that the database
or a program's own time zone cannot tell it. ``formatMinimum`` is JSON Schema's word for it.
"""


def _read_day(value: date) -> date:
    if not 1970 <= value.year <= 2199:
        raise ValueError("a day between 1970 and 2199 is needed")
    return value


Day = Annotated[
    date,
    AfterValidator(_read_day),
    Field(json_schema_extra={"formatMinimum": "1970-01-01", "formatMaximum": "2199-12-31"}),
]
"""The one type of a day from outside."""


Version = Annotated[int, Field(ge=0, le=1_000_000)]
"""Which edit of a chunk map a director saw."""


Place = Annotated[int, Field(ge=0, le=100_000)]
"""A place in a list, from 0."""


DailyMinutes = Annotated[int, Field(ge=0, le=600)]
"""Minutes a day; what of them can be is said by the rules, in words."""


class PositionOut(BaseModel):
    """A measure by index and an offset in it."""

    index: Annotated[int, Field(ge=0, le=100_000)]
    at: Exact


Depth = Annotated[int, Field(ge=0, le=9)]


_SettingName = Annotated[str, StringConstraints(max_length=40)]
_SettingNumber = Annotated[int, Field(ge=-100_000, le=100_000)]
_SettingText = Annotated[str, StringConstraints(max_length=80)]
Settings = Annotated[dict[_SettingName, _SettingNumber | _SettingText], Field(max_length=20)]
"""Settings of a drill, by name; the drill says which there are."""
