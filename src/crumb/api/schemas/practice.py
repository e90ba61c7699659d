"""Practice: a student's list, drills, and everything they hand in."""

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Bpm, Given, Moment, PositionOut
from crumb.api.schemas.drills import WorkedOut
from crumb.api.schemas.splitting import ChunkOut
from crumb.api.schemas.wall import CellOut
from crumb.api.spoken import Said
from crumb.core.evidence.diary import DiaryKind, Feeling
from crumb.core.evidence.model import Source
from crumb.core.evidence.slips import SlipKind
from crumb.core.plan.model import Category
from crumb.core.vocabulary import ItemRole

Stars = Annotated[int, Field(ge=1, le=5)]


class ClimbOut(BaseModel):
    """State of a student's climb."""

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
    """A line of today's list."""

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
    role: ItemRole
    note: Said
    rests: bool
    waits: bool
    """It is for another day of practice."""
    is_at_goal: bool


class SlipKindOut(BaseModel):
    """A kind of slip; a kind that this drill does not judge belongs to another layer."""

    kind: SlipKind
    label: str
    is_judged: bool


class OtherOut(BaseModel):
    """A drill that may be taken in this one's place, and why."""

    drill: str
    title: Said
    why: Said


class StandOut(BaseModel):
    """Everything the Stand needs.

    ``stalled``: where its ladder stalls; ``bored``: the same work in another way.
    """

    item: TodayItemOut
    worked: WorkedOut
    climb: ClimbOut
    clean_means: str
    on_slip: str
    caution: Said
    slips: list[SlipKindOut]
    stalled: list[OtherOut]
    bored: list[OtherOut]


class RepetitionIn(Given):
    """A repetition as the device hands it in, with an id made there.

    ``tempo_bpm`` is nothing without a click. ``reason``: why rungs were left out.
    """

    id: UUID
    item_id: UUID
    step: Annotated[int, Field(ge=0, le=500)]
    tempo_bpm: Bpm | None
    is_clean: bool
    played_at: Moment
    reason: Annotated[str, StringConstraints(max_length=200)] = ""
    source: Literal[Source.SELF, Source.HELPER] = Source.SELF


class FreeRepetitionIn(Given):
    """One repetition of a chunk as written that no drill asked for."""

    id: UUID
    part_id: UUID
    chunk_id: UUID
    tempo_bpm: Bpm | None
    is_clean: bool
    played_at: Moment


class SlipIn(Given):
    """A slip: its place and its kind, either may be left out. The device made its id."""

    id: UUID
    repetition_id: UUID
    at: PositionOut | None = None
    what: SlipKind | None = None


class _LineIn(Given):
    id: UUID
    at: Moment
    item_id: UUID | None = None


class MinutesSaid(_LineIn):
    """Time spent, by category; ``pleasure`` is playing, not practice."""

    kind: Literal[DiaryKind.MINUTES]
    category: Category | Literal["pleasure"]
    seconds: Annotated[int, Field(ge=1, le=6 * 3600)]


class FeelingSaid(_LineIn):
    """How the body feels."""

    kind: Literal[DiaryKind.FEELING]
    what: Feeling


class ToneSaid(_LineIn):
    """A tone experiment: how it sounded before and after, 1 to 5, and what was changed."""

    kind: Literal[DiaryKind.TONE]
    before: Stars
    after: Stars
    what: Annotated[str, StringConstraints(max_length=200)] = ""


class StaminaSaid(_LineIn):
    """How long slow work held, and how tense it was when loud and when soft (1 loose, 5 tense)."""

    kind: Literal[DiaryKind.STAMINA]
    seconds: Annotated[int, Field(ge=1, le=6 * 3600)]
    loud: Stars | None = None
    soft: Stars | None = None


class JournalSaid(_LineIn):
    """Two lines a week: what was worked on, what is hard."""

    kind: Literal[DiaryKind.JOURNAL]
    what: Annotated[str, StringConstraints(max_length=300)]
    hard: Annotated[str, StringConstraints(max_length=300)]


class BookmarkSaid(_LineIn):
    """How far somebody came who stops and starts on purpose: fragments of so many, times each."""

    kind: Literal[DiaryKind.BOOKMARK]
    fragment: Annotated[int, Field(ge=0, le=10_000)]
    of: Annotated[int, Field(ge=1, le=10_000)]
    times: Annotated[int, Field(ge=0, le=100)]


class RefusedSaid(_LineIn):
    """A repetition that the server would not take, sent to the teacher with the reason."""

    kind: Literal[DiaryKind.REFUSED]
    what: Annotated[str, StringConstraints(max_length=300)]
    said: Annotated[str, StringConstraints(max_length=400)]


LineIn = Annotated[
    MinutesSaid | FeelingSaid | ToneSaid | StaminaSaid | JournalSaid | BookmarkSaid | RefusedSaid,
    Field(discriminator="kind"),
]


class RepetitionsIn(Given):
    """A batch from the device's queue: what was played, what was taken back, what was said."""

    repetitions: Annotated[list[RepetitionIn], Field(max_length=500)] = []
    free: Annotated[list[FreeRepetitionIn], Field(max_length=500)] = []
    taken_back: Annotated[list[UUID], Field(max_length=500)] = []
    slips: Annotated[list[SlipIn], Field(max_length=500)] = []
    lines: Annotated[list[LineIn], Field(max_length=500)] = []


class ItemState(BaseModel):
    """State of a climb after a hand-in."""

    item_id: UUID
    climb: ClimbOut


class ChunkLevel(BaseModel):
    """Level of a chunk after a hand-in."""

    chunk_id: UUID
    level: int


class DoubtOut(BaseModel):
    """A repetition that was kept but proves nothing, and why."""

    id: UUID
    doubt: str
    say: Said


class HandedIn(BaseModel):
    """The changes that a hand-in made, and nothing else."""

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


class WayRatingIn(Given):
    """A rating of one way, 0 or 1; the device makes its id."""

    id: UUID
    way: Annotated[int, Field(ge=0, le=1)]
    intonation: Stars
    tone: Stars


class LastHearingOut(BaseModel):
    """The last judgement: what went well, one thing to change, and what is still missing."""

    level: int
    by: str
    heard_at: datetime
    went_well: str
    one_thing: str
    missing: list[Said]


class MyPartOut(BaseModel):
    """A part of the student's own, with their own levels and what was said of each chunk."""

    part_id: UUID
    title: str
    part: str
    chunks: list[ChunkOut]
    cells: list[CellOut]
    heard: list[LastHearingOut | None]


class InsteadIn(Given):
    """The drill that is taken in another's place."""

    drill: Annotated[str, StringConstraints(max_length=40)]


class ItemMade(BaseModel):
    """An item that was added to the student's own list."""

    item_id: UUID


class LineOut(BaseModel):
    """A line of a diary; ``said`` has the fields that came with its kind."""

    at: datetime
    day: date
    kind: DiaryKind
    said: dict[str, int | str | None]


class DiaryOut(BaseModel):
    """A student's last eight weeks; seconds by category, the newest line first."""

    seconds: dict[str, int]
    lines: list[LineOut]


class NewsOut(BaseModel):
    """A line that a teacher should see."""

    student_id: UUID
    student: str
    line: LineOut
