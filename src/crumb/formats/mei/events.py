"""Notes, rests and chords of a layer (MEI 5.0, common music notation)."""

from dataclasses import dataclass, field, replace
from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import ZERO, Change, Clef, Key, Note, Slur, Tuplet
from crumb.core.score.notating import TYPES
from crumb.core.score.pitch import STEPS, Pitch, key_alter
from crumb.formats.mei.definitions import clef_of, key_of, written_length
from crumb.formats.mei.tree import children, count_of, first, id_of, named, tag_of, words
from crumb.formats.musicxml.numbers import small, whole

_ALTERS = {
    "s": 1,
    "f": -1,
    "n": 0,
    "ss": 2,
    "x": 2,
    "ff": -2,
    "xs": 3,
    "sx": 3,
    "ts": 3,
    "tf": -3,
    "nf": -1,
    "ns": 1,
}
_QUARTER_TONES = {"su": 3, "sd": 1, "fu": -1, "fd": -3, "1qf": -1, "3qf": -3, "1qs": 1, "3qs": 3}
_SIGNS = {
    "s": "sharp",
    "f": "flat",
    "n": "natural",
    "ss": "sharp-sharp",
    "x": "double-sharp",
    "ff": "flat-flat",
    "nf": "natural-flat",
    "ns": "natural-sharp",
}
_ARTICULATIONS = {
    "stacc": "staccato",
    "acc": "accent",
    "ten": "tenuto",
    "marc": "strong-accent",
    "stacciss": "staccatissimo",
    "spicc": "spiccato",
    "stress": "stress",
    "unstress": "unstress",
    "doit": "doit",
    "scoop": "scoop",
    "fall": "falloff",
}
_BOWS = {"dnbow": "down-bow", "upbow": "up-bow", "harm": "harmonic", "snap": "snap-pizzicato"}
_BOWS |= {"open": "open-string", "stop": "stopped", "dbltongue": "double-tongue"}
_GRACES = {"acc": "grace", "unacc": "slashed", "unknown": "grace"}
_TYPES = {length: name for name, length in TYPES}
_MOST_EVENTS = 1500
_FINEST = 100_000
"""Parts of a note value that tuplets inside tuplets divide it into at most."""


