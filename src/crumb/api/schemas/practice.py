"""What a student sees and hands in."""

from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Bpm, Given, Moment, Role
from crumb.api.schemas.drills import WorkedOut
from crumb.api.schemas.splitting import ChunkOut
from crumb.api.schemas.wall import CellOut
from crumb.api.spoken import Said


class ClimbOut(BaseModel):
    """Where a student stands on a ladder."""

    tempo: float
    reach: float
    step: int
    in_a_row: int
    slips_in_a_row: int
    done: list[int]
    cycles: int
    is_finished: bool
    told: Said
    last_at: float | None


class TodayItemOut(BaseModel):
    """One line of today's list."""

    item_id: UUID
    title: str
    part: str
    chunk: str
    drill: str
    minutes: float
    tempo: float
    goal_bpm: float
    is_finished: bool
    due_on: date
    level: int
    role: Role
    note: Said
    rests: bool
    waits: bool
    """It is for another day of practice."""
    is_at_goal: bool


class StandOut(BaseModel):
    """Everything the Stand needs."""

    item: TodayItemOut
    worked: WorkedOut
    climb: ClimbOut
    clean_means: str
    on_slip: str
    caution: Said


class RepetitionIn(Given):
    """One repetition as the device hands it in; its id was made there.

    ``tempo_bpm`` is nothing without a click. ``reason``: why rungs were left out.
    """

    id: UUID
    item_id: UUID
    step: Annotated[int, Field(ge=0, le=500)]
    tempo_bpm: Bpm | None
    is_clean: bool
    played_at: Moment
    reason: Annotated[str, StringConstraints(max_length=200)] = ""
    source: Literal["self", "helper"] = "self"


class FreeRepetitionIn(Given):
    """One repetition of a chunk as written that no drill asked for."""

    id: UUID
    part_id: UUID
    chunk_id: UUID
    tempo_bpm: Bpm | None
    is_clean: bool
    played_at: Moment


class RepetitionsIn(Given):
    """A batch from the device's queue: what was played, and what was taken back of it."""

    repetitions: Annotated[list[RepetitionIn], Field(max_length=500)] = []
    free: Annotated[list[FreeRepetitionIn], Field(max_length=500)] = []
    taken_back: Annotated[list[UUID], Field(max_length=500)] = []


class ItemState(BaseModel):
    """Where a ladder stands now."""

    item_id: UUID
    climb: ClimbOut


class ChunkLevel(BaseModel):
    """Where a chunk stands now."""

    chunk_id: UUID
    level: int


class DoubtOut(BaseModel):
    """A repetition that was kept but proves nothing, and why."""

    id: UUID
    doubt: str
    say: Said


class HandedIn(BaseModel):
    """What handing in changed, and nothing else."""

    items: list[ItemState]
    levels: list[ChunkLevel]
    doubted: list[DoubtOut]


class WayOut(BaseModel):
    """One of two ways: clean tries of all, the tempo it is sure at, ratings from 1 to 5."""

    name: str
    clean: int
    tries: int
    sure_bpm: float | None
    intonation: float | None
    tone: float | None


class WaysOut(BaseModel):
    """Two ways compared, and in a sentence what that says."""

    ways: list[WayOut]
    verdict: str


Stars = Annotated[int, Field(ge=1, le=5)]


class WayRatingIn(Given):
    """What was heard of one way, 0 or 1; its id is made where it was heard."""

    id: UUID
    way: Annotated[int, Field(ge=0, le=1)]
    intonation: Stars
    tone: Stars


class MyPartOut(BaseModel):
    """A part of the student's own, with their own levels."""

    part_id: UUID
    title: str
    part: str
    chunks: list[ChunkOut]
    cells: list[CellOut]
