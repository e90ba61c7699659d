"""The catalogue, the bench, recipes."""

from typing import Annotated, Any, Literal
from uuid import UUID

from pydantic import BaseModel, Field, StringConstraints

from crumb.api.schemas.common import Bpm, BpmStep, Exact, Given, LayoutName, Settings
from crumb.api.schemas.splitting import ChunkOut
from crumb.api.spoken import Said
from crumb.core.drills.model import Slip
from crumb.core.evidence.model import Kind
from crumb.core.vocabulary import PlayerLevel


class ParameterOut(BaseModel):
    """A parameter of a drill."""

    name: str
    label: Said
    default: int | str
    choices: list[str]
    choice_labels: list[Said]
    low: int
    high: int
    is_text: bool
    by_level: dict[str, int | str]


class DrillOut(BaseModel):
    """An entry of the drill catalogue."""

    name: str
    title: Said
    family: Said
    use_when: Said
    how: Said
    clean_means: Said
    on_slip: Said
    needs: Said
    caution: Said
    at_goal: bool
    stays: bool
    least_level: int
    parameters: list[ParameterOut]


class RankedOut(BaseModel):
    """A drill for a chunk: why it fits, or why not."""

    drill: str
    reasons: list[Said]
    warnings: list[Said]
    refused: Said
    rests: bool
    steps: int


class RankingOut(BaseModel):
    """Every drill for a chunk, best first, and what that was judged by."""

    drills: list[RankedOut]
    level: int
    days_left: int | None


Way = Literal["ladder", "staircase", "three-up"]


class LadderIn(Given):
    """Start, goal and step of a ladder; without start or step, what fits the minutes of a day."""

    start_bpm: Bpm | None = None
    goal_bpm: Bpm
    step_bpm: BpmStep | None = None
    minutes: Annotated[int, Field(ge=5, le=120)] = 20
    scale: Literal["clicks", "percent", "traditional", "coarse"] = "clicks"
    way: Way = "ladder"


class DrillWish(Given):
    """A drill on a chunk."""

    chunk_id: UUID
    drill: Annotated[str, StringConstraints(max_length=40)]
    settings: Settings = {}
    ladder: LadderIn


class BenchIn(DrillWish):
    """A drill to be shown, its first ``drawn`` steps engraved."""

    layout: LayoutName = "snippet"
    player: PlayerLevel = PlayerLevel.INTERMEDIATE
    drawn: Annotated[int, Field(ge=1, le=200)] = 6


class SoundOut(BaseModel):
    """Something that sounds: when and how long in quarter notes, MIDI key (none: a stroke)."""

    at: Exact
    duration: Exact
    midi: int | None
    note: str


class VoiceOut(BaseModel):
    """Another part of the piece, as it sounds beside one's own."""

    sounds: list[SoundOut]
    family: str


class ReferenceOut(BaseModel):
    """A whole part in playing order, at its own tempo changes as shares of the goal.

    ``others``: the parts that sound beside it.
    """

    sounds: list[SoundOut]
    quarters: Exact
    beat: Exact
    goal_bpm: float
    family: str
    others: list[VoiceOut]


class StepOut(BaseModel):
    """A step with its drawing. ``click``, ``click_at`` and ``quarters`` are quarter notes.

    ``clicks`` says where each click falls, if they are not equally far apart.
    ``bars`` says where measures begin, as far as the step is as written; ``place`` says what of the
    part it covers; ``pace`` is the share of the ladder's tempo it is
    played at.
    """

    name: Said
    place: str
    kind: str
    repetitions: int
    quarters: Exact
    click: Exact
    click_at: Exact
    clicks: list[Exact]
    bars: list[Exact]
    pace: float
    slip: Slip
    say: Said
    as_written: bool
    burst_bpm: float | None
    svg: str | None
    sounds: list[SoundOut]


class OtherLadderOut(BaseModel):
    """Another ladder: its step in beats a minute, how many rungs, how long it takes."""

    step_bpm: float
    rungs: int
    seconds: int


class LadderOut(BaseModel):
    """The ladder of a drill and those beside it.

    ``today``: how many of its rungs the minutes of a day hold. Without ``finer`` or ``shorter``
    there is none.
    """

    start_bpm: float
    step_bpm: float
    minutes: int
    today: int
    finer: OtherLadderOut | None
    shorter: OtherLadderOut | None


class WorkedOut(BaseModel):
    """A drill worked out. ``count_in``: the beats of one measure, in quarter notes.

    ``notes_a_click``: of the quickest notes as written, on the beat. ``ladder`` is told where one
    can still be chosen and is climbed.
    """

    drill: str
    title: Said
    chunk: ChunkOut
    settings: dict[str, int | str]
    beat: Exact
    count_in: list[Exact]
    rungs: list[float]
    way: Way
    cycle_seconds: float
    climb_seconds: int
    notes_per_second_at_goal: float
    notes_a_click: float
    at_goal: bool
    stays: bool
    ladder: LadderOut | None
    turned: int
    notes: int
    family: str
    steps: list[StepOut]


class RecipeItemIO(Given):
    """A drill of a recipe and what it is for there."""

    stage: Kind
    drill: Annotated[str, StringConstraints(max_length=40)]
    settings: Settings = {}


class RecipeIn(Given):
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


class RecipeFile(Given):
    """A recipe as it is exchanged; checked through when it is read."""

    format: Annotated[str, StringConstraints(max_length=40)]
    version: Annotated[int, Field(ge=0, le=1000)]
    name: Annotated[str, StringConstraints(max_length=200)]
    note: Annotated[str, StringConstraints(max_length=1000)] = ""
    items: Annotated[list[dict[str, Any]], Field(max_length=200)]


class FitRecipeIn(Given):
    """A recipe to be made for a chunk."""

    chunk_id: UUID
    player: PlayerLevel = PlayerLevel.INTERMEDIATE
    items: Annotated[list[RecipeItemIO], Field(min_length=1, max_length=30)]


class FittedRecipe(BaseModel):
    """A recipe fitted to a chunk, and its changes."""

    items: list[RecipeItemIO]
    said: list[Said]
