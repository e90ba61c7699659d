"""The command line's ``plan``: a request as JSON, and its answer.

The models are the documentation: ``crumb schema plan`` prints them as JSON Schema.
"""

from datetime import date, timedelta
from fractions import Fraction
from typing import Annotated, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError, model_validator

from crumb.cli.level_documents import Goal, said_of
from crumb.core.errors import UnreadableFile
from crumb.core.plan.build import make_plan
from crumb.core.plan.model import BuiltPlan, Category, ChunkState, Item, Order, PlanAsk, Session
from crumb.core.vocabulary import PlayerLevel

_WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_WEEKS = timedelta(weeks=4)

Day = date
Id = Annotated[str, BeforeValidator(lambda given: str(given) if isinstance(given, int) else given)]
Minutes = Annotated[float, Field(ge=0, le=600)]


class _Lenient(BaseModel):
    """Keys that are not known are passed over; one that is null has its default."""

    model_config = ConfigDict(extra="ignore", populate_by_name=True)

    @model_validator(mode="before")
    @classmethod
    def _without_nulls(cls, given: object) -> object:
        if isinstance(given, dict):
            return {key: value for key, value in given.items() if value is not None}
        return given


class SeamsIn(_Lenient):
    """Whether the way into the chunk and the way out of it are shown."""

    into: Annotated[bool, Field(alias="in")] = False
    out: bool = False


class DrilledIn(_Lenient):
    """A drill that was done, and when."""

    on: Day
    drill: str


class ChunkIn(_Lenient):
    """A chunk and where the student stands on it; tempos in beats a minute.

    ``load`` is how hard it is beside the others; ``gained`` beats a minute of secure tempo by the
    ``minutes_so_far``; ``slips`` counts slips by where they fell.
    """

    id: Id
    quarters: Annotated[float, Field(gt=0, le=10_000)]
    goal: Goal
    measures: object = None
    load: Annotated[float, Field(ge=0)] = 1.0
    level: Annotated[int, Field(ge=0, le=6)] = 0
    secure_tempo: Annotated[float | None, Field(gt=0, le=1000)] = None
    interval: tuple[float, float] | None = None
    seams: SeamsIn = SeamsIn()
    slips: dict[str, Annotated[int, Field(ge=0)]] = {}
    symptoms: list[str] = []
    kin: list[Id] = []
    last: Day | None = None
    due: Day | None = None
    drills: list[DrilledIn] = []
    minutes_so_far: Annotated[float, Field(ge=0)] = 0.0
    gained: float = 0.0


class PlanIn(_Lenient):
    """A plan's spec: one student, one part, from ``today`` to the day of ``on``.

    ``days_off`` are dates or weekdays by name; ``chunks`` stand in the order of the part, or in
    their own with the order ``hand``.
    """

    today: Annotated[Day, Field(default_factory=date.today)]
    on: Day | None = None
    minutes_a_day: Minutes = 20
    sessions_a_day: Annotated[int, Field(ge=1, le=4)] = 1
    days_off: list[str] = []
    warm_up_minutes: Minutes = 0
    order: Literal["hardest", "back", "front", "foundation", "hand"] = "hardest"
    player: PlayerLevel = PlayerLevel.INTERMEDIATE
    instrument: str = ""
    chunks: Annotated[list[ChunkIn], Field(max_length=400)]

    @model_validator(mode="after")
    def _each_id_once(self) -> "PlanIn":
        ids = [chunk.id for chunk in self.chunks]
        twice = next((one for one in ids if ids.count(one) > 1), None)
        if twice is not None:
            raise ValueError(f"there are two chunks with the id {twice}")
        if "*" in ids:
            raise ValueError("no chunk can have the id *: that is all of the part")
        return self


class ItemOut(BaseModel):
    """A thing to do: chunk ids joined by ``+``, or ``*`` for all of the part."""

    chunk: str
    category: Category
    drill: str
    from_bpm: int
    to_bpm: int
    minutes: int
    why: str


class SessionOut(BaseModel):
    """The items of one sitting."""

    date: Day
    session: int
    items: list[ItemOut]


class ReadyOut(BaseModel):
    """The chance to be ready by the date, and between which days it happens four times of five."""

    model_config = ConfigDict(populate_by_name=True)
    chance: float
    first: Annotated[Day | None, Field(alias="from")]
    last: Annotated[Day | None, Field(alias="to")]


