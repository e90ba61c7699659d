"""Phrases of a part: the melody's own phrases, bent by what is printed in the part."""

from crumb.core.score.model import ZERO, Measure, Note, Part
from crumb.core.score.position import Position
from crumb.core.split.melody import Melody, melody_of
from crumb.core.split.nested import Edge
from crumb.core.split.phrase_features import rows
from crumb.core.split.phrase_weights import WEIGHTS
from crumb.core.split.phrasing import explained, local_scores, phrase_starts

# What the folk songs do not have, in log-odds (common practice, no source).
_BREATH, _DOUBLE_BAR, _LETTER, _FERMATA, _LONG_REST = 5.0, 3.5, 2.5, 2.0, 4.0
_INSIDE_SLUR, _AFTER_SLUR = -3.0, 0.6
# A run goes on: nothing longer, no rest and nothing printed says that anything ends here.
_GOES_ON = -2.5
_SIGNS = ("breath-mark", "caesura")


def phrase_edges(part: Part) -> list[Edge]:
    """An edge before each phrase but the first, with its reasons, the weightiest first."""
    melody, places = melody_of(part)
    if len(melody) < 2:
        return []
    printed = _printed(part, melody, places)
    scores = [
        odds + sum(w for w, _ in said)
        for odds, said in zip(local_scores(melody, WEIGHTS), printed, strict=True)
    ]
    table = rows(melody)
    found = []
    for start in phrase_starts(melody, WEIGHTS, scores=scores):
        said = [text for weight, text in printed[start - 1] if weight > 0 and text]
        found.append(
            Edge(_edge_before(part, places, start), 0, tuple(said + _reasons(table[start - 1])))
        )
    return found


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
    ("opening_again", "the opening comes back"),
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


def _printed(
    part: Part, melody: Melody, places: tuple[Position, ...]
) -> list[list[tuple[float, str]]]:
    """For each place between two notes: what is printed there, with its weight."""
    notes = _notes(part, places)
    said: list[list[tuple[float, str]]] = []
    open_slurs = 0
    for i in range(1, len(melody)):
        last, here = notes[i - 1], places[i]
        row: list[tuple[float, str]] = []
        if last is not None:
            for slur in last.slurs:
                open_slurs += 1 if slur.end == "start" else -1
            open_slurs = max(open_slurs, 0)
            if any(sign in last.articulations for sign in _SIGNS):
                row.append((_BREATH, "a breath"))
            if last.fermata:
                row.append((_FERMATA, "a fermata"))
            if any(slur.end == "stop" for slur in last.slurs) and not open_slurs:
                row.append((_AFTER_SLUR, "a slur ends"))
        if open_slurs:
            row.append((_INSIDE_SLUR, ""))
        if here.index != places[i - 1].index:
            row.extend(_at_barline(part, places[i - 1], here))
        if not row and _goes_on(melody, i):
            row.append((_GOES_ON, ""))
        if melody.onsets[i] - melody.ends[i - 1] >= melody.measure:
            row.append((_LONG_REST, "a measure or more of rest"))
        said.append(row)
    return said


def _goes_on(melody: Melody, i: int) -> bool:
    """Whether a note follows another of its own kind inside a measure, as in a run."""
    if i + 1 >= len(melody) or melody.onsets[i] > melody.ends[i - 1]:
        return False
    before = melody.onsets[i] - melody.onsets[i - 1]
    return melody.phases[i] != 0 and before <= melody.onsets[i + 1] - melody.onsets[i]


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
