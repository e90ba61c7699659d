"""One measure of MusicXML: walks the cursor through notes, backups and forwards."""

import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import TypeVar

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.meter import beams_of
from crumb.core.score.model import (
    FREE,
    ZERO,
    Barline,
    Change,
    Clef,
    Direction,
    Key,
    Measure,
    Note,
    Tempo,
    Time,
)
from crumb.core.score.notating import FLAGS, TYPES, beam
from crumb.core.score.pitch import Transposition
from crumb.formats.musicxml.bounds import (
    MOST_ENDINGS,
    MOST_GRACES,
    MOST_IN_MEASURE,
    MOST_REPEATS,
    MOST_TIMES,
    MOST_VOICES,
)
from crumb.formats.musicxml.cutting import Child, children_of
from crumb.formats.musicxml.notes import NoteBody, read_note
from crumb.formats.musicxml.numbers import Ticks, exact, small, text_of, ticks, whole

S = TypeVar("S")
R = TypeVar("R")

_TYPE_LENGTHS = {**dict(TYPES), "long": Fraction(16)}
_ROUNDED = 20
"""A rounded duration is off by no more than this part of it; else the file means what it says."""
_MAX_DIVISIONS = 1_000_000
_MAX_MEASURE = 1000  # quarter notes
_TIME_BEATS = re.compile(r"[0-9]{1,3}(\s*\+\s*[0-9]{1,3}){0,11}")


@dataclass
class PartState:
    """What carries over from measure to measure while a part is read."""

    label: str
    divisions: Fraction = Fraction(1)
    time: Time = field(default_factory=lambda: Time("4", 4))
    key: Key = field(default_factory=lambda: Key(0))
    clefs: list[Clef] = field(default_factory=lambda: [Clef("G", 2)])
    tempo: Tempo | None = None
    staves: int = 1
    staff_lines: int = 5
    transposition: Transposition = field(default_factory=Transposition)
    first_transposition: Transposition | None = None
    """That of the first measure, which is the part's."""
    drums: Mapping[str, str] = field(default_factory=dict)
    """Names of the instruments of the part, by the ids that notes say."""
    drum_notes: dict[int, tuple[NoteBody, Note]] = field(default_factory=dict)
    places: dict[Ticks, tuple[Fraction, str]] = field(default_factory=dict)
    lengths: dict[Ticks, Fraction] = field(default_factory=dict)
    """Ticks of the divisions in force as quarter notes: the same few come over and over."""
    repeats: int = 0
    endings: int = 0
    unread: dict[str, list[str]] = field(default_factory=dict)
    """What was met and not kept, with the printed numbers of its measures."""


