"""Takes, as they go over the wire."""

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import Given, PositionOut
from crumb.api.spoken import Said


class TakeRulesOut(BaseModel):
    """Whether students may record themselves, and for how many weeks takes stay."""

    is_on: bool
    weeks: int


class TakeRulesIn(Given):
    """What the school says of takes: on only with the consent that local rules ask for."""

    is_on: bool
    weeks: Annotated[int, Field(ge=1, le=26)]


class AnchorOut(BaseModel):
    """A place of the music and when it sounds, in seconds from the beginning of the take."""

    at: PositionOut
    seconds: float


class TakeOut(BaseModel):
    """A take that was handed in, how far it is, and whether somebody judged it."""

    id: UUID
    part_id: UUID
    chunk_id: UUID
    state: Literal["waiting", "ready", "failed"]
    message: Said
    seconds: float | None
    is_short: bool
    why_anew: str
    is_heard: bool
    anchors: list[AnchorOut]
    recorded_at: datetime
    handed_in_at: datetime


class MyTakesOut(BaseModel):
    """What the school says of takes, and one's own."""

    rules: TakeRulesOut
    takes: list[TakeOut]


class TakeAskOut(BaseModel):
    """What a take of a chunk needs: seconds at least, and where the device best stands."""

    least_seconds: int
    set_up: Said


class AnchorIn(Given):
    """A place of the music and when it sounds."""

    at: PositionOut
    seconds: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)]


class AlignIn(Given):
    """Where the music is in a take."""

    anchors: Annotated[list[AnchorIn], Field(max_length=40)]