@dataclass(slots=True, eq=False)
class Layer:
    """One voice of one staff in one measure, as far as it was read."""

    where: str
    voice: str
    staff: int
    key: Key
    clef: Clef
    index: int
    prefix: str
    at: Fraction = ZERO
    notes: list[Note] = field(default_factory=list)
    changes: list[Change] = field(default_factory=list)
    said: dict[tuple[str, int], Fraction] = field(default_factory=dict)
    """Alterations that hold until the barline."""
    ids: list[str] = field(default_factory=list)
    """The file's own id of each of the notes."""
    places: dict[str, int] = field(default_factory=dict)
    """Where in ``notes`` the note or the chord of an id stands."""
    offsets: dict[str, Fraction] = field(default_factory=dict)
    fills: bool = False
    """Whether a rest as long as the measure stands here, however long that is."""
    unread: list[str] = field(default_factory=list)

    def read(self, element: etree._Element, ratio: Fraction = Fraction(1)) -> None:
        """All that an element of the layer holds."""
        for child in children(element):
            self._event(child, ratio)
            if len(self.notes) > _MOST_EVENTS:
                raise UnreadableFile(f"{self.where} holds more than a measure of music does.")

    def _event(self, element: etree._Element, ratio: Fraction) -> None:
        tag = tag_of(element)
        if id_of(element):
            self.offsets[id_of(element)] = self.at
        if tag == "note":
            self._struck([element], element, ratio)
        elif tag == "chord":
            self._struck(list(named(element, "note")), element, ratio)
        elif tag in ("rest", "space"):
            self._rest(element, ratio, hidden=tag == "space" or element.get("visible") == "false")
        elif tag in ("mRest", "mSpace", "multiRest"):
            self.fills = True
        elif tag == "fTrem":
            self.read(element, ratio / 2)  # each note is written as long as both together
        elif tag in ("beam", "graceGrp", "bTrem", "ligature", "phrase"):
            self.read(element, ratio)
        elif tag == "tuplet":
            self._tuplet(element, ratio)
        elif tag == "clef":
            self.clef = clef_of(element, self.where)
            self.changes.append(Change(self.at, clef=self.clef, staff=self.staff))
        elif tag == "keySig":
            self.key = key_of(element, self.where)
            self.changes.append(Change(self.at, key=self.key))
        elif tag in _REPEATS:
            raise UnreadableFile(
                f"{self.where}: a sign for music that repeats ({tag}) is not read."
            )
        elif tag not in _SILENT:
            self.unread.append(f"something called {tag}"[:60])

    def _tuplet(self, element: etree._Element, ratio: Fraction) -> None:
        actual = small(element.get("num") or "3", most=999, otherwise=3)
        normal = small(element.get("numbase") or "2", most=999, otherwise=2)
        begin = len(self.notes)
        if (ratio * Fraction(normal, actual)).denominator > _FINEST:
            raise UnreadableFile(
                f"{self.where}: tuplets inside tuplets, deeper than anybody plays."
            )
        self.read(element, ratio * Fraction(normal, actual))
        inside = [i for i in range(begin, len(self.notes)) if not self.notes[i].grace]
        heads = [i for i in inside if not self.notes[i].in_chord]
        total = ratio * Fraction(normal, actual)
        for i in inside:
            made = Tuplet(
                total.denominator, total.numerator, starts=i == heads[0], stops=i == heads[-1]
            )
            if self.notes[i].in_chord:
                made = replace(made, starts=False, stops=False)
            if self.notes[i].tuplet is None:
                self.notes[i] = replace(self.notes[i], tuplet=made)

    def _length(self, element: etree._Element, ratio: Fraction) -> tuple[Fraction, str, int]:
        dots = count_of(element.get("dots"), most=4)
        dots = dots or sum(1 for _ in named(element, "dot"))
        written = written_length(element.get("dur") or "4", 0, self.where)
        length = written * (2 - Fraction(1, 2**dots)) * ratio
        return length, _TYPES.get(written, "long"), dots

    def _rest(self, element: etree._Element, ratio: Fraction, *, hidden: bool) -> None:
        length, kind, dots = self._length(element, ratio)
        note = Note(
            id=self._id("r"),
            at=self.at,
            duration=length,
            is_rest=True,
            hidden=hidden,
            voice=self.voice,
            staff=self.staff,
            type=kind,
            dots=dots,
            fermata=element.get("fermata") is not None,
        )
        self._place(note, element)
        self.at += length

    def _struck(
        self, notes: list[etree._Element], whole_of: etree._Element, ratio: Fraction
    ) -> None:
        grace = _GRACES.get(whole_of.get("grace") or notes[0].get("grace") or "", "")
        parent = whole_of.getparent()
        if not grace and parent is not None and _in_grace(parent):
            grace = "grace"
        timed = whole_of if whole_of.get("dur") else notes[0]
        length, kind, dots = self._length(timed, ratio)
        visible = whole_of.get("visible") != "false"
        for place, element in enumerate(notes):
            if not visible or element.get("visible") == "false":
                continue
            pitch, sign = self._pitch(element)
            note = Note(
                id=self._id("n"),
                at=self.at,
                duration=ZERO if grace else length,
                pitch=pitch,
                place=_loc(element, self.clef) if pitch is None else None,
                voice=self.voice,
                staff=self.staff,
                grace=grace,
                cue=element.get("cue") == "true" or whole_of.get("cue") == "true",
                in_chord=place > 0,
                tie=_tie(element.get("tie") or whole_of.get("tie") or ""),
                type=kind,
                dots=dots,
                slurs=_slurs(element, whole_of) if place == 0 else (),
                accidental=sign,
                lyric=_lyric(element, whole_of) if place == 0 else "",
            )
            self._place(_adorned(note, element, whole_of, parent), element)
        if id_of(whole_of):
            self.places.setdefault(id_of(whole_of), max(len(self.notes) - len(notes), 0))
        if not grace:
            if not visible:
                self.unread.append("notes for playback alone, which are not printed")
            self.at += length

    def _place(self, note: Note, element: etree._Element) -> None:
        if id_of(element):
            self.places[id_of(element)] = len(self.notes)
            self.offsets[id_of(element)] = self.at
        self.notes.append(note)
        self.ids.append(id_of(element))

    def _id(self, kind: str) -> str:
        at = self.at
        return f"{kind}{self.index}-{at.numerator}_{at.denominator}-{self.prefix}{len(self.notes)}"

    def _pitch(self, element: etree._Element) -> tuple[Pitch | None, str]:
        """The pitch, and the sign that is printed for it."""
        step = (element.get("pname") or "").upper()
        if not step:
            return None, ""
        if step not in STEPS:
            raise UnreadableFile(f"{self.where}: “{step[:10]}” is not a note name.")
        octave = whole(element.get("oct"), f"{self.where}, an octave")
        if not -1 <= octave <= 10:
            raise UnreadableFile(f"{self.where}: a note outside what can be played.")
        child = first(element, "accid")
        printed = (child.get("accid") if child is not None else None) or element.get("accid") or ""
        heard = (child.get("accid.ges") if child is not None else None) or element.get("accid.ges")
        name = (step, octave)
        if heard:
            alter = self._alter(heard)
        elif printed:
            alter = self._alter(printed)
        else:
            alter = self.said.get(name, Fraction(key_alter(step, self.key.fifths)))
        if printed:
            self.said[name] = self._alter(printed)
        return Pitch(step, alter, octave), _SIGNS.get(printed, "")

    def _alter(self, sign: str) -> Fraction:
        if sign in _ALTERS:
            return Fraction(_ALTERS[sign])
        if sign in _QUARTER_TONES:
            return Fraction(_QUARTER_TONES[sign], 2)
        raise UnreadableFile(f"{self.where}: an accidental called “{sign[:20]}” is not read.")


