"""Control events of a measure: ties and slurs, dynamics, tempo, words, signs."""

import re
from dataclasses import replace
from fractions import Fraction

from lxml import etree

from crumb.core.score.model import ZERO, Direction, Note, Slur, Tempo
from crumb.formats.mei.definitions import tempo_of
from crumb.formats.mei.events import Layer
from crumb.formats.mei.tree import tag_of, words
from crumb.formats.musicxml.numbers import exact

_DYNAMICS = frozenset(
    (
        *("pppp", "ppp", "pp", "p", "mp", "mf", "f", "ff", "fff", "ffff"),
        *("fp", "sf", "sfz", "sffz", "fz", "rf", "rfz", "sfp", "n"),
    )
)
_ORNAMENTS = {"trill": "trill-mark", "mordent": "mordent", "turn": "turn"}
_AT_NOTE = frozenset(("fermata", "breath", "trill", "mordent", "turn", "arpeg", "caesura"))
_LINES = frozenset(("hairpin",))
_QUIET = frozenset(("slur", "tie", "tupletSpan", "beamSpan", "fing", "lv", "ornam", "harm", "fb"))
_FAR = re.compile(r"(?:(?P<measures>[0-9]{1,3})m\s*\+\s*)?(?P<beat>[0-9.]{1,12})")
_MOST_MEASURES_ON = 400


class Controls:
    """Ties, slurs and spans that lead from measure to measure."""

    def __init__(self) -> None:
        """Nothing is open."""
        self.stops: dict[int, list[tuple[int, str, Direction]]] = {}
        """Ends of hairpins by the index of the measure they fall in."""
        self.slurs: dict[str, list[Slur]] = {}
        """Ends of slurs and of ties, by the id of the note."""
        self.ties: dict[str, set[str]] = {}
        self._number = 0

    def gather(self, element: etree._Element) -> None:
        """A <slur>, <tie> or <tupletSpan>, wherever it stands: its notes may come earlier."""
        start, end = (_named(element.get(name)) for name in ("startid", "endid"))
        if not start or not end:
            return
        tag = tag_of(element)
        if tag == "slur":
            self._number = self._number % 6 + 1
            self.slurs.setdefault(start, []).append(Slur(self._number, "start"))
            self.slurs.setdefault(end, []).append(Slur(self._number, "stop"))
        elif tag == "tie":
            self.ties.setdefault(start, set()).add("start")
            self.ties.setdefault(end, set()).add("stop")

    def joined(self, note: Note, note_id: str) -> Note:
        """A note with the slurs and ties that were gathered for its id."""
        if not note_id:
            return note
        ties = self.ties.get(note_id, set()) | _ends(note.tie)
        tie = "continue" if len(ties) == 2 else next(iter(ties), None)
        slurs = (*note.slurs, *self.slurs.get(note_id, ()))
        if tie == note.tie and slurs == note.slurs:
            return note
        return replace(note, tie=tie, slurs=slurs)

    def mark(
        self,
        element: etree._Element,
        layers: list[Layer],
        index: int,
        unit: Fraction,
        where: str,
    ) -> tuple[Direction | None, Tempo | None, str]:
        """One mark of a measure.

        Returns:
            A direction of the staff, a tempo that comes into force, and what was not kept.
        """
        tag = tag_of(element)
        if tag in _QUIET:
            return None, None, ""
        at = self._at(element, layers, unit, where)
        above = element.get("place") != "below"
        if tag == "dynam":
            text = words(element)
            kind = "dynamic" if text in _DYNAMICS else "words"
            return Direction(at, kind, text, above), None, ""
        if tag == "tempo":
            tempo = tempo_of(element, where)
            if tempo is not None and element.get("mm"):
                return Direction(at, "tempo", words(element), above, tempo=tempo), tempo, ""
            return Direction(at, "words", words(element), above), tempo, ""
        if tag == "dir":
            return Direction(at, "words", words(element), above), None, ""
        if tag == "reh":
            return Direction(ZERO, "rehearsal", words(element), above), None, ""
        if tag in _LINES:
            return self._hairpin(element, at, index, unit, above), None, ""
        if tag in _AT_NOTE:
            self._on_note(element, tag, at, layers)
            return None, None, ""
        return None, None, f"a mark called {tag}"[:60]

    def _at(
        self, element: etree._Element, layers: list[Layer], unit: Fraction, where: str
    ) -> Fraction:
        start = _named(element.get("startid"))
        for layer in layers:
            if start in layer.offsets:
                return layer.offsets[start]
        stamp = element.get("tstamp")
        return max((exact(stamp, where) - 1) * unit, ZERO) if stamp else ZERO

    def _hairpin(
        self, element: etree._Element, at: Fraction, index: int, unit: Fraction, above: bool
    ) -> Direction | None:
        form = {"cres": "crescendo", "dim": "diminuendo"}.get(element.get("form") or "")
        far = _FAR.fullmatch((element.get("tstamp2") or "").strip())
        if form is None or far is None:
            return None
        on = min(int(far["measures"] or 0), _MOST_MEASURES_ON)
        end = max((exact(far["beat"], "A hairpin") - 1) * unit, ZERO)
        staff = (element.get("staff") or "1").split()[0]
        stop = Direction(end, "wedge", "stop", above)
        self.stops.setdefault(index + on, []).append((on, staff, stop))
        return Direction(at, "wedge", form, above)

    def _on_note(
        self, element: etree._Element, tag: str, at: Fraction, layers: list[Layer]
    ) -> None:
        start = _named(element.get("startid"))
        for layer in layers:
            place = layer.places.get(start)
            if place is None and not start:
                place = next((i for i, n in enumerate(layer.notes) if n.at == at), None)
            if place is None or place >= len(layer.notes):
                continue
            layer.notes[place] = _marked(layer.notes[place], tag)
            return


def _marked(note: Note, tag: str) -> Note:
    if tag == "fermata":
        return replace(note, fermata=True)
    if tag in ("breath", "caesura"):
        sign = "breath-mark" if tag == "breath" else "caesura"
        return replace(note, articulations=(*note.articulations, sign))
    if tag == "arpeg":
        return replace(note, gestures=(*note.gestures, "arpeggiate"))
    return replace(note, ornaments=(*note.ornaments, _ORNAMENTS[tag]))


def _ends(tie: str | None) -> set[str]:
    return {"start", "stop"} if tie == "continue" else {tie} if tie else set()


def _named(reference: str | None) -> str:
    return (reference or "").strip().removeprefix("#")
