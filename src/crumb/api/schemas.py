"""What goes over the wire. Musical time is a string of an exact fraction of a quarter note."""

import re
from datetime import date, datetime
from decimal import Decimal
from enum import StrEnum
from fractions import Fraction
from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, BeforeValidator, Field, StringConstraints

_EXACT = re.compile(r"^\d{1,9}(/[1-9]\d{0,8})?$")


def _read_exact(value: object) -> str:
    if not isinstance(value, str) or not _EXACT.match(value):
        raise ValueError("an exact fraction such as 3/2 is needed")
    return value


Exact = Annotated[str, BeforeValidator(_read_exact)]
Bpm = Annotated[Decimal, Field(ge=10, le=400, max_digits=7, decimal_places=4)]
Line = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=80)]
Secret = Annotated[str, StringConstraints(min_length=1, max_length=200)]
LayoutName = Literal["page", "phone-page", "snippet", "phone-snippet"]


def to_fraction(value: Decimal) -> Fraction:
    """A decimal from the wire, exactly."""
    return Fraction(value)


class ImportState(StrEnum):
    """How far an import is."""

    WAITING = "waiting"
    WORKING = "working"
    DONE = "done"
    FAILED = "failed"


class Relation(StrEnum):
    """How two stretches are alike."""

    IDENTICAL = "identical"
    TRANSPOSED = "transposed"
    AUGMENTED = "augmented"
    NEAR = "near"
    SAME_RHYTHM = "same-rhythm"


class Verdict(StrEnum):
    """What the director said of a kin link."""

    CONFIRMED = "confirmed"
    REFUSED = "refused"


class Layer(StrEnum):
    """Whose marks they are."""

    DIRECTOR = "director"
    LEADER = "leader"
    OWN = "own"


class SetupState(BaseModel):
    """Whether the first director is still to be made."""

    is_empty: bool


class FirstDirector(BaseModel):
    """The first account of a server."""

    program: Line
    name: Line
    email: Annotated[str, StringConstraints(pattern=r"^\S+@\S+$", max_length=200)]
    password: Secret


class DirectorSignIn(BaseModel):
    """A director's address and password."""

    email: Annotated[str, StringConstraints(max_length=200)]
    password: Secret


class StudentSignIn(BaseModel):
    """What a student knows: the class code, their name, their PIN."""

    class_code: Annotated[str, StringConstraints(max_length=12)]
    name: Annotated[str, StringConstraints(max_length=80)]
    pin: Annotated[str, StringConstraints(max_length=12)]


class Me(BaseModel):
    """The signed-in person."""

    name: str
    role: Literal["director", "student"]
    program: str
    class_code: str


class StudentRow(BaseModel):
    """A student in a list."""

    id: UUID
    name: str
    is_leader: bool


class LeaderIn(BaseModel):
    """Whether a student leads the section."""

    is_leader: bool


class SectionOut(BaseModel):
    """A section and who plays in it."""

    id: UUID
    name: str
    students: list[StudentRow]


class SectionIn(BaseModel):
    """A new section."""

    name: Line


class StudentsIn(BaseModel):
    """New students, by name."""

    names: Annotated[list[Annotated[str, StringConstraints(max_length=80)]], Field(max_length=100)]


class PinOut(BaseModel):
    """A PIN in clear, shown once."""

    student_id: UUID
    name: str
    pin: str


class PartOut(BaseModel):
    """A part at a glance. ``goal_bpm`` counts beats of ``beat`` quarter notes."""

    id: UUID
    name: str
    instrument: str
    key_fifths: int
    mode: str
    time: str
    tempo: float | None
    tempo_beat: str | None
    measures: int
    last_number: str
    has_pickup: bool
    notes: int
    findings: list[str]
    goal_bpm: float
    transpose: int
    playing_seconds: float
    measures_played: int
    played_on: str
    is_set_aside: bool
    section_ids: list[UUID]


class ReportLine(BaseModel):
    """One thing said about an import: what was read, not kept, moved, or is remarkable."""

    kind: Literal["read", "remark", "not-kept", "moved"]
    part: str
    text: str