class MeasureReader:
    """Reads one <measure>; made for one use."""

    def __init__(self, state: PartState, attributes: Mapping[str, str], index: int) -> None:
        """Start at the left barline with what is in force there."""
        self.state = state
        self.index = index
        self.number = (attributes.get("number") or str(index + 1)).strip()[:12]
        self.where = f"{state.label}, measure {self.number}"
        self.implicit = attributes.get("implicit") == "yes"
        self.before = (state.time, state.key, tuple(state.clefs))
        self.tempo = state.tempo
        # Places in the file's own ticks: whole numbers are many times faster than fractions.
        self.cursor: Ticks = 0
        self.furthest: Ticks = 0
        self.chord_start: Ticks = 0
        self.meant: dict[Ticks, Ticks] = {}
        """Where a place is that the file could only round: a third of 1024 is no whole number."""
        self.moved_back = False
        self.notes: list[Note] = []
        self.directions: list[Direction] = []
        self.changes: list[Change] = []
        self.barlines: list[Barline] = []
        self.multi_rest = 0
        self.new_system = self.new_page = False

    def read(self, children: Iterable[Child]) -> Measure:
        """The measure of these notes and elements.

        Raises:
            UnreadableFile: a number or a duration that cannot be.
        """
        for count, child in enumerate(children):
            if count >= MOST_IN_MEASURE:
                raise UnreadableFile(f"{self.where} holds more than a measure of music does.")
            if isinstance(child, NoteBody):
                self._note(child)
            elif child.tag == "note":
                self._note(self._with_place(read_note, child))
            elif handler := _HANDLERS.get(str(child.tag)):
                handler(self, child)
            else:
                self._unread(_PLAIN_NAMES.get(str(child.tag), f"something called {child.tag}"[:60]))
        return self._measure()

    def read_text(self, content: bytes) -> Measure:
        """The measure of what stands between its tags.

        Raises:
            UnreadableFile: a number or a duration that cannot be.
            NotCuttable: the content must be read with its whole file.
        """
        return self.read(self._with_place(children_of, content))

    def _with_place(self, read: Callable[[S], R], source: S) -> R:
        """What is wrong with a note is said with its measure."""
        try:
            return read(source)
        except UnreadableFile as error:
            raise UnreadableFile(f"{self.where}: {error.message}") from error

    def _check_crowd(self) -> None:
        """Refuse what no player could read and no engraver could set.

        Raises:
            UnreadableFile: too many grace notes or voices.
        """
        if len(self.notes) <= MOST_VOICES:
            return
        if sum(bool(note.grace) for note in self.notes) > MOST_GRACES:
            raise UnreadableFile(f"{self.where} has more than {MOST_GRACES} grace notes.")
        if len({(note.voice, note.staff) for note in self.notes}) > MOST_VOICES:
            raise UnreadableFile(f"{self.where} has more than {MOST_VOICES} voices.")

    def _measure(self) -> Measure:
        time, key, clefs = self._opening()
        length = self._quarters(self.furthest) or time.length
        self._check_crowd()
        notes = self._in_order()
        if not any(n.beams for n in notes) and any(n.type in FLAGS for n in notes):
            lead = max(time.length - length, ZERO) if self.index == 0 else ZERO
            notes = beam(notes, beams_of(time), lead)
        return Measure(
            index=self.index,
            number=self.number,
            length=length,
            time=time,
            key=key,
            clefs=clefs,
            tempo=self.tempo,
            implicit=self.implicit,
            notes=notes,
            directions=tuple(self.directions),
            changes=tuple(c for c in self.changes if c.at > 0),
            barlines=tuple(self.barlines),
            new_system=self.new_system,
            new_page=self.new_page,
            multi_rest=self.multi_rest,
            transposition=self._own_transposition(),
        )

    def _own_transposition(self) -> Transposition | None:
        """What other instrument is played from here, if not that of the first measure."""
        state = self.state
        if state.first_transposition is None:
            state.first_transposition = state.transposition
        same = state.transposition == state.first_transposition
        return None if same else state.transposition

    def _in_order(self) -> tuple[Note, ...]:
        """By staff, voice and time; most measures have one voice and are in order already."""
        if len({(n.staff, n.voice) for n in self.notes}) == 1 and not self.moved_back:
            return tuple(self.notes)
        return tuple(sorted(self.notes, key=lambda n: (n.staff, n.voice, n.at)))

    def _opening(self) -> tuple[Time, Key, tuple[Clef, ...]]:
        """What is in force at the left barline, changes printed there included."""
        time, key, clefs = self.before
        in_force = list(clefs)
        for change in self.changes:
            if change.at > 0:
                continue
            time, key = change.time or time, change.key or key
            while len(in_force) < len(self.state.clefs):
                in_force.append(self.state.clefs[len(in_force)])
            if change.clef:
                in_force[change.staff - 1] = change.clef
        return time, key, tuple(in_force)

    def _attributes(self, element: etree._Element) -> None:
        state = self.state
        divisions = element.findtext("divisions")
        if divisions is not None:
            self._set_divisions(exact(divisions, self.where))
        staves = element.findtext("staves")
        if staves is not None:
            state.staves = min(max(whole(staves, self.where), 1), 8)
        lines = element.findtext("staff-details/staff-lines")
        if lines is not None:
            state.staff_lines = min(max(whole(lines, self.where), 0), 12)
        while len(state.clefs) < state.staves:
            state.clefs.append(Clef("F", 4) if state.staves == 2 else Clef("G", 2))
        for key in element.findall("key"):
            fifths = key.findtext("fifths")
            if fifths is not None and key.get("number") in (None, "1"):
                count = whole(fifths, self.where)
                if abs(count) > 14:
                    raise UnreadableFile(f"{self.where}: a key of {count} accidentals.")
                state.key = Key(count, text_of(key, "mode"))
                self.changes.append(Change(self._quarters(self.cursor), key=state.key))
        self._time(element)
        for clef in element.findall("clef"):
            self._clef(clef)
        transpose = element.find("transpose")
        if transpose is not None:
            state.transposition = transposition_of(transpose, self.state.label)
        rests = element.findtext("measure-style/multiple-rest")
        if rests is not None:
            self.multi_rest = whole(rests, self.where)

    def _set_divisions(self, divisions: Fraction) -> None:
        if not 0 < divisions <= _MAX_DIVISIONS:
            raise UnreadableFile(f"{self.where}: {divisions} divisions to a quarter.")
        ratio = divisions / self.state.divisions
        if self.furthest and ratio != 1:
            self.cursor, self.furthest = self.cursor * ratio, self.furthest * ratio
            self.chord_start *= ratio
            self.meant = {at * ratio: meant * ratio for at, meant in self.meant.items()}
        self.state.divisions = divisions
        self.state.places, self.state.lengths = {}, {}

    def _quarters(self, place: Ticks) -> Fraction:
        return self._place(place)[0]

    def _place(self, place: Ticks) -> tuple[Fraction, str]:
        """A place in quarter notes, and as note ids say it."""
        if self.meant:
            place = self.meant.get(place, place)
        known = self.state.places.get(place)
        if known is None:
            at = Fraction(place) / self.state.divisions
            known = self.state.places[place] = (at, f"{at.numerator}_{at.denominator}")
        return known

    def _time(self, element: etree._Element) -> None:
        time = element.find("time")
        if time is not None and time.find("senza-misura") is not None:
            self.state.time = Time("1", 4, FREE)
            self.changes.append(Change(self._quarters(self.cursor), time=self.state.time))
        if time is None or time.findtext("beats") is None:
            return
        pairs = list(zip(time.findall("beats"), time.findall("beat-type"), strict=False))
        units = {whole(unit.text, self.where) for _, unit in pairs}
        beats = [(b.text or "").strip() for b, _ in pairs]
        if not all(_TIME_BEATS.fullmatch(b) for b in beats) or not units or min(units) < 1:
            raise UnreadableFile(f"{self.where}: a time signature that makes no sense.")
        unit = max(units)
        if unit not in (1, 2, 4, 8, 16, 32, 64, 128):
            raise UnreadableFile(f"{self.where}: a time signature over {unit}.")
        counts = [
            str(sum(int(x) for x in b.split("+")) * unit // whole(u.text, self.where))
            if len(pairs) > 1
            else b.replace(" ", "")
            for b, (_, u) in zip(beats, pairs, strict=True)
        ]
        signature = Time("+".join(counts), unit, time.get("symbol") or "")
        if signature.numerator < 1:
            raise UnreadableFile(f"{self.where}: a time signature of no beats.")
        self.state.time = signature
        self.changes.append(Change(self._quarters(self.cursor), time=signature))

    def _clef(self, clef: etree._Element) -> None:
        staff = small(clef.get("number"), most=8, otherwise=1)
        sign = text_of(clef, "sign") or "G"
        default = {"G": 2, "F": 4, "C": 3}.get(sign, 3)
        line_text = clef.findtext("line")
        octave = clef.findtext("clef-octave-change")
        made = Clef(
            sign,
            whole(line_text, self.where) if line_text else default,
            whole(octave, self.where) if octave else 0,
        )
        if 1 <= staff <= len(self.state.clefs):
            self.state.clefs[staff - 1] = made
            self.changes.append(Change(self._quarters(self.cursor), clef=made, staff=staff))

    def _duration(self, text: str | None) -> Ticks:
        duration = ticks(text, self.where)
        self._length(duration)
        return duration

    def _length(self, duration: Ticks) -> Fraction:
        """Ticks as quarter notes.

        Raises:
            UnreadableFile: no note is that long.
        """
        length = self.state.lengths.get(duration)
        if length is None:
            length = Fraction(duration) / self.state.divisions
            if not 0 <= length <= _MAX_MEASURE:
                raise UnreadableFile(f"{self.where}: a note lasts {length} quarter notes.")
            self.state.lengths[duration] = length
        return length

    def _note(self, body: NoteBody) -> None:
        note, duration = body.note, body.duration
        if note.drum:
            note = self._named(body)
        if duration is None:
            duration = self._said_by_type(note)
        meant = duration if note.tuplet is None else self._meant(note, duration)
        length = self._length(meant)
        if note.grace:
            at, place = self._place(self.cursor)
        elif note.in_chord:
            at, place = self._place(self.chord_start)
        else:
            at, place = self._place(self.cursor)
            self.chord_start = self.cursor
            self._advance(duration, meant)
            if self.cursor > self.furthest:
                self.furthest = self.cursor
        if note.hidden and note.sounds:
            self._unread("notes for playback alone, which are not printed")
            if note.in_chord or note.grace:
                return
            note = _silent(note)
        elif note.in_chord and self.notes and self.notes[-1].hidden:
            # The rest of a chord whose first note is hidden.
            at, note = self.notes.pop().at, replace(note, in_chord=False)
        kind = "r" if note.is_rest else "n"
        note_id = f"{kind}{self.index}-{place}-{len(self.notes)}"
        self.notes.append(note.placed(note_id, at, length))
        for what in body.unread:
            self._unread(what)

    def _named(self, body: NoteBody) -> Note:
        """A stroke with the name of what is struck; the same note for the same text."""
        known = self.state.drum_notes.get(id(body))
        if known is None:
            name = self.state.drums.get(body.note.drum, "")[:60]
            named = replace(body.note, drum=name).placed("", ZERO, ZERO)
            known = self.state.drum_notes[id(body)] = (body, named)
        return known[1]

    def _advance(self, duration: Ticks, meant: Ticks) -> None:
        end = self.cursor + duration
        if self.meant or meant != duration:
            true_end = self.meant.get(self.cursor, self.cursor) + meant
            if true_end != end:
                self.meant[end] = true_end
        self.cursor = end

    def _meant(self, note: Note, duration: Ticks) -> Ticks:
        """What a tuplet note lasts that the file's divisions could not say exactly.

        An exporter rounds 1024 / 3 to 341 or 342, or drops what is over; the written value and the
        tuplet say what was meant.
        """
        assert note.tuplet is not None
        written = _TYPE_LENGTHS.get(note.type)
        if written is None or not duration:
            return duration
        dotted = written * (2 - Fraction(1, 2**note.dots))
        meant = dotted * note.tuplet.normal / note.tuplet.actual * self.state.divisions
        off = abs(meant - duration)
        return meant if 0 < off <= 1 and off * _ROUNDED <= meant else duration

    def _said_by_type(self, note: Note) -> Ticks:
        return _TYPE_LENGTHS.get(note.type, ZERO) * self.state.divisions

    def _unread(self, what: str) -> None:
        self.state.unread.setdefault(what, []).append(self.number)

    def _backup(self, element: etree._Element) -> None:
        self.moved_back = True
        self.cursor = max(self.cursor - self._duration(element.findtext("duration")), 0)

    def _forward(self, element: etree._Element) -> None:
        self.cursor += self._duration(element.findtext("duration"))
        self.furthest = max(self.furthest, self.cursor)

    def _direction(self, element: etree._Element) -> None:
        offset = element.findtext("offset")
        at = self._quarters(self.cursor)
        if offset is not None:
            at = max(at + exact(offset, self.where) / self.state.divisions, ZERO)
        above = element.get("placement") != "below"
        staff = small(text_of(element, "staff"), most=8, otherwise=1)

        def add(kind: str, text: str, tempo: Tempo | None = None) -> None:
            self.directions.append(Direction(at, kind, text[:200], above, staff, tempo))

        metronome = None
        for kind in element.findall("direction-type/*"):
            tag = str(kind.tag)
            if tag == "rehearsal":
                add("rehearsal", (kind.text or "").strip())
            elif tag == "words" and (kind.text or "").strip():
                add("words", (kind.text or "").strip())
                said = tempo_said(kind.text or "")
                if said is not None:
                    self._set_tempo(said, at)
            elif tag == "dynamics" and len(kind):
                mark = kind[0]
                named = (mark.text or "") if mark.tag == "other-dynamics" else str(mark.tag)
                add("dynamic", named)
            elif tag == "wedge" and kind.get("type") in ("crescendo", "diminuendo", "stop"):
                add("wedge", kind.get("type") or "")
            elif tag == "octave-shift" and kind.get("type") in ("up", "down", "stop"):
                add("octave", f"{kind.get('type')} {kind.get('size') or '8'}")
            elif tag in ("segno", "coda"):
                add(tag, tag)
            elif tag == "pedal" and kind.get("type") in ("start", "stop", "change"):
                add("pedal", kind.get("type") or "")
            elif tag == "string-mute" and kind.get("type") in ("on", "off"):
                add("words", "con sord." if kind.get("type") == "on" else "senza sord.")
            elif tag == "metronome":
                metronome = self._metronome(kind)
                if metronome is not None:
                    self._set_tempo(metronome, at)
            elif tag not in _KNOWN_DIRECTIONS:
                self._unread(f"a mark called {tag[:30]}")
        if metronome:
            add("tempo", "", metronome)
        for sound in element.findall("sound"):
            self._sound(sound, printed=metronome is not None, at=at)

    def _metronome(self, element: etree._Element) -> Tempo | None:
        unit = _TYPE_LENGTHS.get(text_of(element, "beat-unit"))
        minute = re.search(r"\d{1,4}(?:\.\d{1,6})?", text_of(element, "per-minute"))
        if unit is None or minute is None or Fraction(minute[0]) == 0:
            return None
        dots = len(element.findall("beat-unit-dot"))
        return Tempo(unit * (2 - Fraction(1, 2**dots)), Fraction(minute[0]))

    def _set_tempo(self, tempo: Tempo, at: Fraction) -> None:
        """From here on; the measure's own tempo is that of its start."""
        self.state.tempo = tempo
        if at == 0:
            self.tempo = tempo

    def _sound(
        self, element: etree._Element, *, printed: bool = False, at: Fraction | None = None
    ) -> None:
        place = self._quarters(self.cursor) if at is None else at
        for jump in _JUMPS:
            if element.get(jump):
                self.directions.append(Direction(place, "jump", jump))
        tempo = element.get("tempo")
        if tempo is not None and not printed:
            quarters = exact(tempo, self.where)
            if quarters > 0:
                self._set_tempo(Tempo(Fraction(1), quarters), place)

    def _barline(self, element: etree._Element) -> None:
        repeat, ending = element.find("repeat"), element.find("ending")
        times = small(repeat.get("times"), most=10**9, otherwise=2) if repeat is not None else 2
        if times > MOST_TIMES:
            self._unread(f"more than {MOST_TIMES} times of a repeat")
        self.state.repeats += repeat is not None
        if self.state.repeats > MOST_REPEATS:
            self._unread(f"more than {MOST_REPEATS} repeats")
            repeat = None
        self.state.endings += ending is not None
        if self.state.endings > MOST_ENDINGS * 2:
            self._unread(f"more than {MOST_ENDINGS} endings")
            ending = None
        side = element.get("location") or "right"
        direction = repeat.get("direction") if repeat is not None else ""
        self.barlines.append(
            Barline(
                side=side if side in ("left", "right", "middle") else "right",
                style=text_of(element, "bar-style"),
                repeat=direction if direction in ("forward", "backward") else "",
                times=min(times, MOST_TIMES),
                ending=(ending.get("number") or "")[:40] if ending is not None else "",
                ending_type=(ending.get("type") or "")[:20] if ending is not None else "",
            )
        )

    def _print(self, element: etree._Element) -> None:
        self.new_system = self.new_system or element.get("new-system") == "yes"
        self.new_page = self.new_page or element.get("new-page") == "yes"

    def _nothing(self, element: etree._Element) -> None:
        """What says nothing to a player."""


def _silent(note: Note) -> Note:
    """A note that only sounds from a computer, as the rest it is on paper."""
    return Note(
        id="",
        at=ZERO,
        duration=ZERO,
        is_rest=True,
        hidden=True,
        voice=note.voice,
        staff=note.staff,
        type=note.type,
        dots=note.dots,
        tuplet=note.tuplet,
        nesting=note.nesting,
    )


_HANDLERS: dict[str, Callable[[MeasureReader, etree._Element], None]] = {
    "attributes": MeasureReader._attributes,
    "backup": MeasureReader._backup,
    "forward": MeasureReader._forward,
    "direction": MeasureReader._direction,
    "sound": MeasureReader._sound,
    "barline": MeasureReader._barline,
    "print": MeasureReader._print,
    "listening": MeasureReader._nothing,
    "bookmark": MeasureReader._nothing,
    "link": MeasureReader._nothing,
    "grouping": MeasureReader._nothing,
}
_PLAIN_NAMES = {"harmony": "chord symbols", "figured-bass": "figured bass"}
_JUMPS = ("dacapo", "dalsegno", "tocoda", "fine")
_KNOWN_DIRECTIONS = frozenset(
    ("rehearsal", "words", "dynamics", "wedge", "octave-shift", "bracket", "dashes", "eyeglasses")
)


_NOTE_SIGNS = {
    "\u2669": Fraction(1),
    "\u266a": Fraction(1, 2),
    "\u266b": Fraction(1, 2),
    "\U0001d15d": Fraction(4),
    "\U0001d15e": Fraction(2),
    "\U0001d15f": Fraction(1),
    "\U0001d160": Fraction(1, 2),
    "\U0001d161": Fraction(1, 4),
    "\ue1d2": Fraction(4),
    "\ue1d3": Fraction(2),
    "\ue1d4": Fraction(2),
    "\ue1d5": Fraction(1),
    "\ue1d6": Fraction(1),
    "\ue1d7": Fraction(1, 2),
    "\ue1d8": Fraction(1, 2),
    "half": Fraction(2),
    "quarter": Fraction(1),
    "eighth": Fraction(1, 2),
    "minim": Fraction(2),
    "crotchet": Fraction(1),
    "quaver": Fraction(1, 2),
}
"""Signs of notes as text: Unicode's musical symbols, SMuFL 1.4's metronome marks, words."""
_TEMPO_SAID = re.compile(
    r"(?P<dotted>dotted[ -])?"
    r"(?P<unit>[\u2669\u266a\u266b\ue1d2-\ue1d8\U0001d15d-\U0001d161]"
    r"|\b(?:half|quarter|eighth|minim|crotchet|quaver)\b)"
    r"(?: note)?\s*(?P<dot>[.\ue1e7\U0001d16d])?\s*=\s*(?:c(?:a|irca)?\.?\s*)?"
    r"(?P<minute>\d{2,3}(?:\.\d{1,2})?)\b",
    re.IGNORECASE,
)


def tempo_said(text: str) -> Tempo | None:
    """The tempo in words such as ``Allegro (♩ = 120)`` or ``dotted quarter = ca. 72``."""
    found = _TEMPO_SAID.search(text[:200])
    if found is None or Fraction(found["minute"]) == 0:
        return None
    unit = _NOTE_SIGNS[found["unit"].lower()]
    if found["dot"] or found["dotted"]:
        unit *= Fraction(3, 2)
    return Tempo(unit, Fraction(found["minute"]))


def transposition_of(element: etree._Element, label: str) -> Transposition:
    """A <transpose> element: from written to sounding.

    Raises:
        UnreadableFile: a number that is none.
    """
    where = f"Transposition of {label}"
    octaves = whole(element.findtext("octave-change") or "0", where)
    chromatic = whole(element.findtext("chromatic") or "0", where) + 12 * octaves
    diatonic_text = element.findtext("diatonic")
    if diatonic_text is None:
        diatonic = round(Fraction(chromatic * 7, 12))
    else:
        diatonic = whole(diatonic_text, where) + 7 * octaves
    return Transposition(diatonic, chromatic)
