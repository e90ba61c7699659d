"""MusicXML into the score model, exactly, one measure at a time.

A file is opened first: title and parts. Each part is then read by itself, so that the parts of a
large score can be read side by side.
"""

import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.common_marks import Marks, marks_of, with_marks
from crumb.core.score.half_measures import with_halves
from crumb.core.score.model import Measure, Part, Score
from crumb.core.score.pitch import Transposition
from crumb.formats.musicxml.bounds import MOST_PART_MEASURES, MOST_PARTS
from crumb.formats.musicxml.container import HEADING, broken, elements, plain_xml
from crumb.formats.musicxml.cutting import CutPart, NotCuttable, cut
from crumb.formats.musicxml.measure import MeasureReader, PartState
from crumb.formats.musicxml.numbers import text_of


@dataclass(frozen=True, slots=True)
class PartRead:
    """A part, and what the file holds of it and the model does not, with measure numbers."""

    part: Part
    unread: tuple[tuple[str, tuple[str, ...]], ...] = ()

    def read(self) -> "PartRead":
        """It is read already."""
        return self

    def marked(self, marks: Marks) -> "PartRead":
        """It with what another part says for all."""
        return PartRead(with_marks(self.part, marks), self.unread) if marks else self


@dataclass(frozen=True, slots=True)
class PartText:
    """A part that was found and not read yet; it can be read in another process."""

    cut: CutPart
    name: str
    instrument: str
    drums: Mapping[str, str]
    place: int
    marks: Marks = field(default_factory=Marks)
    """What another part says for all."""

    @property
    def size(self) -> int:
        """Bytes of notation."""
        return len(self.cut.text)

    def read(self) -> PartRead:
        """The part.

        Raises:
            UnreadableFile: says what is wrong and where.
            NotCuttable: it must be read with its whole file.
        """
        reading = _PartReading(
            self.name, self.instrument, PartState(self.name or self.cut.id, drums=self.drums)
        )
        for attributes, content in self.cut.measures():
            reading.measures.append(reading.next_measure(attributes).read_text(content))
            reading.check_length()
        return reading.done(self.cut.id, self.place).marked(self.marks)

    def said_at(self) -> set[int]:
        """In which measures something is said that may hold for every part."""
        measures = self.cut.text.split(b"</measure>")
        return {
            index
            for index, text in enumerate(measures)
            if (b"<direction" in text or b"<sound" in text) and _FOR_ALL.search(text)
        }


@dataclass(frozen=True, slots=True)
class Opened:
    """A score's title and parts, read or still to be read."""

    title: str
    composer: str
    parts: tuple[PartText | PartRead, ...]


def open_score(data: bytes, *, plainly: bool = True) -> Opened:
    """A MusicXML file or .mxl container.

    Args:
        data: the file.
        plainly: cut it at its parts, which are read later, if it is written plainly enough; else
            everything is read at once, by the tree parser.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    xml = plain_xml(data)
    if plainly:
        try:
            return _bounded(_cut(xml))
        except NotCuttable:
            pass
    return _bounded(_walked(xml))


def _bounded(opened: Opened) -> Opened:
    if len(opened.parts) > MOST_PARTS:
        raise UnreadableFile(f"This score has more than {MOST_PARTS} parts.")
    return opened


def read_score(data: bytes) -> Score:
    """Every part of a MusicXML file or .mxl container.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    return score_of(*_read_all(data))


def _read_all(data: bytes) -> tuple[Opened, list[PartRead]]:
    try:
        opened = open_score(data)
        return opened, [part.read() for part in opened.parts]
    except NotCuttable:
        opened = open_score(data, plainly=False)
        return opened, [part.read() for part in opened.parts]