class PieceOut(BaseModel):
    """A piece with its parts."""

    id: UUID
    title: str
    composer: str
    file_name: str
    created_at: datetime
    parts: list[PartOut]
    report: list[ReportLine]


class ImportOut(BaseModel):
    """An upload on its way: how far it is, and the piece once it is there."""

    id: UUID
    file_name: str
    state: ImportState
    stage: str
    done: int
    total: int
    message: str
    piece: PieceOut | None


class PartWishIn(BaseModel):
    """A part as the director wants it: wanted or not, on what, by whom."""

    part_id: UUID
    is_set_aside: bool = False
    played_on: Annotated[str, StringConstraints(max_length=40)]
    section_ids: Annotated[list[UUID], Field(max_length=20)] = []
    new_section: Annotated[str, StringConstraints(max_length=80)] = ""


class PartsIn(BaseModel):
    """What to do with the parts of a piece."""

    parts: Annotated[list[PartWishIn], Field(max_length=200)]


class MeasureOut(BaseModel):
    """A measure as the score view needs it; ``beats`` are offsets of beats, ``length`` its end."""

    number: str
    length: Exact
    beats: list[Exact]


class PartDetail(BaseModel):
    """A part for the Splitter and the bench."""

    piece_id: UUID
    title: str
    composer: str
    part: PartOut
    beat: Exact
    start_bpm: float
    measures: list[MeasureOut]


class EngravingOut(BaseModel):
    """A drawing: an SVG that scales to its place."""

    svg: str


class GoalIn(BaseModel):
    """A new goal tempo."""

    goal_bpm: Bpm


class PositionOut(BaseModel):
    """A measure by index and an offset in it."""

    index: Annotated[int, Field(ge=0, le=100_000)]
    at: Exact


class ChunkOut(BaseModel):
    """A chunk of a map."""

    id: UUID
    label: str
    start: PositionOut
    end: PositionOut
    landing: bool


class EdgeOut(BaseModel):
    """A cut, the depth from which it divides the part, and why it is there."""

    at: PositionOut
    depth: int
    reasons: list[str]


class OrderOut(BaseModel):
    """In which order the chunks are learned, and why."""

    kind: Literal["hardest", "back", "front", "foundation", "hand"]
    chunk_ids: list[UUID]
    why: str


class SeamOut(BaseModel):
    """The crossing from one chunk into the next."""

    label: str
    start: PositionOut
    end: PositionOut


class MapOut(BaseModel):
    """The chunk map in force; version 0 is not split yet.

    ``levels`` are the chunks at each depth; the first is ``chunks``. ``section_id``: whose own map
    this is, nothing for everybody's.
    """

    version: int
    edit: str
    can_undo: bool
    can_redo: bool
    chunks: list[ChunkOut]
    levels: list[list[ChunkOut]]
    edges: list[EdgeOut]
    seams: list[SeamOut]
    order: OrderOut
    section_id: UUID | None


class SpotOut(BaseModel):
    """A place to look at, and why."""

    at: PositionOut
    kind: str
    why: str
    weight: float


class MeasureLoadOut(BaseModel):
    """How hard a measure is, beat by beat."""

    load: float
    beats: list[float]
    notes_per_second: float
    spots: list[SpotOut]


class ObjectiveOut(BaseModel):
    """Something the piece is about."""

    kind: str
    text: str
    measures: list[int]


class SurveyOut(BaseModel):
    """A part read for one instrument and goal tempo."""

    instrument: str
    crux: int
    crux_number: str
    measures: list[MeasureLoadOut]
    objectives: list[ObjectiveOut]


class StretchOut(BaseModel):
    """Measures of a part, first and last by index."""

    part_id: UUID
    part: str
    label: str
    first: int
    last: int


class KinOut(BaseModel):
    """Two stretches that are alike, and what the director said of it."""

    id: UUID
    a: StretchOut
    b: StretchOut
    relation: Relation
    text: str
    verdict: Verdict | None
    differs: int


class VerdictIn(BaseModel):
    """Confirmed, refused, or open again."""

    verdict: Verdict | None


