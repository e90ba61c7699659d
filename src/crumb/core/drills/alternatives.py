"""Other ways to the same end: another school where a ladder stalls, an equal drill against boredom.

Any one way works only for so long (common practice, no source).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from crumb.core.drill_names import DrillName
from crumb.core.drills import drill_kind
from crumb.core.drills.model import DrillKind

_SCHOOLS: Sequence[tuple[str, str]] = (
    (DrillName.STOPS, "Goal tempo at once, in short pieces: stop on each beat and look ahead."),
    (
        DrillName.STANDARD_SET,
        "Other rhythms on the same notes: the slow notes become the quick ones, in turn.",
    ),
    (DrillName.BACKWARD, "From the end: the last notes first, one more in front each time."),
    (
        DrillName.TWO_NOTES,
        "Only the two notes that trip, many times; then the beat, then the measure.",
    ),
    (DrillName.ADD_A_NOTE, "At goal tempo, one note more each time."),
    (DrillName.CUMULATIVE, "One measure, then the next, then both."),
)
_EQUAL: Sequence[frozenset[str]] = (
    frozenset({DrillName.ALONE, DrillName.CUMULATIVE, DrillName.IN_CONTEXT}),
    frozenset({DrillName.STANDARD_SET, DrillName.HOLD_CYCLE, DrillName.LONG_QUICK_THREE}),
    frozenset({DrillName.LONG_SHORT, DrillName.SHORT_LONG, DrillName.EVEN_THREES}),
    frozenset({DrillName.LONG_SHORT_SHORT, DrillName.SHORT_SHORT_LONG, DrillName.SHORT_LONG_SHORT}),
    frozenset({DrillName.STOPS, DrillName.ADD_A_NOTE, DrillName.CLOSE_GAPS}),
    frozenset({DrillName.BACKWARD, DrillName.BLOCKS, DrillName.CUMULATIVE}),
    frozenset({DrillName.LEAN, DrillName.REGROUP, DrillName.BEAT_WEIGHT}),
    frozenset({DrillName.NAME_IT, DrillName.COUNT_IT, DrillName.SING_AND_FINGER}),
)
_MOST = 2


@dataclass(frozen=True, slots=True)
class Other:
    """A drill to take in another's place, and why."""

    kind: DrillKind
    why: str


def alternatives_for(drill: str) -> tuple[Other, ...]:
    """Drills of other families than one's own, for where its ladder stalls; best first."""
    family = drill_kind(drill).family
    found = [Other(drill_kind(name), why) for name, why in _SCHOOLS]
    return tuple(one for one in found if one.kind.family != family)[:_MOST]


def equivalents(drill: str) -> tuple[Other, ...]:
    """Drills that do the same work: the same tempo is to be shown, the way there is another."""
    names = next((sorted(group - {drill}) for group in _EQUAL if drill in group), [])
    why = "The same work in another way; the goal stays."
    return tuple(Other(drill_kind(name), why) for name in names[:_MOST])
