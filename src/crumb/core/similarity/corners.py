"""The notes that measures start and end with: where a pattern of them breaks, and what resets it.

A player who knows that each measure starts a step lower reads on by the first notes; where that
stops being true is where the count is lost (common practice, no source).
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from crumb.core.score.half_measures import halves, whole_measures
from crumb.core.score.model import Note, Part
from crumb.core.score.pitch import Pitch
from crumb.core.similarity.words import letters_said

_FEWEST = 3
"""Measures in a row that make a pattern."""


@dataclass(frozen=True, slots=True)
class Corner:
    """A measure by its first and last note; ``step`` is letters from the first note before.

    ``breaks`` says why its start is not where the pattern would have it; empty where it is.
    """

    index: int
    number: str
    first: str
    last: str
    step: int | None
    breaks: str = ""


def corners(part: Part, first: int, last: int) -> tuple[Corner, ...]:
    """The measures from one index to another, both included, that have pitches to go by."""
    rows: list[Corner] = []
    height: int | None = None
    for index in whole_measures(part, range(first, min(last + 1, len(part.measures)))):
        notes = _pitched(part, index)
        if not notes:
            height = None
            continue
        one, two = notes[0], notes[-1]
        step = None if height is None else one.diatonic - height
        height = one.diatonic
        rows.append(Corner(index, part.measures[index].number, one.name, two.name, step))
    return tuple(_judged(rows))


def _pitched(part: Part, index: int) -> list[Pitch]:
    notes: list[Note] = [n for m in halves(part, index) for n in m.notes if n.is_attack]
    staff = min((n.staff for n in notes), default=1)
    return [n.pitch for n in notes if n.pitch is not None and n.staff == staff]


def _judged(rows: Sequence[Corner]) -> list[Corner]:
    """Each measure whose start leaves the step that the ones before it agreed on."""
    made, run = [], 0
    for place, row in enumerate(rows):
        before = rows[place - 1].step if place else None
        if row.step is not None and row.step == before:
            run += 1
        else:
            if run >= _FEWEST - 2 and before is not None and row.step is not None:
                row = replace(row, breaks=_why(before, row.step))
            run = 0
        made.append(row)
    return made


def _why(pattern: int, step: int) -> str:
    was = "on the same note" if pattern == 0 else letters_said(pattern)
    now = "on the same note" if step == 0 else letters_said(step)
    return f"the measures before started {was} each; this one starts {now}"
