"""Evidence as lines of JSON, read and answered: what the command line's ``level`` takes and gives.

The models are the documentation: ``crumb schema level`` prints them as JSON Schema.
"""

from collections.abc import Iterable
from datetime import date
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import AwareDatetime, BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from crumb.core.errors import UnreadableFile
from crumb.core.evidence.model import Kind, Rhythm, Source, What
from crumb.core.mastery.chunk import ChunkEvidence, Standing, Where, stood
from crumb.core.tempo.ladder import FASTEST, SLOWEST

Bpm = Annotated[float, Field(ge=1, le=1000)]
Goal = Annotated[float, Field(ge=float(SLOWEST), le=float(FASTEST))]


class _Line(BaseModel):
    """Fields of every line; unknown keys are ignored."""

    model_config = ConfigDict(extra="ignore")
    at: AwareDatetime


class RepetitionLine(_Line):
    """One playing of a chunk, a seam, or something wider or smaller."""

    what: Literal["repetition"] = "repetition"
    tempo: Bpm | None = None
    clean: bool = True
    kind: Literal["learn", "set", "prove"] = "prove"
    as_written: bool = True
    span: Literal["chunk", "seam-in", "seam-out", "wider", "inside"] = "chunk"
    rhythm: Literal["written", "free"] = "written"
    source: Literal[Source.SELF, Source.HELPER, Source.PAPER, Source.MEASURED] = Source.SELF
    aid: bool = False


class HearingLine(_Line):
    """A hearing that sets a level, with a reason when that is lower."""

    what: Literal["hearing"]
    level: Annotated[int, Field(ge=0, le=6)]
    reason: str = ""
    by: str = ""


Line = RepetitionLine | HearingLine
_LINE: TypeAdapter[Line] = TypeAdapter(Line)


class LevelIn(BaseModel):
    """A chunk's goal in beats a minute, the day asked about, and what was noted, in any order."""

    model_config = ConfigDict(extra="ignore")
    goal: Goal
    today: date | None = None
    evidence: list[Line] = []


class SeamsOut(BaseModel):
    """Whether the way into the chunk and the way out of it are shown."""

    model_config = ConfigDict(populate_by_name=True)
    into: Annotated[bool, Field(alias="in")]
    out: bool


class LevelOut(BaseModel):
    """A student's standing on a chunk; tempos in beats a minute.

    ``interval`` holds secure tempo four times of five; ``enough`` says whether it rests on enough;
    ``due`` is the day of the next cold try.
    """

    level: int
    name: str
    seams: SeamsOut
    secure_tempo: float
    interval: tuple[float, float]
    enough: bool
    solid: float | None
    best_single: float | None
    p_clean_at_goal: float
    due: date | None
    next: str
    why: str


def level_of(asked: LevelIn) -> dict[str, object]:
    """The answer to a document: level, seams, secure tempo and what comes next."""
    goal = Fraction(asked.goal).limit_denominator(1000)
    ordered = sorted(enumerate(asked.evidence), key=lambda pair: (pair[1].at, pair[0]))
    found = stood((_noted(line) for _, line in ordered), goal, asked.today)
    return _answer(found).model_dump(mode="json", by_alias=True)


def read_level(text: str) -> LevelIn:
    """A document of one goal and its evidence.

    Raises:
        UnreadableFile: it is none; says where.
    """
    try:
        return LevelIn.model_validate_json(text)
    except ValidationError as error:
        raise UnreadableFile(said_of(error)) from error


def read_evidence(lines: Iterable[str]) -> list[Line]:
    """Evidence, one JSON document a line; empty lines are passed over.

    Raises:
        UnreadableFile: a line is none; says which and why.
    """
    found: list[Line] = []
    for number, text in enumerate(lines, 1):
        if not text.strip():
            continue
        try:
            found.append(_LINE.validate_json(text))
        except ValidationError as error:
            raise UnreadableFile(f"Line {number}: {said_of(error)}") from error
    return found


def schema_of_level() -> dict[str, object]:
    """JSON Schema of what ``level`` reads and of what it answers."""
    return {
        "input": LevelIn.model_json_schema(),
        "line": _LINE.json_schema(),
        "answer": LevelOut.model_json_schema(),
    }


def _noted(line: Line) -> ChunkEvidence:
    day = line.at.date()  # of the zone that it is written in: the program's own
    if isinstance(line, HearingLine):
        return ChunkEvidence(day, What.HEARING, level=line.level, source=Source.HEARING)
    return ChunkEvidence(
        day,
        tempo=None if line.tempo is None else Fraction(line.tempo).limit_denominator(1000),
        is_clean=line.clean,
        kind=Kind(line.kind),
        as_written=line.as_written,
        where=Where(line.span),
        rhythm=Rhythm(line.rhythm),
        source=Source(line.source),
        is_aided=line.aid,
    )


def _answer(found: Standing) -> LevelOut:
    def bpm(tempo: Fraction | None) -> float | None:
        return None if tempo is None else float(tempo)

    return LevelOut(
        level=found.level,
        name=found.name,
        seams=SeamsOut(into=found.seam_in, out=found.seam_out),
        secure_tempo=round(found.secure.median, 2),
        interval=(round(found.secure.low, 2), round(found.secure.high, 2)),
        enough=found.secure.enough,
        solid=bpm(found.solid),
        best_single=bpm(found.best_single),
        p_clean_at_goal=round(found.secure.at_goal, 4),
        due=found.due,
        next=found.next,
        why=found.why,
    )


def said_of(error: ValidationError) -> str:
    """The first thing that is wrong, in a sentence."""
    first = error.errors()[0]
    where = ".".join(str(part) for part in first["loc"])
    return f"{where}: {first['msg']}." if where else f"{first['msg']}."
