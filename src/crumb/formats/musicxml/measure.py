"""One measure of MusicXML: notes and marks, each at its place."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from fractions import Fraction
from typing import TypeVar

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.meter import beams_of
from crumb.core.score.model import (
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
from crumb.core.score.notating import FLAGS, beam
from crumb.core.score.pitch import Transposition
from crumb.formats.musicxml.bounds import (
    MOST_ENDINGS,
    MOST_GRACES,
    MOST_IN_MEASURE,
    MOST_REPEATS,
    MOST_TIMES,
    MOST_VOICES,
)
from crumb.formats.musicxml.cursor import Cursor, Divisions
from crumb.formats.musicxml.cutting import Child, children_of
from crumb.formats.musicxml.directions import UNREAD, read_marks
from crumb.formats.musicxml.notes import NoteBody, read_note
from crumb.formats.musicxml.numbers import exact, small, text_of, whole
from crumb.formats.musicxml.signatures import clef_of, key_of, time_of, transposition_of

S = TypeVar("S")
R = TypeVar("R")


@dataclass
class PartState:
    """The state of a part that carries over from measure to measure while it is read."""

    label: str
    divisions: Divisions = field(default_factory=Divisions)
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
        self.cursor = Cursor(state.divisions, self.where)
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
        """Read, and put the measure into the message of an error."""
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
        length = self.cursor.furthest or time.length
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
        """The transposition from here on, if it is not that of the first measure."""
        state = self.state
        if state.first_transposition is None:
            state.first_transposition = state.transposition
        same = state.transposition == state.first_transposition
        return None if same else state.transposition

    def _in_order(self) -> tuple[Note, ...]:
        """By staff, voice and time; most measures have one voice and are in order already."""
        if len({(n.staff, n.voice) for n in self.notes}) == 1 and not self.cursor.went_back:
            return tuple(self.notes)
        return tuple(sorted(self.notes, key=lambda n: (n.staff, n.voice, n.at)))

    def _opening(self) -> tuple[Time, Key, tuple[Clef, ...]]:
        """Time, key and clefs in force at the left barline, changes printed there included."""
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
            self.cursor.set_divisions(exact(divisions, self.where))
        staves = element.findtext("staves")
        if staves is not None:
            state.staves = min(max(whole(staves, self.where), 1), 8)
        lines = element.findtext("staff-details/staff-lines")
        if lines is not None:
            state.staff_lines = min(max(whole(lines, self.where), 0), 12)
        while len(state.clefs) < state.staves:
            state.clefs.append(Clef("F", 4) if state.staves == 2 else Clef("G", 2))
        at = self.cursor.at
        for each in element.findall("key"):
            if key := key_of(each, self.where):
                state.key = key
                self.changes.append(Change(at, key=key))
        for each in element.findall("time")[:1]:
            if time := time_of(each, self.where):
                state.time = time
                self.changes.append(Change(at, time=time))
        for each in element.findall("clef"):
            number, clef = clef_of(each, self.where)
            if number <= len(state.clefs):
                state.clefs[number - 1] = clef
                self.changes.append(Change(at, clef=clef, staff=number))
        transpose = element.find("transpose")
        if transpose is not None:
            state.transposition = transposition_of(transpose, state.label)
        rests = element.findtext("measure-style/multiple-rest")
        if rests is not None:
            self.multi_rest = whole(rests, self.where)

    def _note(self, body: NoteBody) -> None:
        note = self._named(body) if body.note.drum else body.note
        at, place, length = self.cursor.take(note, body.duration)
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

    def _unread(self, what: str) -> None:
        self.state.unread.setdefault(what, []).append(self.number)

    def _backup(self, element: etree._Element) -> None:
        self.cursor.back(element.findtext("duration"))

    def _forward(self, element: etree._Element) -> None:
        self.cursor.forward(element.findtext("duration"))

    def _direction(self, element: etree._Element) -> None:
        offset = element.findtext("offset")
        at = self.cursor.at
        if offset is not None:
            at = max(at + exact(offset, self.where) / self.state.divisions.count, ZERO)
        above = element.get("placement") != "below"
        staff = small(text_of(element, "staff"), most=8, otherwise=1)

        metronome = None
        for mark in read_marks(element):
            if mark.tempo is not None:
                self._set_tempo(mark.tempo, at)
            if mark.kind == "tempo":
                metronome = mark.tempo
            elif mark.kind == UNREAD:
                self._unread(mark.text)
            else:
                text = mark.text[:200]
                self.directions.append(Direction(at, mark.kind, text, above, staff))
        if metronome:
            self.directions.append(Direction(at, "tempo", "", above, staff, metronome))
        for sound in element.findall("sound"):
            self._sound(sound, printed=metronome is not None, at=at)

    def _set_tempo(self, tempo: Tempo, at: Fraction) -> None:
        """From here on; the measure's own tempo is that of its start."""
        self.state.tempo = tempo
        if at == 0:
            self.tempo = tempo

    def _sound(
        self, element: etree._Element, *, printed: bool = False, at: Fraction | None = None
    ) -> None:
        place = self.cursor.at if at is None else at
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
        """Ignore an element that says nothing to a player."""


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
