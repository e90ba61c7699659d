"""Shapes of rehearsals, and the sectionals that students lead."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from crumb.api.schemas.common import Day, Given, GivenOnce
from crumb.api.spoken import Said

Minutes = Annotated[int, Field(ge=5, le=180)]


class RehearsalIn(Given):
    """A rehearsal that is thought of, or a sectional."""

    piece_id: UUID
    minutes: Minutes
    section_id: UUID | None = None
    absent: Annotated[list[UUID], Field(max_length=300)] = []
    away_next: Annotated[list[UUID], Field(max_length=300)] = []


class KeepRehearsalIn(RehearsalIn):
    """A rehearsal that is kept for a day."""

    day: Day


class MeanwhileOut(BaseModel):
    """Meanwhile task of a section that rests in a passage."""

    section: str
    say: Said


class WrittenKeyOut(BaseModel):
    """A key as it is written for a section."""

    section: str
    key: str


class RoomDrillOut(BaseModel):
    """A drill for the room, and one for percussion; ``times`` in a row."""

    key: str
    title: Said
    percussion: Said
    times: int


class RehearsalItemOut(BaseModel):
    """A line of a rehearsal."""

    kind: Literal["warm-up", "work", "run"]
    name: str
    minutes: int
    why: Said
    do: Said
    tempo_bpm: int | None
    drill: RoomDrillOut | None
    sections: list[str]
    meanwhile: list[MeanwhileOut]
    written: list[WrittenKeyOut]


class RehearsalPlanOut(BaseModel):
    """A rehearsal plan."""

    title: str
    is_split: bool
    goal_bpm: float
    items: list[RehearsalItemOut]


class HomeLineOut(BaseModel):
    """A line that a section takes home: how many in a row are left."""

    section: str
    place: str
    drill: Said
    left: int


class RehearsalOut(BaseModel):
    """A rehearsal as it was kept; ``done`` by line, once it is over."""

    id: UUID
    piece_id: UUID
    title: str
    section_id: UUID | None
    section: str | None
    day: date
    minutes: int
    items: list[RehearsalItemOut]
    absent: list[UUID]
    done: dict[int, int] | None
    ended_at: datetime | None
    sent_home_at: datetime | None
    home: list[HomeLineOut]


class SectionalOut(BaseModel):
    """A sectional for whoever leads it: what to do, and nothing of how anybody stands."""

    id: UUID
    title: str
    section: str
    day: date
    minutes: int
    items: list[RehearsalItemOut]


class RehearsalMade(BaseModel):
    """A rehearsal that was kept."""

    id: UUID


class SendHomeIn(GivenOnce):
    """Homework of a rehearsal."""


class EndRehearsalIn(Given):
    """How many times in a row each line was done, and who was not there."""

    done: Annotated[
        dict[Annotated[int, Field(ge=0, le=200)], Annotated[int, Field(ge=0, le=99)]],
        Field(max_length=200),
    ]
    absent: Annotated[list[UUID], Field(max_length=300)] = []
