"""Marks that people write into a part, put into its notation: drills and prints carry them."""

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from crumb.core.errors import BadSetting
from crumb.core.score.model import Direction, Measure, Note, Part
from crumb.core.score.position import Position, sounds
from crumb.core.score.slicing import LANDING_SUFFIX

KINDS: Mapping[str, str] = {
    "fingering": "Fingering",
    "position": "Position",
    "slide": "Slide position",
    "alternate": "Alternate fingering",
    "up-bow": "Up-bow",
    "down-bow": "Down-bow",
    "breath": "Breath",
    "lean": "Lean",
    "warning": "Warning",
    "heart": "Expressive",
    "accent": "Accent",
    "words": "Words",
}
_NEEDS_TEXT = ("fingering", "position", "slide", "alternate", "words")
_AT_A_NOTE = ("fingering", "up-bow", "down-bow", "breath", "accent")
MOST_TEXT = 40


@dataclass(frozen=True, slots=True)
class PartMark:
    """A mark at a place: its kind, what it says, and whose layer it belongs to."""

    at: Position
    kind: str
    text: str
    layer: str


def checked(part: Part, mark: PartMark) -> PartMark:
    """The mark with its text tidied.

    Raises:
        BadSetting: no such kind, text missing or too long, or no note there to mark.
    """
    if mark.kind not in KINDS:
        raise BadSetting("There is no such mark.")
    text = " ".join(mark.text.split())
    if mark.kind in _NEEDS_TEXT and not text:
        raise BadSetting(f"{KINDS[mark.kind]}: say what.")
    if len(text) > MOST_TEXT:
        raise BadSetting(f"A mark holds {MOST_TEXT} letters at most.")
    if not 0 <= mark.at.index < len(part.measures):
        raise BadSetting("There is no such measure.")
    measure = part.measures[mark.at.index]
    if not 0 <= mark.at.at <= measure.length:
        raise BadSetting(f"Measure {measure.number} is not that long.")
    if mark.kind in _AT_A_NOTE and _struck(measure, mark) is None:
        raise BadSetting("No note starts there to put this on.")
    return replace(mark, text=text)


def marked(part: Part, marks: Iterable[PartMark]) -> Part:
    """The part with marks written in; a mark whose note is gone is left out."""
    by_measure: dict[int, list[PartMark]] = {}
    for mark in marks:
        by_measure.setdefault(mark.at.index, []).append(mark)
    if not by_measure:
        return part
    measures = tuple(
        _written_in(measure, by_measure[place]) if place in by_measure else measure
        for place, measure in enumerate(part.measures)
    )
    return replace(part, measures=measures)


def marked_excerpt(
    whole: Part, excerpt: Part, struck: Sequence[str], marks: Iterable[PartMark]
) -> Part:
    """Notation made from a part, with marks of the part where their notes come first in it.

    A mark that stands on no note, or on one that is not here, is left out.

    Args:
        whole: the part that is marked.
        excerpt: what was made from it.
        struck: for each sound of the excerpt, grace notes apart, the id of its note in the part.
        marks: the part's.
    """
    heard = [sound.note_id for sound in sounds(excerpt) if not sound.grace]
    if len(heard) != len(struck):
        return excerpt
    here = {note.id: (place, note.at) for place, note in _placed(excerpt)}
    places: dict[str, tuple[int, Fraction]] = {}
    for own, original in zip(heard, struck, strict=True):
        places.setdefault(original.split(LANDING_SUFFIX)[0], here[own])
    found = []
    for mark in marks:
        note = _struck(whole.measures[mark.at.index], mark)
        if note is not None and note.id in places:
            found.append(replace(mark, at=Position(*places[note.id])))
    return marked(excerpt, found)


def _placed(part: Part) -> Iterator[tuple[int, Note]]:
    for place, measure in enumerate(part.measures):
        for note in measure.notes:
            yield place, note


def _struck(measure: Measure, mark: PartMark) -> Note | None:
    here = [n for n in measure.notes if n.is_attack and n.at == mark.at.at]
    return min(here, key=lambda n: (n.staff, n.voice, n.in_chord), default=None)


def _written_in(measure: Measure, marks: list[PartMark]) -> Measure:
    notes = list(measure.notes)
    directions = list(measure.directions)
    for mark in marks:
        if mark.kind in _AT_A_NOTE:
            note = _struck(replace(measure, notes=tuple(notes)), mark)
            if note is not None:
                notes[notes.index(note)] = _on_note(note, mark)
        else:
            directions.append(Direction(mark.at.at, f"mark:{mark.layer}", _shown(mark)))
    directions.sort(key=lambda d: d.at)
    return replace(measure, notes=tuple(notes), directions=tuple(directions))


def _on_note(note: Note, mark: PartMark) -> Note:
    if mark.kind == "breath":
        return replace(note, articulations=(*note.articulations, "breath-mark"))
    if mark.kind == "accent":
        return replace(note, articulations=tuple(dict.fromkeys((*note.articulations, "accent"))))
    return replace(note, technical=(*note.technical, (mark.kind, mark.text)))


def _shown(mark: PartMark) -> str:
    signs = {"warning": "(!)", "heart": "♥", "lean": "lean"}
    sign = signs.get(mark.kind, "")
    if mark.kind == "position":
        return f"pos. {mark.text}"
    if mark.kind == "alternate":
        return f"alt. {mark.text}"
    return f"{sign} {mark.text}".strip()
