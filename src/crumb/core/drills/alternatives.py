"""Other ways to the same end: another school where a ladder stalls, an equal drill against boredom.

Any one way works only for so long (common practice, no source).
"""

from collections.abc import Sequence
from dataclasses import dataclass

from crumb.core.drills import drill_kind
from crumb.core.drills.model import DrillKind

_SCHOOLS: Sequence[tuple[str, str]] = (
    ("stops", "Goal tempo at once, in short pieces: stop on each beat and look ahead."),
    ("standard-set", "Other rhythms on the same notes: what was slow becomes quick in turn."),
    ("backward", "From the end: the last notes first, one more in front each time."),
    ("two-notes", "Only the two notes that trip, many times; then the beat, then the measure."),
    ("add-a-note", "At goal tempo, one note more each time."),
    ("cumulative", "One measure, then the next, then both."),
)
_EQUAL: Sequence[frozenset[str]] = (
    frozenset({"alone", "cumulative", "in-context"}),
    frozenset({"standard-set", "hold-cycle", "long-quick-three"}),
    frozenset({"long-short", "short-long", "even-threes"}),
    frozenset({"long-short-short", "short-short-long", "short-long-short"}),
    frozenset({"stops", "add-a-note", "close-gaps"}),
    frozenset({"backward", "blocks", "cumulative"}),
    frozenset({"lean", "regroup", "beat-weight"}),
    frozenset({"name-it", "count-it", "sing-and-finger"}),
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
