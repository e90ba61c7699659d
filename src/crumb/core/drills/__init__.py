"""The drill catalogue.

To add a drill: write its maker and ``DrillKind`` in the module of its family, list it here, and
give it a row in the tests. Nothing else knows drills by name.
"""

from collections.abc import Mapping
from fractions import Fraction

from crumb.core.drills.chaining import BACKWARD
from crumb.core.drills.isolation import ALONE
from crumb.core.drills.minutes import climb_seconds, cycle_seconds
from crumb.core.drills.model import Drill, DrillKind, Parameter, Step
from crumb.core.drills.rhythm import HOLD_DRILL, LONG_SHORT_DRILL, SHORT_LONG_DRILL
from crumb.core.errors import UnknownDrill
from crumb.core.score.model import Part
from crumb.core.score.position import Span, canonical

__all__ = [
    "CATALOGUE",
    "Drill",
    "DrillKind",
    "Parameter",
    "Step",
    "climb_seconds",
    "cycle_seconds",
    "drill_kind",
    "make_drill",
]

CATALOGUE: tuple[DrillKind, ...] = (
    ALONE,
    BACKWARD,
    LONG_SHORT_DRILL,
    SHORT_LONG_DRILL,
    HOLD_DRILL,
)
_BY_NAME = {kind.name: kind for kind in CATALOGUE}


def drill_kind(name: str) -> DrillKind:
    """The catalogue entry of that name.

    Raises:
        UnknownDrill: there is none.
    """
    if name not in _BY_NAME:
        raise UnknownDrill(f"There is no drill called {name}: choose {', '.join(_BY_NAME)}.")
    return _BY_NAME[name]


def make_drill(part: Part, span: Span, name: str, settings: Mapping[str, object]) -> Drill:
    """Apply a drill to a span.

    Raises:
        UnknownDrill, BadSetting: a wrong call.
        DrillDoesNotFit, EmptySpan: the music has not what the drill needs.
    """
    kind = drill_kind(name)
    chosen = kind.settings(settings)
    tidy = Span(canonical(part, span.start), canonical(part, span.end), span.landing)
    return Drill(name, tidy, chosen, kind.make(part, tidy, chosen))


def burst_of(step: Step, goal: Fraction) -> Fraction | None:
    """The tempo at which the step's quick notes are as fast as the run at goal."""
    return None if step.burst is None else goal * step.burst
