"""Hearings, as they go over the wire."""

from datetime import date
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import DailyMinutes, Day, Given, GivenOnce, PositionOut
from crumb.api.schemas.practice import LastHearingOut
from crumb.api.schemas.splitting import ChunkOut
from crumb.api.schemas.takes import StyleOut, TakeOut
from crumb.api.schemas.wall import CureOut
from crumb.api.spoken import Said
from crumb.core.evidence.slips import SlipKind

Words = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)]


class WaitingOut(BaseModel):
    """A student to be heard, with what was judged last, if anything was."""

    student_id: UUID
    name: str
    level: int
    why: Said
    due_on: date | None
    last: LastHearingOut | None
    takes: list[TakeOut]
    """Takes of the student, newest first."""


class FaultKindOut(BaseModel):
    """A kind of slip and its name."""

    key: SlipKind
    label: Said


class ChecklistLineOut(BaseModel):
    """A line of the checklist, and the level it is judged at alone; None: at any."""

    line: Said
    judged_at: int | None


class JudgesSheetOut(BaseModel):
    """A judge's sheet for a chunk: who is waiting, what can be said, what to watch for."""

    chunk: ChunkOut
    waiting: list[WaitingOut]
    kinds: list[FaultKindOut]
    checklist: list[ChecklistLineOut]
    watch: list[Said]
    style: list[StyleOut]


class SlipHeardIn(Given):
    """A slip that a judge heard: its place and its kind."""

    at: PositionOut
    what: SlipKind | None = None


class JudgedIn(Given):
    """A hearing as it was judged."""

    id: UUID
    student_id: UUID
    chunk_id: UUID
    level: Annotated[int, Field(ge=0, le=6)]
    reason: Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)] = ""
    went_well: Words = ""
    one_thing: Words = ""
    missing: Annotated[list[Annotated[str, StringConstraints(max_length=40)]], Field(max_length=20)]
    slips: Annotated[list[SlipHeardIn], Field(max_length=200)] = []
    cure: Annotated[str, StringConstraints(max_length=20)] = ""
    take_id: UUID | None = None


class JudgedOut(BaseModel):
    """A hearing that was kept: the level after and before it.

    ``why`` is the reason where the level differs from the one that was heard, else empty.
    """

    id: UUID
    level: int
    before: int
    why: str


class FaultStudent(BaseModel):
    """Somebody who has a fault."""

    id: UUID
    name: str


class FaultOut(BaseModel):
    """A fault that several have, and its cure."""

    chunk: ChunkOut
    cure: CureOut
    students: list[FaultStudent]


class CureAllIn(GivenOnce):
    """A fault whose cure goes to all who have it."""

    chunk_id: UUID
    symptom: Annotated[str, StringConstraints(max_length=20)]
    due_on: Day
    minutes_a_day: DailyMinutes = 15


class CuredOut(BaseModel):
    """Which drill went to how many."""

    drill: Said
    students: int