_REPEATS = frozenset(("mRpt", "mRpt2", "beatRpt", "halfmRpt", "multiRpt"))
_SILENT = frozenset(
    (
        "accid",
        "artic",
        "dot",
        "verse",
        "syl",
        "barLine",
        "custos",
        "divLine",
        "pad",
        "mNum",
        "dynam",
    )
)


def _in_grace(element: etree._Element) -> bool:
    here: etree._Element | None = element
    while here is not None and tag_of(here) != "layer":
        if tag_of(here) == "graceGrp":
            return True
        here = here.getparent()
    return False


def _tie(text: str) -> str | None:
    return {"i": "start", "m": "continue", "t": "stop"}.get(text[:1])


def _slurs(element: etree._Element, whole_of: etree._Element) -> tuple[Slur, ...]:
    found = []
    for token in f"{element.get('slur') or ''} {whole_of.get('slur') or ''}".split():
        number = int(token[1:]) if token[1:].isdecimal() else 1
        if token[0] in "mt":
            found.append(Slur(number, "stop"))
        if token[0] in "mi":
            found.append(Slur(number, "start"))
    return tuple(dict.fromkeys(found))


def _lyric(element: etree._Element, whole_of: etree._Element) -> str:
    for one in (element, whole_of):
        syllable = first(one, "verse", "syl")
        if syllable is None:
            syllable = first(one, "syl")
        if syllable is not None:
            text = words(syllable).strip("-")[:78]
            where = syllable.get("wordpos") or ""
            return f"{'-' * (where in ('m', 't'))}{text}{'-' * (where in ('i', 'm'))}"
    return ""


def _adorned(
    note: Note,
    element: etree._Element,
    whole_of: etree._Element,
    parent: etree._Element | None,
) -> Note:
    """Articulations and the like; those of a chord go with its first note."""
    holders = (element,) if note.in_chord else (element, whole_of)
    names: list[str] = []
    for one in holders:
        names += (one.get("artic") or "").split()
        names += [n for a in named(one, "artic") for n in (a.get("artic") or "").split()]
    names = list(dict.fromkeys(names))
    is_rolled = parent is not None and tag_of(parent) == "bTrem" and not note.in_chord
    unit = parent.get("unitdur") if parent is not None and is_rolled else None
    strokes = {"8": 1, "16": 2, "32": 3, "64": 4}.get(unit or "", 3)
    return replace(
        note,
        articulations=tuple(_ARTICULATIONS[n] for n in names if n in _ARTICULATIONS),
        technical=tuple((_BOWS[n], "") for n in names if n in _BOWS),
        ornaments=(f"tremolo:single:{strokes}",) if is_rolled else (),
        fermata=not note.in_chord and any(one.get("fermata") for one in holders),
    )


def _loc(element: etree._Element, clef: Clef) -> Pitch:
    """The place of a stroke on the staff; its lowest line is 0."""
    loc = count_of(element.get("loc") or "4", most=40)
    return Pitch(STEPS[(loc + 2) % 7], ZERO, 4 + (loc + 2) // 7)
