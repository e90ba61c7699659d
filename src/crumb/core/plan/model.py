"""The model of plans. Tempos in beats a minute, times in minutes."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum
from fractions import Fraction

from crumb.core.drills.model import INTERMEDIATE
from crumb.core.mastery.levels import NEW

WHOLE = "*"
"""What an item of the whole part is called."""


class Order(StrEnum):
    """The order in which chunks are learned."""

    HARDEST = "hardest"
    BACK = "back"
    FRONT = "front"
    FOUNDATION = "foundation"
    HAND = "hand"


class Category(StrEnum):
    """The category of an item, in the order of a session."""

    WARM_UP = "warm-up"
    FOCUS = "focus"
    LINK = "link"
    KEEP = "keep"
    RUN_THROUGH = "run-through"


@dataclass(frozen=True, slots=True)
class ChunkState:
    """A chunk of a part, and where a student stands on it.

    ``label`` is what people call it; ``quarters`` its length, ``beat`` the click's in quarters;
    ``load`` how hard it is beside the others; ``secure`` the tempo that is clean nine times of ten,
    which lies between ``low`` and ``high`` four times of five; ``solid`` the fastest shown.
    ``slips`` counts slips by where they fell, ``drills`` says what was done when. ``minutes`` were
    spent on it so far, and ``gained`` beats a minute of secure tempo by them. ``fitting`` are
    drills that fit its music, best first.
    """

    id: str
    quarters: Fraction
    goal: Fraction
    beat: Fraction = Fraction(1)
    load: float = 1.0
    level: int = NEW
    secure: float | None = None
    low: float | None = None
    high: float | None = None
    solid: float | None = None
    seam_in: bool = False
    seam_out: bool = False
    slips: Mapping[str, int] = field(default_factory=dict)
    symptoms: tuple[str, ...] = ()
    kin: tuple[str, ...] = ()
    last: date | None = None
    due: date | None = None
    drills: tuple[tuple[str, date], ...] = ()
    minutes: float = 0.0
    gained: float = 0.0
    fitting: tuple[str, ...] = ()
    label: str = ""
    sight: float | None = None
    """The tempo to be expected while nobody has counted; None: by its level, of its goal."""
    follows: bool = True
    """Whether it follows right on from the chunk before it; the first of a passage does not."""

    @property
    def name(self) -> str:
        """Its label, or its id where it has none."""
        return self.label or self.id


@dataclass(frozen=True, slots=True)
class Pin:
    """A chunk that somebody put on a day by hand, with a drill or with the best that fits."""

    chunk: str
    day: date
    drill: str | None = None


@dataclass(frozen=True, slots=True)
class PlanAsk:
    """A plan wanted: one student, one part, from ``today`` to the day of ``on``.

    ``chunks`` stand in the order of the part: neighbours are joined; ``by_hand`` names them in the
    director's own order. ``days_off`` are dates, ``weekdays_off``
    counts from Monday (0). ``today_minutes`` says how many there are today, if not the usual.
    What the director changed: ``pins``, ``held`` (not before a day), ``dropped`` (chunk, drill).
    ``again``: from which day on a chunk at tempo is looked at once more, due or not.
    """

    today: date
    on: date
    chunks: tuple[ChunkState, ...]
    minutes_a_day: int = 20
    sessions_a_day: int = 1
    days_off: frozenset[date] = frozenset()
    weekdays_off: frozenset[int] = frozenset()
    warm_up_minutes: int = 0
    order: Order = Order.HARDEST
    by_hand: tuple[str, ...] = ()
    player: str = INTERMEDIATE
    instrument: str = ""
    today_minutes: int | None = None
    pins: tuple[Pin, ...] = ()
    held: Mapping[str, date] = field(default_factory=dict)
    again: Mapping[str, date] = field(default_factory=dict)
    dropped: frozenset[tuple[str, str]] = frozenset()


@dataclass(frozen=True, slots=True)
class Item:
    """A thing to do: chunks (one, some joined, or all of the part), a drill, its tempos, and why.

    ``start`` and ``end`` are the ladder's first and last rung.
    """

    chunks: tuple[str, ...]
    category: Category
    drill: str
    start: int
    end: int
    minutes: int
    why: str

    @property
    def name(self) -> str:
        """Of what is played: ids joined, or ``*``."""
        return "+".join(self.chunks)


@dataclass(frozen=True, slots=True)
class Session:
    """The items of one sitting, counted from 1 on its day."""

    day: date
    number: int
    items: tuple[Item, ...]


@dataclass(frozen=True, slots=True)
class Ready:
    """The chance to be ready by the date, and between which days it happens four times of five.

    A day is None where it lies further off than was looked.
    """

    chance: float
    first: date | None
    last: date | None


@dataclass(frozen=True, slots=True)
class Offer:
    """Something that would make the date; ``value`` is what to change it to."""

    kind: str
    say: str
    value: object


@dataclass(frozen=True, slots=True)
class BuiltPlan:
    """A plan, whether it holds, and what it rests on. ``bottleneck`` is the slowest chunk."""

    sessions: tuple[Session, ...]
    feasible: bool
    short_by: int
    bottleneck: str | None
    ready: Ready
    offers: tuple[Offer, ...]