class DeltaIn(BaseModel):
    """Make a chunk of what differs."""

    version: int


class PlaceOut(BaseModel):
    """What an address means."""

    label: str
    start: PositionOut
    end: PositionOut


class MarkIn(BaseModel):
    """Something to write into a part."""

    kind: Annotated[str, StringConstraints(max_length=20)]
    text: Annotated[str, StringConstraints(max_length=80)] = ""
    at: PositionOut
    section_id: UUID | None = None
    as_leader: bool = False


class MarkOut(BaseModel):
    """Something written into a part."""

    id: UUID
    layer: Layer
    kind: str
    name: str
    text: str
    at: PositionOut
    section_id: UUID | None
    is_mine: bool


class MyScoreOut(BaseModel):
    """A part as a student sees it: engraved with its marks."""

    title: str
    part: str
    measures: list[MeasureOut]
    svg: str
    marks: list[MarkOut]
    leads: bool


Depth = Annotated[int, Field(ge=0, le=9)]


class SplitByMeasures(BaseModel):
    """Divide anew, n measures a chunk."""

    op: Literal["by-measures"]
    version: int
    measures: int


class SplitHere(BaseModel):
    """Cut at a place."""

    op: Literal["split"]
    version: int
    depth: Depth = 0
    at: PositionOut


class MergeNext(BaseModel):
    """Join a chunk with the next."""

    op: Literal["merge"]
    version: int
    depth: Depth = 0
    place: int


class MoveEdge(BaseModel):
    """Move a chunk's end by beats."""

    op: Literal["move-edge"]
    version: int
    depth: Depth = 0
    place: int
    beats: Annotated[int, Field(ge=-64, le=64)]


class MoveEdgeTo(BaseModel):
    """Move a chunk's end to a place."""

    op: Literal["move-edge-to"]
    version: int
    depth: Depth = 0
    place: int
    at: PositionOut


class SetLanding(BaseModel):
    """Landing on or off."""

    op: Literal["landing"]
    version: int
    depth: Depth = 0
    place: int
    on: bool


class Propose(BaseModel):
    """Divide anew as proposed."""

    op: Literal["propose"]
    version: int
    by: Literal["phrases", "lines", "marks", "load"]


class DivideFurther(BaseModel):
    """Divide one chunk a level further, another way, or join everything inside it again."""

    op: Literal["divide", "divide-other", "join-inside"]
    version: int
    depth: Depth = 0
    place: int


class PutInOrder(BaseModel):
    """Say in which order the chunks are learned."""

    op: Literal["order"]
    version: int
    kind: Literal["hardest", "back", "front", "foundation", "hand"]
    by_hand: Annotated[list[UUID], Field(max_length=2000)] = []


class StepThrough(BaseModel):
    """Undo or redo."""

    op: Literal["undo", "redo"]
    version: int


MapEdit = Annotated[
    SplitByMeasures
    | SplitHere
    | MergeNext
    | MoveEdge
    | MoveEdgeTo
    | SetLanding
    | Propose
    | DivideFurther
    | PutInOrder
    | StepThrough,
    Field(discriminator="op"),
]


class ParameterOut(BaseModel):
    """A parameter of a drill."""

    name: str
    label: str
    default: int | str
    choices: list[str]
    low: int
    high: int
    is_text: bool
    by_level: dict[str, int | str]


class DrillOut(BaseModel):
    """An entry of the drill catalogue."""

    name: str
    title: str
    family: str
    use_when: str
    how: str
    clean_means: str
    on_slip: str
    needs: str
    caution: str
    at_goal: bool
    least_level: int
    parameters: list[ParameterOut]


class RankedOut(BaseModel):
    """A drill for a chunk: why it fits, or why not."""

    drill: str
    reasons: list[str]
    warnings: list[str]
    refused: str
    rests: bool
    steps: int


class RankingOut(BaseModel):
    """Every drill for a chunk, best first, and what that was judged by."""

    drills: list[RankedOut]
    level: int
    days_left: int | None


