"""Shapes of a score as a whole, split and sent for everybody."""

from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import DailyMinutes, Day, Given, GivenOnce, Place, Version
from crumb.api.spoken import Said


class DeskOfScore(BaseModel):
    """A section with a part in front of it."""

    section_id: UUID
    section: str
    part_id: UUID
    part: str
    students: int
    chunks: int


class SectionOnOut(BaseModel):
    """A section on a passage; ``desk`` is its place in the list of those who play."""

    desk: int
    load: float
    standing: Said
    at_tempo: int
    open: int
    tempo_bpm: int | None


class PassageOut(BaseModel):
    """A passage; ``kin`` are the places of passages like it."""

    name: str
    first: int
    last: int
    seconds: float
    open: int
    of: int
    kin: list[int]
    sections: list[SectionOnOut]


class BottleneckOut(BaseModel):
    """The chunks that hold the tempo of the whole down."""

    passage: int
    desk: int
    tempo_bpm: int


class ScoreOut(BaseModel):
    """A piece as a whole: one tempo with its floor and ceiling, and how each passage stands."""

    piece_id: UUID
    title: str
    goal_bpm: float
    floor_bpm: float | None
    ceiling_bpm: int | None
    is_split: bool
    desks: list[DeskOfScore]
    passages: list[PassageOut]
    bottleneck: BottleneckOut | None


class SplitTogetherIn(GivenOnce):
    """A request to split every part of a passage, or of the whole score."""

    words: Annotated[str, StringConstraints(strip_whitespace=True, max_length=80)] = ""
    by: Literal["measures", "phrases", "load"] = "load"
    measures: Annotated[int, Field(ge=1, le=64)] = 4


class SplitPartOut(BaseModel):
    """A part afterwards; without a version it was left as it is."""

    part_id: UUID
    part: str
    chunks: int
    version: int | None


class MapVersion(Given):
    """A map as it was left."""

    part_id: UUID
    version: Version


class TakeBackIn(Given):
    """Maps to be put back as they were before."""

    maps: Annotated[list[MapVersion], Field(max_length=200)]


class TakenBackOut(BaseModel):
    """Parts that were edited since, and stay as they are."""

    kept: list[str]


class SendPassageIn(GivenOnce):
    """A drill on a passage for everybody who plays there, or for some sections."""

    place: Place
    drill: Annotated[str, StringConstraints(max_length=40)]
    due_on: Day
    minutes_a_day: DailyMinutes
    section_ids: Annotated[list[UUID], Field(max_length=100)] = []


class SentToOut(BaseModel):
    """A section that has it now, or why it does not fit there."""

    section: str
    part: str
    students: int
    why_not: Said


class PartSlipsOut(BaseModel):
    """How often a part slipped on a passage."""

    part_id: UUID
    part: str
    count: int


class PassageSlipsOut(BaseModel):
    """A passage with its slips by part, that with most of them first."""

    name: Said
    parts: list[PartSlipsOut]
