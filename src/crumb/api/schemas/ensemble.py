"""The score as a whole, rehearsals and the Desk, as they go over the wire."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Day, Given, GivenOnce
from crumb.api.spoken import Said

Minutes = Annotated[int, Field(ge=5, le=180)]


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
    """What holds the tempo of the whole down."""

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
    """Where and how to divide every part; without words all of the score."""

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
    version: int


class TakeBackIn(Given):
    """Maps to be put back as they were before."""

    maps: Annotated[list[MapVersion], Field(max_length=200)]


class TakenBackOut(BaseModel):
    """Parts that were edited since, and stay as they are."""

    kept: list[str]


class SendPassageIn(GivenOnce):
    """A drill on a passage for everybody who plays there, or for some sections."""

    place: Annotated[int, Field(ge=0)]
    drill: Annotated[str, StringConstraints(max_length=40)]
    due_on: Day
    minutes_a_day: int
    section_ids: Annotated[list[UUID], Field(max_length=100)] = []


class SentToOut(BaseModel):
    """A section that has it now, or why it does not fit there."""

    section: str
    part: str
    students: int
    why_not: Said


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
    """What a section does that has nothing to do there."""

    section: str
    say: Said


class WrittenKeyOut(BaseModel):
    """A key as it is written for a section."""

    section: str
    key: str


class RoomDrillOut(BaseModel):
    """What the room does, and percussion in its place; ``times`` in a row."""

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
    """What would be rehearsed."""

    title: str
    is_split: bool
    goal_bpm: float
    items: list[RehearsalItemOut]


class HomeLineOut(BaseModel):
    """What a section takes home: how many in a row are left."""

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
    """What is open of a rehearsal goes home."""


class EndRehearsalIn(Given):
    """How many times in a row each line was done, and who was not there."""

    done: Annotated[
        dict[Annotated[int, Field(ge=0, le=200)], Annotated[int, Field(ge=0, le=99)]],
        Field(max_length=200),
    ]
    absent: Annotated[list[UUID], Field(max_length=300)] = []


class DeskLineOut(BaseModel):
    """A line of the Desk: what, why, about whom, and where it leads."""

    key: str
    kind: Literal["hurts", "refused", "takes", "owed", "stuck", "idle", "fading"]
    say: Said
    why: Said
    student_ids: list[UUID]
    students: list[str]
    part_id: UUID | None
    chunk_id: UUID | None


class DateAheadOut(BaseModel):
    """A date that a plan leads to."""

    plan_id: UUID
    piece_id: UUID
    piece: str
    part: str
    section: str
    on: date
    days: int


class DeskOut(BaseModel):
    """What needs a director today."""

    lines: list[DeskLineOut]
    more: int
    put_off: int
    dates: list[DateAheadOut]


class PutOffIn(Given):
    """A line to be kept away until a day; today brings it back."""

    line: Annotated[str, StringConstraints(min_length=1, max_length=120)]
    until: Day


class PartSlipsOut(BaseModel):
    """How often a part slipped on a passage."""

    part_id: UUID
    part: str
    count: int


class PassageSlipsOut(BaseModel):
    """A passage with its slips by part, that with most of them first."""

    name: Said
    parts: list[PartSlipsOut]


class OwnSectionOut(BaseModel):
    """A section with a leader that one plays in, and whether one shows them how far one is."""

    id: UUID
    name: str
    leaders: list[str]
    is_led: bool
    shows: bool


class ShowsIn(Given):
    """Whether the leader of one's section may count oneself."""

    shows: bool


class ChunkShownOut(BaseModel):
    """A chunk, and how many of those who show it have it at tempo."""

    label: Said
    have: int


class PartShownOut(BaseModel):
    """What a section shows its leader of a part: counts, no names."""

    section: str
    title: str
    part: str
    of: int
    chunks: list[ChunkShownOut]


class LeadingOut(BaseModel):
    """One's sections with their leaders, and what those show that one leads."""

    sections: list[OwnSectionOut]
    shown: list[PartShownOut]