class LadderIn(BaseModel):
    """Start, goal and step of a ladder."""

    start_bpm: Bpm
    goal_bpm: Bpm
    step_bpm: Annotated[Decimal, Field(gt=0, le=100, max_digits=7, decimal_places=4)]


Settings = Annotated[dict[str, int | str], Field(max_length=20)]


class DrillWish(BaseModel):
    """A drill on a chunk."""

    chunk_id: UUID
    drill: Annotated[str, StringConstraints(max_length=40)]
    settings: Settings = {}
    ladder: LadderIn


PlayerLevel = Literal["beginner", "intermediate", "advanced"]


class BenchIn(DrillWish):
    """A drill to be shown, its first ``drawn`` steps engraved."""

    layout: LayoutName = "snippet"
    player: PlayerLevel = "intermediate"
    drawn: Annotated[int, Field(ge=1, le=200)] = 6


class SoundOut(BaseModel):
    """Something that sounds: when and how long in quarter notes, MIDI key (none: a stroke)."""

    at: Exact
    duration: Exact
    midi: int | None
    note: str


class ReferenceOut(BaseModel):
    """A whole part in playing order, at its own tempo changes as shares of the goal."""

    sounds: list[SoundOut]
    quarters: Exact
    beat: Exact
    goal_bpm: float
    family: str


class StepOut(BaseModel):
    """A step with its drawing. ``click``, ``click_at`` and ``quarters`` are quarter notes.

    ``pace`` is the share of the ladder's tempo it is played at.
    """

    name: str
    kind: str
    repetitions: int
    quarters: Exact
    click: Exact
    click_at: Exact
    pace: float
    slip: Literal["down", "anew", "on"]
    say: str
    as_written: bool
    burst_bpm: float | None
    svg: str | None
    sounds: list[SoundOut]


class WorkedOut(BaseModel):
    """A drill worked out."""

    drill: str
    title: str
    chunk: ChunkOut
    settings: dict[str, int | str]
    beat: Exact
    beats_in_measure: int
    rungs: list[float]
    cycle_seconds: float
    climb_seconds: float
    notes_per_second_at_goal: float
    at_goal: bool
    turned: int
    notes: int
    family: str
    steps: list[StepOut]


Stage = Literal["learn", "set", "prove"]


class RecipeItemIO(BaseModel):
    """A drill of a recipe and what it is for there."""

    stage: Stage
    drill: Annotated[str, StringConstraints(max_length=40)]
    settings: Settings = {}


class RecipeIn(BaseModel):
    """A recipe to be kept."""

    name: Annotated[str, StringConstraints(max_length=120)]
    note: Annotated[str, StringConstraints(max_length=200)] = ""
    items: Annotated[list[RecipeItemIO], Field(max_length=30)]
    section_id: UUID | None = None


class RecipeOut(BaseModel):
    """A recipe in the list; a standard one has no id."""

    id: UUID | None
    section_id: UUID | None
    name: str
    note: str
    items: list[RecipeItemIO]


class RecipeFile(BaseModel):
    """A recipe as it is exchanged; checked through when it is read."""

    format: str
    version: int
    name: str
    note: str = ""
    items: list[dict[str, Any]]


class FitRecipeIn(BaseModel):
    """A recipe to be made for a chunk."""

    chunk_id: UUID
    player: PlayerLevel = "intermediate"
    items: Annotated[list[RecipeItemIO], Field(min_length=1, max_length=30)]


class FittedRecipe(BaseModel):
    """What of a recipe fits a chunk, and what was changed."""

    items: list[RecipeItemIO]
    said: list[str]


Role = Literal["focus", "upkeep"]
ExceptionKind = Literal["absent", "injured", "ahead", "own order", "smaller"]


class WishedItem(DrillWish):
    """A drill on a chunk, this week's focus or last week's upkeep."""

    role: Role = "focus"


class AssignIn(BaseModel):
    """What is to be sent to whom until when; ``only`` narrows sections to some students."""

    part_id: UUID
    section_ids: Annotated[list[UUID], Field(max_length=40)]
    due_on: date
    minutes_a_day: int
    items: Annotated[list[WishedItem], Field(max_length=60)]
    left_out: Annotated[list[UUID], Field(max_length=300)] = []
    only: Annotated[list[UUID], Field(max_length=300)] | None = None
    exceptions: Annotated[dict[UUID, ExceptionKind], Field(max_length=300)] = {}


