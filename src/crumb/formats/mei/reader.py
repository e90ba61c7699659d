"""MEI (common music notation) into the score model: the first piece of a file.

After the guidelines of MEI 5.0 (from memory of them), and held against files that the engraver
writes of music that we read from MusicXML. What is not read is refused, or said, in words.
"""

from dataclasses import dataclass, field, replace
from fractions import Fraction

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.common_marks import marks_of, with_marks
from crumb.core.score.half_measures import with_halves
from crumb.core.score.meter import beams_of
from crumb.core.score.model import (
    ZERO,
    Barline,
    Direction,
    Measure,
    Note,
    Part,
    Score,
    Tempo,
)
from crumb.core.score.notating import beam
from crumb.core.score.pitch import Transposition
from crumb.formats.mei.controls import Controls
from crumb.formats.mei.definitions import (
    Staff,
    said_by,
    staves_of,
    tempo_of,
)
from crumb.formats.mei.events import Layer
from crumb.formats.mei.tree import children, count_of, first, named, root_of, tag_of, words
from crumb.formats.musicxml.bounds import MOST_IN_MEASURE, MOST_PART_MEASURES, MOST_PARTS

_STRANGE = ("mensur", "tabGrp", "neume", "proport", "syllable")
_MOST_MEASURES = 100_000
"""Of all parts together."""
_BARS = {
    "dbl": "light-light",
    "end": "light-heavy",
    "heavy": "heavy",
    "invis": "none",
    "dashed": "dashed",
}


