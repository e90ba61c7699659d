"""Takes, as they go over the wire."""

from datetime import date, datetime
from typing import Annotated
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Day, Given, GivenOnce, PositionOut
from crumb.api.spoken import Said
from crumb.core.takes.alignment import LONGEST_SECONDS
from crumb.core.takes.tasks import MOST_CHOICES, MOST_WANTED, TaskState
from crumb.core.vocabulary import TakeState


class TakeRulesOut(BaseModel):
    """Whether students may record themselves, and for how many weeks takes stay."""

    is_on: bool
    weeks: int


class TakeRulesIn(Given):
    """A school's rules of takes: on only with the consent that local rules ask for."""

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
    state: TakeState
    message: Said
    seconds: float | None
    is_short: bool
    why_anew: str
    is_heard: bool
    anchors: list[AnchorOut]
    recorded_at: datetime
    handed_in_at: datetime


class StyleOut(BaseModel):
    """How a passage is to be played, and where that holds."""

    chunk_id: UUID
    label: Said
    text: str


class StyleIn(Given):
    """How a passage is to be played; empty for nothing any more."""

    text: Annotated[str, StringConstraints(strip_whitespace=True, max_length=300)]


class AskedPassageOut(BaseModel):
    """A passage that is to be handed in, and how long a take of it should last."""

    part_id: UUID
    chunk_id: UUID
    title: str
    part: str
    label: Said
    least_seconds: int


class ThingOut(BaseModel):
    """A thing to hand in: a take of any of these passages, and how far it is."""

    either: list[AskedPassageOut]
    state: TaskState


class OwedOut(BaseModel):
    """A task as a student has it."""

    id: UUID
    due_on: date
    things: list[ThingOut]
    is_closed: bool


class MyTakesOut(BaseModel):
    """The school's rules for takes, and a student's tasks and takes."""

    rules: TakeRulesOut
    asked: list[OwedOut]
    takes: list[TakeOut]


class TakeAskOut(BaseModel):
    """Facts before a take: seconds at least, the place of the device, the style."""

    least_seconds: int
    set_up: Said
    style: list[StyleOut]


class WishedTakeIn(Given):
    """A passage to hand in: a chunk, or the whole part; as long as it takes, or so many seconds."""

    part_id: UUID
    chunk_id: UUID | None = None
    least_seconds: Annotated[int, Field(ge=1, le=LONGEST_SECONDS)] | None = None


class TaskIn(GivenOnce):
    """A task for a section; any passage of an inner list closes that thing."""

    section_id: UUID
    due_on: Day
    wanted: Annotated[
        list[Annotated[list[WishedTakeIn], Field(min_length=1, max_length=MOST_CHOICES)]],
        Field(min_length=1, max_length=MOST_WANTED),
    ]


class TaskMadeOut(BaseModel):
    """A task that was made."""

    id: UUID


class OwingOut(BaseModel):
    """A student with a task: how far each thing is, in the order of the task as they have it."""

    student_id: UUID
    name: str
    states: list[TaskState]
    is_closed: bool


class WantedOut(BaseModel):
    """A thing a section is to hand in, and how many have."""

    either: list[AskedPassageOut]
    handed_in: int


class TaskOut(BaseModel):
    """A task with everybody who has it."""

    id: UUID
    section_id: UUID
    section: str
    due_on: date
    wanted: list[WantedOut]
    students: list[OwingOut]


class AnchorIn(Given):
    """A place of the music and when it sounds."""

    at: PositionOut
    seconds: Annotated[float, Field(ge=0, le=3600, allow_inf_nan=False)]


class AlignIn(Given):
    """Where the music is in a take."""

    anchors: Annotated[list[AnchorIn], Field(max_length=40)]
