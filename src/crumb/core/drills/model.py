"""What a drill is: a rule with parameters that turns a span into steps to play."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from crumb.core.errors import BadSetting
from crumb.core.score.model import Part
from crumb.core.score.position import Sound, Span

Setting = int | str
Settings = Mapping[str, Setting]

LEARN, SET, PROVE = "learn", "set", "prove"
"""What a repetition is for; only proof moves mastery past the notes."""


@dataclass(frozen=True, slots=True)
class Parameter:
    """One thing a director can set on a drill; ``choices`` or a range, never both."""

    name: str
    label: str
    default: Setting
    choices: tuple[str, ...] = ()
    low: int = 0
    high: int = 0

    def read(self, value: object) -> Setting:
        """The value if it is allowed.

        Raises:
            BadSetting: it is not.
        """
        if self.choices:
            if value not in self.choices:
                raise BadSetting(f"{self.label}: choose one of {', '.join(self.choices)}.")
            return str(value)
        try:
            number = int(str(value))
        except ValueError as error:
            raise BadSetting(f"{self.label}: “{value}” is not a whole number.") from error
        if not self.low <= number <= self.high:
            raise BadSetting(f"{self.label} lies between {self.low} and {self.high}.")
        return number


@dataclass(frozen=True, slots=True)
class Step:
    """One thing to play.

    ``quarters`` is its played length, the landing included and masked beats left out; ``sounds``
    count from there. ``click`` is the time between clicks. ``burst`` is shortest value over run
    unit, where the step changes the rhythm of a run.
    """

    name: str
    kind: str
    repetitions: int
    part: Part
    sounds: tuple[Sound, ...]
    quarters: Fraction
    click: Fraction
    covers: Span
    as_written: bool
    burst: Fraction | None = None


@dataclass(frozen=True, slots=True)
class Drill:
    """A drill applied to a span."""

    name: str
    span: Span
    settings: dict[str, Setting]
    steps: tuple[Step, ...]


Maker = Callable[[Part, Span, Settings], tuple[Step, ...]]


@dataclass(frozen=True, slots=True)
class DrillKind:
    """An entry of the catalogue."""

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

    def settings(self, given: Mapping[str, object]) -> dict[str, Setting]:
        """Every parameter with its value: the given one or the default.

        Raises:
            BadSetting: an unknown parameter or a value outside what is allowed.
        """
        known = {p.name: p for p in self.parameters}
        unknown = sorted(set(given) - set(known))
        if unknown:
            raise BadSetting(f"“{self.title}” has no setting called {unknown[0]}.")
        return {
            name: p.read(given[name]) if name in given else p.default for name, p in known.items()
        }
