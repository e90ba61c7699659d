"""MusicXML into the score model, exactly, one measure at a time."""

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Measure, Part, Score
from crumb.core.score.pitch import Transposition
from crumb.formats.musicxml.container import HEADING, broken, elements, plain_xml
from crumb.formats.musicxml.cutting import NotCuttable, NoteBook, cut
from crumb.formats.musicxml.measure import MeasureReader, PartState
from crumb.formats.musicxml.numbers import text_of

Progress = Callable[[int, int], None]


def read_score(data: bytes, progress: Progress | None = None) -> Score:
    """Every part of a MusicXML file or .mxl container.

    Args:
        data: the file.
        progress: told now and then how many measures were read, and of how many.

    Raises:
        UnreadableFile: says what is wrong and where.
    """
    xml, total = plain_xml(data)
    try:
        return _cut(xml, _Reading(total, progress))
    except NotCuttable:
        return _walked(xml, _Reading(total, progress))


def _cut(xml: bytes, reading: "_Reading") -> Score:
    """The quick way, for files that are written plainly.

    Raises:
        NotCuttable: this file is not.
    """
    found = cut(xml)
    for element in found.head.iter(*HEADING):
        reading.take(element)
    book = NoteBook()
    for cut_part in found.parts:
        part = reading.part(cut_part.id)
        for attributes, content in cut_part.measures():
            reader = part.next_measure(attributes)
            part.measures.append(reader.read(book.children(content, reader.where)))
            reading.count_one()
        reading.part_ends(cut_part.id)
    return reading.score()


def _walked(xml: bytes, reading: "_Reading") -> Score:
    """Any file, element by element."""
    try:
        for element in elements(xml):
            reading.take(element)
    except etree.XMLSyntaxError as error:
        raise broken(error) from error
    return reading.score()


@dataclass
class _PartReading:
    name: str
    instrument: str
    state: PartState
    measures: list[Measure] = field(default_factory=list)

    def next_measure(self, attributes: Mapping[str, str]) -> MeasureReader:
        return MeasureReader(self.state, attributes, len(self.measures))


@dataclass
class _Reading:
    total: int
    progress: Progress | None
    title: str = ""
    movement: str = ""
    credited: str = ""
    composer: str = ""
    names: dict[str, tuple[str, str]] = field(default_factory=dict)
    parts: dict[str, _PartReading] = field(default_factory=dict)
    count: int = 0

    def take(self, element: etree._Element) -> None:
        """One finished element of those that the container hands out."""
        match element.tag:
            case "measure":
                self._measure(element)
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
                self.names[element.get("id") or ""] = (name, instrument or name)
            case "part":
                self.part_ends(element.get("id") or "")

    def _credit(self, element: etree._Element) -> None:
        if not self.credited and text_of(element, "credit-type") == "title":
            words = (word.text or "" for word in element.findall("credit-words"))
            self.credited = " ".join(word.strip() for word in words)

    def part(self, part_id: str) -> _PartReading:
        """The part with this id, as far as it was read."""
        part = self.parts.get(part_id)
        if part is None:
            name, instrument = self.names.get(part_id, ("", ""))
            part = _PartReading(name, instrument, PartState(label=name or part_id))
            self.parts[part_id] = part
        return part

    def _measure(self, element: etree._Element) -> None:
        parent = element.getparent()
        part = self.part((parent.get("id") or "") if parent is not None else "")
        attributes = {str(name): str(value) for name, value in element.attrib.items()}
        part.measures.append(part.next_measure(attributes).read(element))
        self.count_one()

    def count_one(self) -> None:
        """A measure more was read."""
        self.count += 1
        if self.progress and self.count % 100 == 0:
            self.progress(self.count, self.total)

    def part_ends(self, part_id: str) -> None:
        """Its last measure was read.

        Raises:
            UnreadableFile: there was none.
        """
        if part_id not in self.parts or not self.parts[part_id].measures:
            label = self.names.get(part_id, ("", ""))[0] or part_id
            raise UnreadableFile(f"The part {label} has no measure.")

    def score(self) -> Score:
        """What was read.

        Raises:
            UnreadableFile: there is no note in it.
        """
        parts = tuple(
            _made(part_id, part, f"Part {place}")
            for place, (part_id, part) in enumerate(self.parts.items(), 1)
        )
        if not any(part.attack_count for part in parts):
            raise UnreadableFile("There is no note in this file.")
        unread = tuple(
            (part_id, what, _once(numbers))
            for part_id, part in self.parts.items()
            for what, numbers in part.state.unread.items()
        )
        title = self.title or self.movement or self.credited
        return Score(title, self.composer, parts, unread)


def _made(part_id: str, part: _PartReading, unnamed: str) -> Part:
    return Part(
        id=part_id,
        name=part.name or part.instrument or unnamed,
        instrument=part.instrument or part.name,
        measures=tuple(part.measures),
        transposition=part.state.transposition or Transposition(),
        staves=part.state.staves,
        staff_lines=part.state.staff_lines,
    )


def _once(numbers: Iterable[str]) -> tuple[str, ...]:
    return tuple(dict.fromkeys(numbers))