class OfferOut(BaseModel):
    """What would make the date.

    By kind, ``value`` is: ``minutes`` a day; ``goal``, a tempo that no chunk's goal is faster
    than; ``leave``, a list of chunks with the tempo they stay at (null: left out); ``date``, a
    later day; ``days``, what is left of the days off; ``both``, minutes and what is left.
    """

    kind: str
    say: str
    value: object


class PlanOut(BaseModel):
    """A plan: its days, whether it holds, and what would make it hold."""

    days: list[SessionOut]
    feasible: bool
    short_by_minutes: int
    bottleneck: str | None
    ready: ReadyOut
    offers: list[OfferOut]


def plan_of(asked: PlanIn) -> dict[str, object]:
    """The answer to a spec."""
    return _answer(make_plan(_ask(asked))).model_dump(mode="json", by_alias=True)


def read_plan(text: str) -> PlanIn:
    """A spec.

    Raises:
        UnreadableFile: it is none; says where.
    """
    try:
        found = PlanIn.model_validate_json(text)
    except ValidationError as error:
        raise UnreadableFile(said_of(error)) from error
    for day in found.days_off:
        day_off(day)
    return found


def day_off(said: str) -> date | int:
    """A date, or a weekday by its name or the first three letters of it, from Monday (0).

    Raises:
        UnreadableFile: it is neither.
    """
    key = said.strip().lower()
    for number, full in enumerate(_WEEKDAYS):
        if key in (full, full[:3]):
            return number
    try:
        return date.fromisoformat(key)
    except ValueError:
        raise UnreadableFile(f"days_off: {said} is neither a date nor a weekday.") from None


def schema_of_plan() -> dict[str, object]:
    """JSON Schema of what ``plan`` reads and of what it answers."""
    return {"input": PlanIn.model_json_schema(), "answer": PlanOut.model_json_schema()}


def _ask(asked: PlanIn) -> PlanAsk:
    off = [day_off(said) for said in asked.days_off]
    return PlanAsk(
        today=asked.today,
        on=asked.on or asked.today + _WEEKS,
        chunks=tuple(_chunk(chunk) for chunk in asked.chunks),
        minutes_a_day=int(asked.minutes_a_day),
        sessions_a_day=asked.sessions_a_day,
        days_off=frozenset(day for day in off if isinstance(day, date)),
        weekdays_off=frozenset(day for day in off if isinstance(day, int)),
        warm_up_minutes=int(asked.warm_up_minutes),
        order=Order(asked.order),
        player=asked.player,
        instrument=asked.instrument,
    )


def _chunk(given: ChunkIn) -> ChunkState:
    low, high = given.interval or (None, None)
    return ChunkState(
        id=given.id,
        quarters=Fraction(given.quarters).limit_denominator(960),
        goal=Fraction(given.goal).limit_denominator(1000),
        load=given.load,
        level=given.level,
        secure=given.secure_tempo,
        low=low,
        high=high,
        seam_in=given.seams.into,
        seam_out=given.seams.out,
        slips=given.slips,
        symptoms=tuple(given.symptoms),
        kin=tuple(given.kin),
        last=given.last,
        due=given.due,
        drills=tuple((one.drill, one.on) for one in given.drills),
        minutes=given.minutes_so_far,
        gained=given.gained,
    )


def _answer(made: BuiltPlan) -> PlanOut:
    return PlanOut(
        days=[_session(one) for one in made.sessions],
        feasible=made.feasible,
        short_by_minutes=made.short_by,
        bottleneck=made.bottleneck,
        ready=ReadyOut(chance=made.ready.chance, first=made.ready.first, last=made.ready.last),
        offers=[OfferOut(kind=o.kind, say=o.say, value=o.value) for o in made.offers],
    )


def _session(session: Session) -> SessionOut:
    items = [_item(item) for item in session.items]
    return SessionOut(date=session.day, session=session.number, items=items)


def _item(item: Item) -> ItemOut:
    return ItemOut(
        chunk=item.name,
        category=item.category,
        drill=item.drill,
        from_bpm=item.start,
        to_bpm=item.end,
        minutes=item.minutes,
        why=item.why,
    )
