"""Pieces, parts, imports."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Bpm, Exact, Given, PositionOut
from crumb.api.spoken import Said
from crumb.core.vocabulary import JobState


class PartOut(BaseModel):
    """A part at a glance. ``goal_bpm`` counts beats of ``beat`` quarter notes."""

    id: UUID
    name: str
    instrument: str
    has_pitch: bool
    """Of what is struck and has none, a key and another octave mean nothing."""
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
    floor_bpm: float | None
    festival_bpm: float | None
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
    text: Said


class PieceOut(BaseModel):
    """A piece with its parts."""

    id: UUID
    title: str
    composer: str
    file_name: str
    created_at: datetime
    parts: list[PartOut]
    report: list[ReportLine]
    objectives: list[str]


class ImportOut(BaseModel):
    """An upload on its way: how far it is, and the piece once it is there."""

    id: UUID
    file_name: str
    state: JobState
    stage: str
    done: int
    total: int
    message: str
    piece: PieceOut | None


class LetterIn(Given):
    """A rehearsal letter over a measure, by the measure's printed number."""

    number: Annotated[int, Field(ge=0, le=9999)]
    letter: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=8)]


class OnPaperIn(Given):
    """A part whose notes stay on paper: its measures, counted. ``pickup`` counts beats."""

    title: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
    composer: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] = ""
    played_on: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=40)]
    measures: Annotated[int, Field(ge=1, le=2000)]
    first: Annotated[int, Field(ge=1, le=9999)] = 1
    time: Annotated[str, StringConstraints(max_length=20)] = "4/4"
    pickup: Exact = "0"
    goal_bpm: Bpm = Decimal(100)
    letters: Annotated[list[LetterIn], Field(max_length=60)] = []


class PartWishIn(Given):
    """A part as the director wants it: wanted or not, on what, by whom."""

    part_id: UUID
    is_set_aside: bool = False
    played_on: Annotated[str, StringConstraints(max_length=40)]
    section_ids: Annotated[list[UUID], Field(max_length=20)] = []
    new_section: Annotated[str, StringConstraints(max_length=80)] = ""


class PartsIn(Given):
    """What to do with the parts of a piece."""

    parts: Annotated[list[PartWishIn], Field(max_length=200)]


class MeasureOut(BaseModel):
    """A measure as the score view needs it; ``beats`` are offsets of beats, ``length`` its end."""

    number: str
    length: Exact
    beats: list[Exact]
    first_beat: int


class PartDetail(BaseModel):
    """A part for the Splitter and the bench."""

    piece_id: UUID
    title: str
    composer: str
    part: PartOut
    beat: Exact
    measures: list[MeasureOut]
    objectives: list[str]


class EngravingOut(BaseModel):
    """A drawing: an SVG that scales to its place."""

    svg: str


class ObjectivesIn(Given):
    """Objectives of a piece, three lines at most."""

    objectives: Annotated[list[Annotated[str, Field(max_length=200)]], Field(max_length=10)]


class PageMapIn(Given):
    """Measures that start a line, and a page, as they are typed: ``1, 5, 9, R``."""

    lines: Annotated[str, Field(max_length=2000)] = ""
    pages: Annotated[str, Field(max_length=2000)] = ""


class PageMapOut(BaseModel):
    """Names of the measures that start a line, and a page; ``by_hand``: a person said so."""

    lines: list[str]
    pages: list[str]
    by_hand: bool


class GoalIn(Given):
    """A new goal tempo."""

    goal_bpm: Bpm


class RangeIn(Given):
    """The slowest tempo a part can be performed at, and that of its best day; none: not said."""

    floor_bpm: Bpm | None = None
    festival_bpm: Bpm | None = None


class SpotOut(BaseModel):
    """A place to look at, and why."""

    at: PositionOut
    kind: str
    why: Said
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
    text: Said
    measures: list[int]


class SurveyOut(BaseModel):
    """A part read for one instrument and goal tempo."""

    instrument: str
    crux: int
    crux_number: str
    measures: list[MeasureLoadOut]
    objectives: list[ObjectiveOut]


class PlaceOut(BaseModel):
    """The place that an address means."""

    label: str
    start: PositionOut
    end: PositionOut


class HangingOut(BaseModel):
    """Counts of what depends on a piece."""

    parts: int
    chunks: int
    marks: int
    assignments: int
    students: int
    repetitions: int


class DeletedOut(BaseModel):
    """A piece that was taken away and can be brought back for a while."""

    id: UUID
    title: str
    deleted_at: datetime
    gone_at: datetime
    erases_evidence: bool
