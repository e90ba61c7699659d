"""Practice on paper."""

from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import Bpm, Day, Given
from crumb.core.vocabulary import JobState


class SheetsIn(Given):
    """How sheets are wished: whether each repetition has a circle to tick."""

    boxes: bool = False


class SheetJobOut(BaseModel):
    """State of a set of practice sheets."""

    id: UUID
    state: JobState
    done: int
    total: int
    message: str


class SheetLineOut(BaseModel):
    """A drill of a sheet: the tempos that can be ticked and those that were typed in."""

    item_id: UUID
    chunk: str
    drill: str
    rungs: list[float]
    ticked: list[float]


class SheetOut(BaseModel):
    """A sheet to type in."""

    code: str
    name: str
    title: str
    lines: list[SheetLineOut]


class TickIn(Given):
    """A box that was ticked."""

    item_id: UUID
    tempo_bpm: Bpm


class TicksIn(Given):
    """Ticks of a sheet, on one day."""

    played_on: Day
    ticks: Annotated[list[TickIn], Field(min_length=1, max_length=400)]
