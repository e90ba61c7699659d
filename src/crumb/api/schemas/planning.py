"""Plans, as they go over the wire."""

from datetime import date
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import DailyMinutes, Day, Given, GivenOnce
from crumb.api.schemas.practice import TodayItemOut
from crumb.core.plan.model import Category, Order
from crumb.core.vocabulary import PlayerLevel

Weekday = Annotated[int, Field(ge=0, le=6)]


class ChangeIn(Given):
    """Something changed by hand: a chunk put on a day, held back until one, a drill left out."""

    kind: Literal["pin", "hold", "drop"]
    chunk_id: UUID
    day: Day | None = None
    drill: Annotated[str, StringConstraints(max_length=40)] | None = None


class LeftIn(Given):
    """A chunk that stays at a tempo for this date; none: it is left out."""

    chunk_id: UUID
    tempo: Annotated[int, Field(ge=1, le=400)] | None = None


class PassageGoalIn(Given):
    """A stretch the plan is for, and the tempo it is asked at; none: the part's goal."""

    chunk_id: UUID
    goal: Annotated[int, Field(ge=10, le=400)] | None = None


class PlanIn(GivenOnce):
    """A director's request for a plan."""

    part_id: UUID
    section_id: UUID
    on: Day
    minutes_a_day: DailyMinutes = 20
    sessions_a_day: Annotated[int, Field(ge=0, le=10)] = 1
    warm_up_minutes: Annotated[int, Field(ge=0, le=60)] = 4
    weekdays_off: Annotated[list[Weekday], Field(max_length=7)] = []
    days_off: Annotated[list[Day], Field(max_length=400)] = []
    order: Order = Order.HARDEST
    player: PlayerLevel = PlayerLevel.INTERMEDIATE
    changes: Annotated[list[ChangeIn], Field(max_length=400)] = []
    left: Annotated[list[LeftIn], Field(max_length=400)] = []
    goal: Annotated[int, Field(ge=10, le=400)] | None = None
    passages: Annotated[list[PassageGoalIn], Field(max_length=24)] = []
    due_weekday: Weekday | None = None
    """With one, the class has a weekly rhythm: this week's focus, last week's upkeep."""
    shares: bool = False
    """The minutes are for all of the section's plans that share."""


class WeekOut(BaseModel):
    """A week of the class, with what is new in it and what was last week's, in words."""

    first: date
    due: date
    focus: list[str]
    upkeep: list[str]


class GoalChanceOut(BaseModel):
    """A tempo to be ready for, and the chance of it."""

    name: Literal["floor", "goal", "festival"]
    tempo: float
    chance: float


class PlanItemOut(BaseModel):
    """A thing to do; ``place`` says which chunks, in words, ``chunk_id`` the one if it is one."""

    place: str
    chunk_id: UUID | None
    category: Category
    drill: str
    drill_title: str
    from_bpm: int
    to_bpm: int
    minutes: int
    why: str


class PlanDayOut(BaseModel):
    """A session of a day."""

    day: date
    session: int
    items: list[PlanItemOut]


class OfferOut(BaseModel):
    """An offer that would make the date; ``value`` is what to change."""

    kind: str
    say: str
    value: Any


class StudentPlanOut(BaseModel):
    """A student in a plan: likely or not, and what holds them up."""

    student_id: UUID
    name: str
    chance: float
    feasible: bool
    first: date | None
    last: date | None
    bottleneck: str
    bottleneck_bpm: int | None


class PlanOut(BaseModel):
    """A plan: whom it is for, whether it holds, and the days of the student who is shown."""

    id: UUID | None
    is_withdrawn: bool
    title: str
    part: str
    section: str
    wish: PlanIn
    goal_bpm: float
    chunks: list["PlanChunkOut"]
    why_split: str
    likely: int
    students: list[StudentPlanOut]
    shown: StudentPlanOut
    short_by_minutes: int
    offers: list[OfferOut]
    days: list[PlanDayOut]
    weeks: list[WeekOut]
    goals: list[GoalChanceOut]
    passages: list["PlanPassageOut"]


class PlanChunkOut(BaseModel):
    """A chunk of the plan's part."""

    id: UUID
    label: str


class PlanPassageOut(BaseModel):
    """A stretch the plan is for, in words."""

    chunk_id: UUID
    label: str
    goal: int | None


class PlanLineOut(BaseModel):
    """A plan in the list."""

    id: UUID
    title: str
    part: str
    part_id: UUID
    section: str
    on: date
    minutes_a_day: int
    is_withdrawn: bool


class OutlookLineOut(BaseModel):
    """How a plan stands: how many are likely to be ready, and what holds most of them up."""

    id: UUID
    likely: int
    students: int
    bottleneck: str


class OutlookOut(BaseModel):
    """How the ensemble stands: every plan in force, and everybody in one of them once.

    A student of several plans is likely where all of theirs are.
    """

    likely: int
    students: int
    plans: list[OutlookLineOut]


class Made(BaseModel):
    """The ids of what was made."""

    id: UUID


class PlannedItemOut(BaseModel):
    """An item of today's plan, with the line it is practised by."""

    item: TodayItemOut
    category: Category
    session: int
    minutes: int
    why: str
    is_break_after: bool
    """Whether five minutes are taken off after it."""


class MyPlanOut(BaseModel):
    """A student's day in a plan, and the days that follow."""

    plan_id: UUID
    title: str
    part: str
    on: date
    minutes_a_day: int
    minutes_today: int | None
    is_laid_out: bool
    """If not, whoever opens it has it laid out (``layOutMyDay``)."""
    is_whole: bool
    """Whether it is for the whole part, and not for some passages."""
    week: WeekOut | None
    items: list[PlannedItemOut]
    ahead: list[PlanDayOut]


class MinutesIn(Given):
    """How many minutes there are today; 0: not today; none: the usual."""

    minutes: Annotated[int, Field(ge=0, le=600)] | None


class CalendarOut(BaseModel):
    """The address of a student's calendar feed; anybody who has it can read the days."""

    path: str