def read_mei(data: bytes) -> tuple[Score, int]:
    """The first piece of an MEI file, and how many there are.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    root = root_of(data)
    pieces = [e for e in root.iter() if isinstance(e.tag, str) and tag_of(e) == "mdiv"]
    pieces = [e for e in pieces if first(e, "score") is not None]
    if not pieces:
        raise UnreadableFile("There is no score in this MEI file that can be read as music.")
    score = first(pieces[0], "score")
    assert score is not None
    return _Reader(score).score(*_heading(root)), len(pieces)


def _heading(root: etree._Element) -> tuple[str, str]:
    title = first(root, "meiHead", "fileDesc", "titleStmt", "title")
    names = [
        words(one)
        for one in root.iter()
        if isinstance(one.tag, str)
        and (
            tag_of(one) == "composer"
            or (tag_of(one) == "persName" and one.get("role") == "composer")
        )
    ]
    return words(title) if title is not None else "", names[0] if names else ""


@dataclass(slots=True, eq=False)
class _Bar:
    """One measure of one staff before its length is known."""

    staff: Staff
    layers: list[Layer]
    directions: list[Direction] = field(default_factory=list)
    stops: list[Direction] = field(default_factory=list)

    @property
    def length(self) -> Fraction:
        return max((layer.at for layer in self.layers if not layer.fills), default=ZERO)


class _Reader:
    def __init__(self, score: etree._Element) -> None:
        definition = first(score, "scoreDef")
        if definition is None:
            raise UnreadableFile("This MEI file names no staff.")
        self.score_element = score
        self.staves = staves_of(definition)
        if len({s.part for s in self.staves}) > MOST_PARTS:
            raise UnreadableFile(f"This score has more than {MOST_PARTS} parts.")
        self.by_n = {staff.n: staff for staff in self.staves}
        self.start = {staff.n: replace(staff) for staff in self.staves}
        self.tempo: Tempo | None = tempo_of(definition, "The start")
        self.at_start: Tempo | None = None
        """The tempo that the first beat of this measure says."""
        self.measures: dict[str, list[Measure]] = {s.part: [] for s in self.staves}
        self.controls = Controls()
        self.unread: dict[str, dict[str, list[str]]] = {}
        self.new_system = self.new_page = False
        self.repeats = False
        """Whether the measure before said that a repeat starts here."""
        self.count = 0

    def score(self, title: str, composer: str) -> Score:
        for element in self.score_element.iter():
            tag = tag_of(element)
            if tag in ("slur", "tie"):
                self.controls.gather(element)
            elif tag == "tupletSpan":
                raise UnreadableFile("Tuplets by a span over notes are not read in MEI.")
            elif tag in _STRANGE:
                raise UnreadableFile(f"This MEI file holds {tag}, which is no common notation.")
        self._section(self.score_element)
        parts = [self._part(name) for name in dict.fromkeys(s.part for s in self.staves)]
        marks = marks_of(parts)
        parts = [with_marks(part, marks) for part in parts]
        unread = tuple(
            (part, what, tuple(dict.fromkeys(where)))
            for part, found in self.unread.items()
            for what, where in found.items()
        )
        if not any(part.has_notes for part in parts):
            raise UnreadableFile("There is no note in this file.")
        return Score(title, composer, tuple(parts), unread)

    def _section(self, element: etree._Element) -> None:
        for child in children(element):
            match tag_of(child):
                case "measure":
                    self._measure(child)
                case "section" | "score" | "part" | "parts":
                    self._section(child)
                case "ending":
                    self._ending(child)
                case "scoreDef":
                    self._score_def(child)
                case "staffDef":
                    self._staff_def(child, child.get("n") or "")
                case "sb":
                    self.new_system = True
                case "pb":
                    self.new_system = self.new_page = True
                case _:
                    pass

    def _ending(self, element: etree._Element) -> None:
        number = (element.get("n") or element.get("label") or "1").strip(". ")[:20]
        begin = self.count
        self._section(element)
        if self.count > begin:
            for measures in self.measures.values():
                opened = measures[begin]
                start = Barline("left", ending=number, ending_type="start")
                measures[begin] = replace(opened, barlines=(start, *opened.barlines))
                closed = measures[-1]
                stop = Barline("right", ending=number, ending_type="stop")
                rights = [b for b in closed.barlines if b.side == "right"]
                if rights:
                    stop = replace(rights[0], ending=number, ending_type="stop")
                others = tuple(b for b in closed.barlines if b.side != "right")
                measures[-1] = replace(closed, barlines=(*others, stop))

    def _score_def(self, element: etree._Element) -> None:
        where = f"After measure {self.count}" if self.count else "The start"
        tempo = tempo_of(element, where)
        self.tempo = tempo or self.tempo
        said = said_by(element, where)
        for staff in self.staves:
            said.set(staff)
        for one in element.iter():
            if isinstance(one.tag, str) and tag_of(one) == "staffDef":
                self._staff_def(one, one.get("n") or "")

    def _staff_def(self, element: etree._Element, n: str) -> None:
        staff = self.by_n.get(n)
        if staff is not None:
            said_by(element, f"Staff {n}").set(staff)

    def _measure(self, element: etree._Element) -> None:
        number = (element.get("n") or str(self.count + 1)).strip()[:12]
        begun = self.tempo
        bars = self._bars(element, number)
        rests = max(
            (self._rests(bar_element) for bar_element in named(element, "staff")), default=1
        )
        self._marks(element, bars, number)
        length = max((bar.length for bar in bars.values()), default=ZERO)
        begun = self.at_start or begun
        for part in self.measures:
            mine = [bar for bar in bars.values() if bar.staff.part == part]
            self._close(part, mine, number, length, element, begun)
        self.count += 1
        self.new_system = self.new_page = False
        self.repeats = element.get("right") in ("rptstart", "rptboth")
        self._check_length(rests - 1)
        for more in range(1, rests):
            self._more_rest(number, more)

    def _check_length(self, more: int) -> None:
        """Refuse what nobody could open, before it is made.

        Raises:
            UnreadableFile: it is too long.
        """
        count = self.count + more
        if count > MOST_PART_MEASURES or count * len(self.measures) > _MOST_MEASURES:
            raise UnreadableFile("This MEI file has far more measures than any score.")

    def _rests(self, staff: etree._Element) -> int:
        """How many measures one that rests stands for."""
        layer = first(staff, "layer")
        rest = None if layer is None else first(layer, "multiRest")
        return max(count_of(rest.get("num"), most=500), 1) if rest is not None else 1

    def _more_rest(self, number: str, more: int) -> None:
        called = str(int(number) + more) if number.isdecimal() else f"{number}+{more}"
        for measures in self.measures.values():
            before = measures[-1]
            rest = replace(
                before.notes[0],
                id=f"r{self.count}-0_1-0",
            )
            measures.append(
                replace(
                    before,
                    index=self.count,
                    number=called,
                    notes=(rest,),
                    directions=(),
                    changes=(),
                    barlines=(),
                    new_system=False,
                    new_page=False,
                )
            )
        self.count += 1

    def _bars(self, element: etree._Element, number: str) -> dict[str, _Bar]:
        found: dict[str, _Bar] = {}
        for child in named(element, "staff"):
            staff = self.by_n.get(child.get("n") or "1")
            if staff is None:
                raise UnreadableFile(f"Measure {number}: staff {child.get('n')} is not defined.")
            begun = replace(staff)
            bar = _Bar(begun, [])
            for place, one in enumerate(named(child, "layer")):
                voice = str(4 * (staff.place - 1) + place + 1)
                layer = Layer(
                    f"{staff.name}, measure {number}",
                    voice,
                    staff.place,
                    staff.key,
                    staff.clef,
                    self.count,
                    "" if place == 0 and staff.place == 1 else f"{voice}.",
                )
                self._layer(layer, one, staff)
                bar.layers.append(layer)
                for what in layer.unread:
                    self._unread(staff.part, what, number)
            found[staff.n] = bar
        return found

    def _layer(self, layer: Layer, element: etree._Element, staff: Staff) -> None:
        layer.read(element)
        staff.clef = layer.clef
        chords = {place: name for name, place in layer.places.items() if name not in layer.ids}
        layer.notes = [
            self.controls.joined(self.controls.joined(note, name), chords.get(place, ""))
            for place, (note, name) in enumerate(zip(layer.notes, layer.ids, strict=True))
        ]

    def _marks(self, element: etree._Element, bars: dict[str, _Bar], number: str) -> None:
        self.at_start = None
        if len(element) > MOST_IN_MEASURE:
            raise UnreadableFile(f"Measure {number} holds more than a measure of music does.")
        for child in children(element):
            if tag_of(child) in ("staff", "sb", "pb"):
                continue
            n = (child.get("staff") or self._staff_of(child, bars) or self.staves[0].n).split()[0]
            bar = bars.get(n) or next(iter(bars.values()), None)
            if bar is None:
                continue
            unit = Fraction(4, bar.staff.time.unit)
            layers = bar.layers if bar.layers else []
            others = [layer for b in bars.values() for layer in b.layers if layer not in layers]
            direction, tempo, unread = self.controls.mark(
                child, [*layers, *others], self.count, unit, f"Measure {number}"
            )
            if direction is not None:
                bar.directions.append(replace(direction, staff=bar.staff.place))
            if tempo is not None:
                self.tempo = tempo
                if direction is not None and direction.at == 0:
                    self.at_start = tempo
            if unread:
                self._unread(bar.staff.part, unread, number)
        for _, n, stop in self.controls.stops.pop(self.count, []):
            bar = bars.get(n)
            if bar is not None:
                bar.directions.append(replace(stop, staff=bar.staff.place))

    def _staff_of(self, element: etree._Element, bars: dict[str, _Bar]) -> str:
        start = (element.get("startid") or "").strip().removeprefix("#")
        return next(
            (n for n, bar in bars.items() if any(start in one.offsets for one in bar.layers)), ""
        )

    def _unread(self, part: str, what: str, number: str) -> None:
        self.unread.setdefault(part, {}).setdefault(what, []).append(number)

    def _close(
        self,
        part: str,
        bars: list[_Bar],
        number: str,
        length: Fraction,
        element: etree._Element,
        tempo: Tempo | None,
    ) -> None:
        staves = [s for s in self.staves if s.part == part]
        begun = [next((b.staff for b in bars if b.staff.n == s.n), s) for s in staves]
        time, key = begun[0].time, begun[0].key
        length = length or time.length
        notes: list[Note] = []
        for layer in (one for bar in bars for one in bar.layers):
            notes.extend(_filled(layer, length))
        if not notes:
            notes = [_whole_rest("1", 1, self.count, "", length)]
        notes.sort(key=lambda n: (n.staff, n.voice, n.at))
        before = self.measures[part][-1] if self.measures[part] else None
        lead = max(time.length - length, ZERO) if self.count == 0 else ZERO
        directions = sorted((d for bar in bars for d in bar.directions), key=lambda d: d.at)
        self.measures[part].append(
            Measure(
                index=self.count,
                number=number,
                length=length,
                time=time,
                key=key,
                clefs=tuple(s.clef for s in begun),
                tempo=tempo,
                implicit=element.get("n") is None or (self.count == 0 and length < time.length),
                notes=beam(tuple(notes), beams_of(time), lead),
                directions=tuple(replace(d, at=min(d.at, length)) for d in directions),
                changes=tuple(c for b in bars for one in b.layers for c in one.changes if c.at > 0),
                barlines=tuple(_barlines(element, repeats=self.repeats)),
                new_system=self.new_system and before is not None,
                new_page=self.new_page and before is not None,
                transposition=self._moved(part, begun[0]),
            )
        )

    def _moved(self, part: str, staff: Staff) -> Transposition | None:
        first_of = next(s for s in self.start.values() if s.part == part)
        same = staff.transposition == first_of.transposition
        return None if same else staff.transposition

    def _part(self, name: str) -> Part:
        staves = [s for s in self.start.values() if s.part == name]
        measures = with_accidentals(with_halves(self.measures[name]), keep=True)
        if not measures:
            raise UnreadableFile(f"The part {staves[0].name} has no measure.")
        return Part(
            id=name,
            name=staves[0].name,
            measures=measures,
            instrument=staves[0].name,
            transposition=staves[0].transposition,
            staves=len(staves),
            staff_lines=staves[0].lines,
        )


def _filled(layer: Layer, length: Fraction) -> list[Note]:
    if layer.notes or not layer.fills:
        return layer.notes
    return [_whole_rest(layer.voice, layer.staff, layer.index, layer.prefix, length)]


def _whole_rest(voice: str, staff: int, index: int, prefix: str, length: Fraction) -> Note:
    return Note(
        id=f"r{index}-0_1-{prefix}0",
        at=ZERO,
        duration=length,
        is_rest=True,
        voice=voice,
        staff=staff,
    )


def _barlines(element: etree._Element, *, repeats: bool) -> list[Barline]:
    """The barlines of a measure; ``repeats``: the one before said that a repeat starts here."""
    found = []
    if repeats or element.get("left") in ("rptstart", "rptboth"):
        found.append(Barline("left", "heavy-light", "forward"))
    form = element.get("right") or ""
    if form in ("rptend", "rptboth"):
        found.append(Barline("right", "light-heavy", "backward"))
    elif form in _BARS:
        found.append(Barline("right", _BARS[form]))
    return found
