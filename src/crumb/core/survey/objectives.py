"""Objectives of a piece, and the chunk that teaches most of them."""

from collections import defaultdict
from collections.abc import Mapping, Sequence

from crumb.core.score.model import Part
from crumb.core.score.position import Span
from crumb.core.survey.line import Stroke
from crumb.core.survey.model import MeasureLoad, Objective

TECHNIQUES: Mapping[str, str] = {
    "speed": "Fast notes",
    "tongue": "Quick tonguing",
    "range": "The edges of the range",
    "leap": "Leaps",
    "accidental": "Accidentals against the key",
    "changed-note": "Notes that change within a measure or two",
    "enharmonic": "Awkward spellings",
    "syncopation": "Syncopation",
    "off-beat": "Entries off the beat",
    "subdivision": "Changes of subdivision",
    "dynamic": "Sudden changes of dynamic",
    "break": "Crossing the break",
    "fingering": "Cross-fingerings",
    "valves": "Awkward valve changes",
    "partial": "Leaps over partials",
    "slide": "Long ways of the slide",
    "shift": "Shifts",
    "crossing": "Crossings over a string",
    "thumb": "Thumb position",
    "double-stop": "Double stops",
    "pizz-arco": "Pizzicato and bow by turns",
    "mute": "Mutes on and off",
    "rudiment": "Rudiments",
    "sticking": "Sticking",
    "mallet-leap": "Leaps between bars",
    "pattern-break": "Patterns that break",
    "rest-count": "Counted rests",
    "fermata-rest": "Held silences",
    "stretch": "Wide stretches",
    "technique": "Changes of technique",
}
"""Kinds of spots by what they ask of a player."""
_SHARE = 0.12  # of the measures, or of all the weight, that makes something an objective
_MOST = 5


def objectives(
    part: Part, line: Sequence[Stroke], measures: Sequence[MeasureLoad]
) -> tuple[Objective, ...]:
    """The few things that a piece asks for again and again, the weightiest first."""
    weights: dict[str, float] = defaultdict(float)
    places: dict[str, set[int]] = defaultdict(set)
    for measure in measures:
        for spot in measure.spots:
            weights[spot.kind] += spot.weight
            places[spot.kind].add(measure.index)
    total = sum(weights.values()) or 1.0
    played = len({stroke.measure.index for stroke in line}) or 1
    chosen = [
        kind
        for kind in weights
        if weights[kind] / total >= _SHARE or len(places[kind]) / played >= 2 * _SHARE
    ]
    chosen.sort(key=lambda kind: -weights[kind])
    return tuple(
        Objective(kind, _sentence(part, kind, sorted(places[kind])), tuple(sorted(places[kind])))
        for kind in chosen[:_MOST]
    )


def _sentence(part: Part, kind: str, indexes: Sequence[int]) -> str:
    name = TECHNIQUES.get(kind, kind)
    if len(indexes) == 1:
        return f"{name}: measure {part.measures[indexes[0]].number}"
    return f"{name} in {len(indexes)} measures"


def foundation(measures: Sequence[MeasureLoad], spans: Sequence[Span]) -> int | None:
    """Place of the chunk whose techniques cover most of the others'; None if no chunk has any.

    Each technique counts for as many other chunks as ask for it; a longer chunk must earn its
    length, so what it covers is shared among its measures.
    """
    kinds = []
    for span in spans:
        last = span.end.index + (span.end.at > 0)
        inside = {
            spot.kind
            for measure in measures[span.start.index : last]
            for spot in measure.spots
            if span.start <= spot.at < span.end
        }
        kinds.append((inside, max(last - span.start.index, 1)))
    worth = []
    for place, (mine, length) in enumerate(kinds):
        covered = sum(len(mine & theirs) for i, (theirs, _) in enumerate(kinds) if i != place)
        worth.append(covered / (1 + 0.25 * (length - 1)))
    if not worth or max(worth) <= 0:
        return None
    return max(range(len(worth)), key=lambda i: worth[i])