def read_part(data: bytes) -> Part:
    """The one part of a file of our own writing; it may be measures alone.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    return _read_all(data)[1][0].part


def score_of(opened: Opened, reads: Sequence[PartRead]) -> Score:
    """A score of its parts.

    Raises:
        UnreadableFile: there is no note in it.
    """
    if not any(read.part.has_notes for read in reads):
        raise UnreadableFile("There is no note in this file.")
    unread = tuple((read.part.id, what, where) for read in reads for what, where in read.unread)
    return Score(opened.title, opened.composer, tuple(read.part for read in reads), unread)


def _cut(xml: bytes) -> Opened:
    """The quick way.

    Raises:
        NotCuttable: the file is not written plainly.
    """
    found = cut(xml)
    heading = _Heading()
    for element in found.head.iter(*HEADING):
        heading.take(element)
    if len({part.id for part in found.parts}) < len(found.parts):
        raise NotCuttable
    parts = tuple(
        PartText(part, *heading.of(part.id), place) for place, part in enumerate(found.parts, 1)
    )
    return Opened(heading.best_title, heading.composer, _for_all(parts))


_FOR_ALL = re.compile(
    rb"<(?:rehearsal|metronome|segno|coda)\b|\b(?:tempo|dacapo|dalsegno|tocoda|fine)="
    rb"|(?i:d\.? ?[sc]\.|da capo|dal segno|>\s*fine\b|\bcoda\b|= ?(?:ca?\.? ?)?[0-9]{2,3}\b)"
)
"""What may be a mark for all; finding it is many times quicker than reading."""


def _for_all(parts: tuple[PartText, ...]) -> tuple[PartText, ...]:
    """Parts with the marks of those among them that say any, the upper ones first.

    Raises:
        NotCuttable, UnreadableFile: a part that says some cannot be read.
    """
    if len(parts) < 2:
        return parts
    known: set[int] = set()
    sources = []
    for part in parts:
        said = part.said_at()
        if not said <= known:
            sources.append(part.read().part)
            known |= said
    marks = marks_of(sources)
    return tuple(replace(part, marks=marks) for part in parts) if marks else parts


def _walked(xml: bytes) -> Opened:
    """Any file, element by element."""
    heading = _Heading()
    parts: dict[str, _PartReading] = {}
    try:
        for element in elements(xml):
            if element.tag == "measure":
                parent = element.getparent()
                part_id = (parent.get("id") or "") if parent is not None else ""
                if part_id not in parts:
                    name, instrument, drums = heading.of(part_id)
                    state = PartState(name or part_id, drums=drums)
                    parts[part_id] = _PartReading(name, instrument, state)
                parts[part_id].take(element)
            elif element.tag == "part":
                part_id = element.get("id") or ""
                if part_id not in parts:
                    raise _empty(heading.of(part_id)[0] or part_id)
            else:
                heading.take(element)
    except etree.XMLSyntaxError as error:
        raise broken(error) from error
    reads = [part.done(part_id, place) for place, (part_id, part) in enumerate(parts.items(), 1)]
    marks = marks_of(read.part for read in reads) if len(reads) > 1 else Marks()
    marked = tuple(read.marked(marks) for read in reads)
    return Opened(heading.best_title, heading.composer, marked)


def _empty(label: str) -> UnreadableFile:
    return UnreadableFile(f"The part {label} has no measure.")


@dataclass
class _PartReading:
    """A part as far as it was read."""

    name: str
    instrument: str
    state: PartState
    measures: list[Measure] = field(default_factory=list)

    def next_measure(self, attributes: Mapping[str, str]) -> MeasureReader:
        return MeasureReader(self.state, attributes, len(self.measures))

    def take(self, element: etree._Element) -> None:
        """One finished <measure>."""
        attributes = {str(name): str(value) for name, value in element.attrib.items()}
        self.measures.append(self.next_measure(attributes).read(element))
        self.check_length()

    def check_length(self) -> None:
        """Refuse a part that nobody could open as one.

        Raises:
            UnreadableFile: it is too long.
        """
        if len(self.measures) > MOST_PART_MEASURES:
            raise UnreadableFile(
                f"{self.state.label} has more than {MOST_PART_MEASURES} measures; bring it in in"
                " pieces."
            )

    def done(self, part_id: str, place: int) -> PartRead:
        if not self.measures:
            raise _empty(self.state.label)
        part = Part(
            id=part_id,
            name=self.name or self.instrument or f"Part {place}",
            instrument=self.instrument or self.name,
            measures=with_accidentals(with_halves(self.measures), keep=True),
            transposition=self.state.first_transposition or Transposition(),
            staves=self.state.staves,
            staff_lines=self.state.staff_lines,
        )
        unread = ((what, _once(numbers)) for what, numbers in self.state.unread.items())
        return PartRead(part, tuple(unread))


@dataclass
class _Heading:
    """What is said before the music."""

    title: str = ""
    movement: str = ""
    credited: str = ""
    composer: str = ""
    parts: dict[str, tuple[str, str, Mapping[str, str]]] = field(default_factory=dict)

    @property
    def best_title(self) -> str:
        return self.title or self.movement or self.credited

    def of(self, part_id: str) -> tuple[str, str, Mapping[str, str]]:
        """Name and instrument of a part, and the names of its instruments by their ids."""
        return self.parts.get(part_id, ("", "", {}))

    def take(self, element: etree._Element) -> None:
        """One finished element of those before the music."""
        match element.tag:
            case "work":
                self.title = text_of(element, "work-title")
            case "movement-title":
                self.movement = (element.text or "").strip()
            case "creator":
                if element.get("type") == "composer" and not self.composer:
                    self.composer = (element.text or "").strip()
            case "credit":
                self._credit(element)
            case "score-part":
                name = text_of(element, "part-name")
                instrument = text_of(element, "score-instrument/instrument-name")
                drums = {
                    one.get("id") or "": text_of(one, "instrument-name")
                    for one in element.findall("score-instrument")
                }
                self.parts[element.get("id") or ""] = (name, instrument or name, drums)

    def _credit(self, element: etree._Element) -> None:
        if not self.credited and text_of(element, "credit-type") == "title":
            words = (word.text or "" for word in element.findall("credit-words"))
            self.credited = " ".join(word.strip() for word in words)


def _once(numbers: Iterable[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(numbers))
