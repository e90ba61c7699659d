"""The model of a drill: a rule with parameters that turns a passage into steps to play."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction

from crumb.core.drill_names import DrillName
from crumb.core.drills.passage import Passage
from crumb.core.errors import BadSetting
from crumb.core.evidence.model import Kind
from crumb.core.score.model import Part
from crumb.core.score.position import Sound, Span
from crumb.core.vocabulary import PlayerLevel

Setting = int | str
Settings = Mapping[str, Setting]

LEARN, SET, PROVE = Kind.LEARN, Kind.SET, Kind.PROVE


class Slip(StrEnum):
    """The effect of a slip.

    Count anew and, when slips follow each other, tempo down; count anew at the same tempo; go on
    and note the place.
    """

    DOWN = "down"
    ANEW = "anew"
    ON = "on"


DOWN, ANEW, ON = Slip.DOWN, Slip.ANEW, Slip.ON

BEGINNER, INTERMEDIATE, ADVANCED = LEVELS = tuple(PlayerLevel)

ANY_LEVEL, NOTES_KNOWN, RHYTHM_KNOWN = 0, 1, 2
"""The level of mastery a drill asks for before it does any good."""


@dataclass(frozen=True, slots=True)
class Parameter:
    """A setting of a drill: a choice, a whole number, or a line of text."""

    name: str
    label: str
    default: Setting
    choices: tuple[str, ...] = ()
    low: int = 0
    high: int = 0
    by_level: Mapping[str, Setting] = field(default_factory=dict)
    by_family: Mapping[str, Setting] = field(default_factory=dict)
    longest: int = 120

    @property
    def is_text(self) -> bool:
        """Whether any words may be given."""
        return isinstance(self.default, str) and not self.choices

    def usual(self, level: str, family: str) -> Setting:
        """The value for a player who is told nothing else."""
        return self.by_family.get(family, self.by_level.get(level, self.default))

    def read(self, value: object) -> Setting:
        """The value if it is allowed.

        Raises:
            BadSetting: it is not.
        """
        if self.choices:
            if value not in self.choices:
                raise BadSetting(f"{self.label}: choose one of {', '.join(self.choices)}.")
            return str(value)
        if self.is_text:
            text = " ".join(str(value).split())
            if len(text) > self.longest:
                raise BadSetting(f"{self.label}: that is longer than {self.longest} letters.")
            return text
        try:
            number = int(str(value))
        except ValueError as error:
            raise BadSetting(f"{self.label}: “{value}” is not a whole number.") from error
        if not self.low <= number <= self.high:
            raise BadSetting(f"{self.label} lies between {self.low} and {self.high}.")
        return number


@dataclass(frozen=True, slots=True)
class Step:
    """A step of a drill: notes to play, and how.

    ``quarters`` is its played length, the landing included and masked beats left out; ``sounds``
    count from there. ``click`` is the time between clicks (0: no click), the first of them
    ``click_at`` into the step; ``clicks`` says each of them where they are not equally far apart.
    ``pace`` is the share of the ladder's tempo it is played at.
    ``burst`` is shortest value over run unit, where the step changes the rhythm of a run.
    ``turned`` are the notes (ids in the part) that the step gives their turn; None: all it plays.
    """

    name: str
    kind: Kind
    repetitions: int
    part: Part
    sounds: tuple[Sound, ...]
    quarters: Fraction
    click: Fraction
    covers: Span
    as_written: bool
    burst: Fraction | None = None
    say: str = ""
    pace: Fraction = Fraction(1)
    click_at: Fraction = Fraction(0)
    slip: Slip = DOWN
    turned: frozenset[str] | None = None
    clicks: tuple[Fraction, ...] = ()

    def __post_init__(self) -> None:
        if self.kind == PROVE and not (self.as_written and self.pace == 1):
            raise ValueError(f"{self.name}: only what is as written, in tempo, proves anything")


@dataclass(frozen=True, slots=True)
class Drill:
    """A drill applied to a span.

    ``at_goal``: its steps are played at goal tempo, no ladder; ``stays``: at one slow tempo.
    """

    name: str
    span: Span
    settings: dict[str, Setting]
    steps: tuple[Step, ...]
    at_goal: bool = False
    stays: bool = False

    def climbed(self, rungs: tuple[Fraction, ...]) -> tuple[Fraction, ...]:
        """The rungs of a ladder that this drill is played on."""
        if self.at_goal:
            return rungs[-1:]
        return rungs[:1] if self.stays else rungs


Maker = Callable[[Passage, Settings], tuple[Step, ...]]


@dataclass(frozen=True, slots=True)
class DrillKind:
    """An entry of the catalogue.

    ``instead`` names drills to offer where this one finds nothing to work on; ``families`` the
    instrument families it is for (none: all); ``same_pitches`` says that every whole pass plays
    the pitches of the chunk in order.
    """

    name: str
    title: str
    family: str
    use_when: str
    how: str
    clean_means: str
    on_slip: str
    needs: str
    make: Maker
    parameters: tuple[Parameter, ...] = field(default=())
    caution: str = ""
    least_level: int = ANY_LEVEL
    at_goal: bool = False
    stays: bool = False
    """Whether it is done at one slow tempo and climbs no ladder: reading, hearing, ordering."""
    for_pieces: bool = False
    """Whether it is for whole pieces, however long."""
    is_aid: bool = False
    """Whether its varied steps lean on an aid that is gone in proof."""
    same_pitches: bool = True
    families: frozenset[str] = frozenset()
    instead: tuple[str, ...] = (DrillName.ALONE, DrillName.BACKWARD, DrillName.EACH_NOTE)
    by_measures: bool = False
    """Whether it can be made where only the measures are known and the notes stand on paper."""

    def settings(
        self, given: Mapping[str, object], level: str = INTERMEDIATE, family: str = ""
    ) -> dict[str, Setting]:
        """Every parameter with its value: the given one or the usual one.

        Raises:
            BadSetting: an unknown parameter or a value outside what is allowed.
        """
        if level not in LEVELS:
            raise BadSetting(f"A player is {', '.join(LEVELS)}.")
        known = {p.name: p for p in self.parameters}
        unknown = sorted(set(given) - set(known))
        if unknown:
            raise BadSetting(f"“{self.title}” has no setting called {unknown[0]}.")
        return {
            name: p.read(given[name]) if name in given else p.usual(level, family)
            for name, p in known.items()
        }