class ItemGotOut(BaseModel):
    """A line of a student's first day."""

    chunk: str
    drill: str
    seconds: int
    level: int
    role: Role
    note: str


class StudentGetsOut(BaseModel):
    """What one student will get, of which part."""

    student_id: UUID
    name: str
    section: str
    part: str
    is_left_out: bool
    exception: str
    due_on: date
    why_nothing: str
    items: list[ItemGotOut]


class AssignPreview(BaseModel):
    """An assignment before it is sent."""

    students: list[StudentGetsOut]
    climb_seconds: int
    available_seconds: int
    days: int


class AssignedItem(BaseModel):
    """A drill on a chunk, in a list."""

    id: UUID
    chunk: str
    drill: str
    role: Role
    note: str
    removed: bool


class ChangeAssignment(BaseModel):
    """Another date, other minutes, for everybody it was sent to."""

    due_on: date | None = None
    minutes_a_day: int | None = None


class AssignmentOut(BaseModel):
    """An assignment in the director's list; what was sent in one go shares ``sending_id``."""

    id: UUID
    sending_id: UUID
    exception: str
    title: str
    part: str
    part_id: UUID
    section: str
    section_id: UUID
    due_on: date
    minutes_a_day: int
    sent_at: datetime
    withdrawn: bool
    students: int
    items: list[AssignedItem]


class ClimbOut(BaseModel):
    """Where a student stands on a ladder."""

    tempo: float
    step: int
    in_a_row: int
    slips_in_a_row: int
    done: list[int]
    cycles: int
    is_finished: bool
    told: str
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
    note: str
    rests: bool


class StandOut(BaseModel):
    """Everything the Stand needs."""

    item: TodayItemOut
    worked: WorkedOut
    climb: ClimbOut
    clean_means: str
    on_slip: str
    caution: str


class RepetitionIn(BaseModel):
    """One repetition as the device hands it in; its id was made there."""

    id: UUID
    item_id: UUID
    step: Annotated[int, Field(ge=0, le=500)]
    tempo_bpm: Bpm
    is_clean: bool
    played_at: datetime


class RepetitionsIn(BaseModel):
    """A batch from the device's queue."""

    repetitions: Annotated[list[RepetitionIn], Field(min_length=1, max_length=500)]


class PracticeState(BaseModel):
    """An item as it stands after repetitions were stored."""

    item: TodayItemOut
    climb: ClimbOut


class CellOut(BaseModel):
    """Where a student stands on a chunk."""

    level: int
    why: str
    last_played_at: datetime | None


class WallRowOut(BaseModel):
    """A student's row."""

    student_id: UUID
    name: str
    cells: list[CellOut]


class WallOut(BaseModel):
    """Students by chunks."""

    chunks: list[ChunkOut]
    standings: list[str]
    rows: list[WallRowOut]


class EvidenceRow(BaseModel):
    """A stored repetition."""

    played_at: datetime
    step_name: str
    kind: str
    as_written: bool
    span: str
    tempo_bpm: float
    is_clean: bool
    is_retracted: bool
    source: str


class EvidenceOut(BaseModel):
    """What a level rests on."""

    student: str
    chunk: str
    cell: CellOut
    repetitions: list[EvidenceRow]


class MyPartOut(BaseModel):
    """A part of the student's own, with their own levels."""

    part_id: UUID
    title: str
    part: str
    chunks: list[ChunkOut]
    cells: list[CellOut]


class SheetJobOut(BaseModel):
    """How far a set of practice sheets is."""

    id: UUID
    state: Literal["waiting", "working", "done", "failed"]
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


class TickIn(BaseModel):
    """A box that was ticked."""

    item_id: UUID
    tempo_bpm: Bpm


class TicksIn(BaseModel):
    """What was ticked on a sheet, on one day."""

    played_on: date
    ticks: Annotated[list[TickIn], Field(min_length=1, max_length=400)]
