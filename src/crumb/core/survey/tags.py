"""Techniques of a chunk as tags: what the survey finds there, scales, arpeggios, and by hand."""

from collections.abc import Iterable, Mapping, Sequence
from itertools import pairwise

from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span
from crumb.core.survey.model import MeasureLoad
from crumb.core.survey.objectives import TECHNIQUES

TAGS: Mapping[str, str] = {
    **TECHNIQUES,
    "scale": "Scale",
    "arpeggio": "Arpeggio",
    "alternate": "Alternate fingering",
    "trill": "Trills",
    "vibrato": "Vibrato",
    "breath": "Breathing",
}
"""Every tag there is, by what it is called."""
_FELT = 0.12
"""A spot lighter than this is no reason to tag a chunk."""
_SCALE, _ARPEGGIO = 5, 4  # notes


def tags_found(part: Part, measures: Sequence[MeasureLoad], span: Span) -> list[str]:
    """Tags of a chunk by the survey and its own notes, the commonest first."""
    counts: dict[str, int] = {}
    last = span.end.index + (span.end.at > 0)
    for measure in measures[span.start.index : last]:
        for spot in measure.spots:
            if spot.kind in TAGS and spot.weight >= _FELT and span.start <= spot.at < span.end:
                counts[spot.kind] = counts.get(spot.kind, 0) + 1
    heights = _line(part, span)
    if _longest(heights, steps=(1,)) >= _SCALE:
        counts["scale"] = 1
    if _longest(heights, steps=(2, 3)) >= _ARPEGGIO:
        counts["arpeggio"] = 1
    return sorted(counts, key=lambda tag: (-counts[tag], tag))


def with_hand(found: Iterable[str], said: Mapping[str, bool]) -> list[str]:
    """Tags as somebody wants them: added where they said so, and taken off."""
    kept = [tag for tag in found if said.get(tag, True)]
    return [*kept, *sorted(tag for tag, is_on in said.items() if is_on and tag not in kept)]


def _line(part: Part, span: Span) -> list[int]:
    """Heights in letters of the notes of a chunk, the top of each chord."""
    tops: dict[Position, int] = {}
    for measure in part.measures[span.start.index : span.end.index + 1]:
        for note in measure.notes:
            at = Position(measure.index, note.at)
            if note.is_attack and note.pitch is not None and span.start <= at < span.end:
                tops[at] = max(tops.get(at, note.pitch.diatonic), note.pitch.diatonic)
    return [tops[at] for at in sorted(tops)]


def _longest(heights: Sequence[int], *, steps: tuple[int, ...]) -> int:
    """Notes of the longest row that goes one way by such steps."""
    best = run = 1
    way = 0
    for a, b in pairwise(heights):
        step = b - a
        if abs(step) in steps and (way == 0 or step * way > 0):
            run, way = run + 1, step
        elif abs(step) in steps:
            run, way = 2, step
        else:
            run, way = 1, 0
        best = max(best, run)
    return best
