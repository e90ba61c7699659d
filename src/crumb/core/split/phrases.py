"""Phrases of a part: the melody's own phrases, bent by what is printed in the part."""

from collections.abc import Sequence

from crumb.core.score.model import ZERO, Measure, Note, Part
from crumb.core.score.position import Position
from crumb.core.split.melody import Melody, melody_of
from crumb.core.split.nested import Edge
from crumb.core.split.phrase_features import rows
from crumb.core.split.phrase_shapes import (
    none_too_long,
    reaches_goal,
    returning_openings,
    runs_on,
    with_pickups,
)
from crumb.core.split.phrase_weights import WEIGHTS
from crumb.core.split.phrasing import explained, local_scores, phrase_starts
from crumb.core.split.unbroken import unbroken

_NEVER, _WORD = -99.0, -40.0
_AGAIN = "the opening comes back"
# What the folk songs do not have, in log-odds (common practice, no source).
_BREATH, _DOUBLE_BAR, _LETTER, _FERMATA, _LONG_REST = 5.0, 3.5, 2.5, 12.0, 4.0
_AFTER_SLUR, _COMES_BACK = 0.6, 4.0
# A run goes on: nothing longer, no rest and nothing printed says that anything ends here.
_GOES_ON, _GOAL = -2.5, -20.0
_SIGNS = ("breath-mark", "caesura")


Said = list[tuple[float, str]]
"""What speaks for (or against) a phrase at a place: log-odds, and in words where it is worth it."""


def phrase_edges(part: Part) -> list[Edge]:
    """An edge before each phrase but the first, with its reasons, the weightiest first."""
    melody, places = melody_of(part)
    if len(melody) < 2:
        return []
    told = shaped(melody, _printed(part, melody, places))
    table = rows(melody)
    found = []
    for start in starts_of(melody, told, [place.index for place in places]):
        said = [text for weight, text in told[start - 1] if weight > 0 and text]
        reasons = list(dict.fromkeys(said + _reasons(table[start - 1])))[:_MOST]
        found.append(Edge(_edge_before(part, places, start), 0, tuple(reasons)))
    return found


def starts_of(melody: Melody, told: Sequence[Said], measures: Sequence[int]) -> list[int]:
    """The notes that start a phrase, the first apart.

    Args:
        melody: what is cut.
        told: what else speaks for or against a phrase before note 1, 2, …
        measures: the measure that each note stands in.
    """
    bends = [sum(weight for weight, _ in said) for said in told]
    printed = [sum(weight for weight, text in said if text != _AGAIN) for said in told]
    odds = local_scores(melody, WEIGHTS)
    scores = [one + bend for one, bend in zip(odds, bends, strict=True)]
    starts = phrase_starts(melody, WEIGHTS, scores=scores)
    return none_too_long(with_pickups(melody, starts, printed), scores, measures)


def shaped(melody: Melody, printed: Sequence[Said]) -> list[Said]:
    """Printed edges, and edges by the shape of the melody where nothing is printed."""
    returns = returning_openings(melody)
    made = []
    for i, said in enumerate(printed, start=1):
        row = list(said)
        if i in returns:
            row.append((_COMES_BACK, _AGAIN))
        elif not row and reaches_goal(melody, i):
            row.append((_GOAL, ""))
        elif not row and runs_on(melody, i):
            row.append((_GOES_ON, ""))
        made.append(row)
    return made


def _edge_before(part: Part, places: tuple[Position, ...], start: int) -> Position:
    """Where the chunk ends: whole measures of rest before a phrase belong to what follows them."""
    place = places[start]
    if place.at > 0:
        measure = part.measures[place.index]
        first = min((n.at for n in measure.notes if n.is_attack), default=place.at)
        if first == place.at and places[start - 1].index < place.index:
            return Position(place.index, ZERO) if _silent_before(measure, place) else place
    return place


def _silent_before(measure: Measure, place: Position) -> bool:
    return all(n.is_rest for n in measure.notes if n.at < place.at)


_SAYS = (
    ("rest", "a rest before it"),
    ("length", "a long note before it"),
    ("longest_of_8", "the longest note around ends here"),
    ("leap", "a leap into it"),
    ("figure_again", "a figure that comes again"),
    ("opening_again", _AGAIN),
    ("opening_rhythm_again", "the rhythm of the opening comes back"),
    ("two_measures", "an even number of measures"),
    ("starts_like_the_first", "it starts where the first phrase starts in the measure"),
)
_MOST = 3


def _reasons(row: tuple[float, ...]) -> list[str]:
    values = explained(row)
    weights = explained(WEIGHTS.local)
    worth = [(weights[name] * values[name], text) for name, text in _SAYS if weights[name] > 0]
    worth.sort(key=lambda pair: -pair[0])
    told = [text for value, text in worth if value > 0.2][:_MOST]
    return told or ["phrases around it are as long"]


def _printed(part: Part, melody: Melody, places: tuple[Position, ...]) -> list[Said]:
    """For each place between two notes: what is printed there, with its weight."""
    notes = _notes(part, places)
    whole = unbroken(part)
    said: list[Said] = []
    sung = ""
    for i in range(1, len(melody)):
        last, here = notes[i - 1], places[i]
        sung = last.lyric if last is not None and last.lyric else sung
        if not whole.may_cut(here):
            said.append([(_NEVER, "")])
            continue
        if sung.endswith("-"):
            said.append([(_WORD, "")])
            continue
        row: Said = []
        if last is not None:
            if any(sign in last.articulations for sign in _SIGNS):
                row.append((_BREATH, "a breath"))
            if last.fermata:
                row.append((_FERMATA, "a fermata"))
            if any(slur.end == "stop" for slur in last.slurs):
                row.append((_AFTER_SLUR, "a slur ends"))
        if here.index != places[i - 1].index:
            row.extend(_at_barline(part, places[i - 1], here))
        if melody.onsets[i] - melody.ends[i - 1] >= melody.measure:
            row.append((_LONG_REST, "a measure or more of rest"))
        said.append(row)
    return said


def _at_barline(part: Part, last: Position, here: Position) -> list[tuple[float, str]]:
    found = []
    for index in range(last.index + 1, here.index + 1):
        before, measure = part.measures[index - 1], part.measures[index]
        if any(b.style in ("light-light", "light-heavy") or b.repeat for b in before.barlines):
            found.append((_DOUBLE_BAR, "a double bar"))
        if measure.rehearsal and here.at == 0:
            found.append((_LETTER, f"rehearsal mark {measure.rehearsal}"))
        if measure.key != before.key:
            found.append((_LETTER, "a new key"))
    return found


def _notes(part: Part, places: tuple[Position, ...]) -> list[Note | None]:
    """The note of the melody at each place."""
    found: list[Note | None] = []
    for place in places:
        here = [n for n in part.measures[place.index].notes if n.is_attack and n.at == place.at]
        found.append(min(here, key=lambda n: (n.staff, n.voice)) if here else None)
    return found
