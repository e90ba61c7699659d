"""What goes over the wire. Musical time is a string of an exact fraction of a quarter note."""

import re
from datetime import date, datetime
from decimal import Decimal
from fractions import Fraction
from typing import Annotated, Literal
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


class PieceOut(BaseModel):
    """A piece with its parts."""

    id: UUID
    title: str
    composer: str
    file_name: str
    created_at: datetime
    parts: list[PartOut]


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


class MapOut(BaseModel):
    """The chunk map in force; version 0 is not split yet."""

    version: int
    edit: str
    can_undo: bool
    can_redo: bool
    chunks: list[ChunkOut]


class SplitByMeasures(BaseModel):
    """Divide anew, n measures a chunk."""

    op: Literal["by-measures"]
    version: int
    measures: int


class SplitHere(BaseModel):
    """Cut at a place."""

    op: Literal["split"]
    version: int
    at: PositionOut


class MergeNext(BaseModel):
    """Join a chunk with the next."""

    op: Literal["merge"]
    version: int
    place: int


class MoveEdge(BaseModel):
    """Move a chunk's end by beats."""

    op: Literal["move-edge"]
    version: int
    place: int
    beats: Annotated[int, Field(ge=-64, le=64)]


class MoveEdgeTo(BaseModel):
    """Move a chunk's end to a place."""

    op: Literal["move-edge-to"]
    version: int
    place: int
    at: PositionOut


class SetLanding(BaseModel):
    """Landing on or off."""

    op: Literal["landing"]
    version: int
    place: int
    on: bool


class StepThrough(BaseModel):
    """Undo or redo."""

    op: Literal["undo", "redo"]
    version: int


MapEdit = Annotated[
    SplitByMeasures | SplitHere | MergeNext | MoveEdge | MoveEdgeTo | SetLanding | StepThrough,
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
    parameters: list[ParameterOut]


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


class BenchIn(DrillWish):
    """A drill to be shown."""

    layout: LayoutName = "snippet"


class StepOut(BaseModel):
    """A step with its drawing. ``click`` and ``quarters`` are quarter notes."""

    name: str
    kind: str
    repetitions: int
    quarters: Exact
    click: Exact
    as_written: bool
    burst_bpm: float | None
    svg: str


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
    steps: list[StepOut]


class AssignIn(BaseModel):
    """What is to be sent to whom until when."""

    part_id: UUID
    section_id: UUID
    due_on: date
    minutes_a_day: int
    items: Annotated[list[DrillWish], Field(max_length=60)]
    left_out: Annotated[list[UUID], Field(max_length=300)] = []


class ItemGotOut(BaseModel):
    """A line of a student's first day."""

    chunk: str
    drill: str
    seconds: int
    level: int


class StudentGetsOut(BaseModel):
    """What one student will get."""

    student_id: UUID
    name: str
    is_left_out: bool
    items: list[ItemGotOut]


class AssignPreview(BaseModel):
    """An assignment before it is sent."""

    students: list[StudentGetsOut]
    climb_seconds: int
    available_seconds: int
    days: int


class AssignedItem(BaseModel):
    """A drill on a chunk, in a list."""

    chunk: str
    drill: str


class AssignmentOut(BaseModel):
    """An assignment in the director's list."""

    id: UUID
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
