"""Marks over the top part that hold for all: letters, tempos, signs and words of jumps.

Scores print these once, above the first staff (common practice, no source); whoever plays a part of
their own wants them there.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from crumb.core.score.model import Direction, Measure, Part, Tempo
from crumb.core.score.playing import jumps_of

_SIGNS = ("rehearsal", "segno", "coda", "jump", "tempo")


@dataclass(frozen=True, slots=True)
class Marks:
    """Marks by measure index, and the measures in which another tempo comes into force."""

    directions: Mapping[int, tuple[Direction, ...]] = field(default_factory=dict)
    tempos: Mapping[int, Tempo] = field(default_factory=dict)

    def __bool__(self) -> bool:
        return bool(self.directions or self.tempos)


def marks_of(parts: Iterable[Part]) -> Marks:
    """All that some parts say for everybody; where two differ, the upper one has the word."""
    directions: dict[int, tuple[Direction, ...]] = {}
    tempos: dict[int, Tempo] = {}
    for part in parts:
        for measure in part.measures:
            more = _missing(directions.get(measure.index, ()), _said(measure))
            if more:
                directions[measure.index] = (*directions.get(measure.index, ()), *more)
        tempos = {**_changes(part.measures), **tempos}
    return Marks(directions, tempos)


def with_marks(part: Part, marks: Marks) -> Part:
    """A part with what it does not say itself."""
    if not marks:
        return part
    changes = {**marks.tempos, **_changes(part.measures)}
    tempo: Tempo | None = None
    measures = []
    for measure in part.measures:
        tempo = changes.get(measure.index, tempo)
        more = _missing(measure.directions, marks.directions.get(measure.index, ()))
        if more or tempo != measure.tempo:
            measure = replace(measure, tempo=tempo, directions=(*more, *measure.directions))
        measures.append(measure)
    return replace(part, measures=tuple(measures))


def _said(measure: Measure) -> tuple[Direction, ...]:
    return tuple(
        replace(d, staff=1) for d in measure.directions if d.kind in _SIGNS or jumps_of((d,))
    )


def _missing(have: Sequence[Direction], said: Sequence[Direction]) -> tuple[Direction, ...]:
    """The marks in ``said`` that the measure does not have yet."""
    kinds = {d.kind for d in have}
    jumps = jumps_of(have)
    return tuple(
        d
        for d in said
        if (not jumps_of((d,)) <= jumps if d.kind in ("jump", "words") else d.kind not in kinds)
    )


def _changes(measures: Sequence[Measure]) -> dict[int, Tempo]:
    found: dict[int, Tempo] = {}
    before: Tempo | None = None
    for measure in measures:
        if measure.tempo is not None and measure.tempo != before:
            found[measure.index] = measure.tempo
        before = measure.tempo
    return found
