"""MEI (common music notation) into the score model: the first piece of a file.

After the guidelines of MEI 5.0 (from memory of them), and held against files that the engraver
writes of music that we read from MusicXML. What is not read is refused, or said, in words.
"""

from dataclasses import replace

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.accidentals import with_accidentals
from crumb.core.score.common_marks import marks_of, with_marks
from crumb.core.score.half_measures import with_halves
from crumb.core.score.model import Barline, Part, Score
from crumb.formats.mei.definitions import said_by, tempo_of
from crumb.formats.mei.measures import read_measure
from crumb.formats.mei.state import ScoreState
from crumb.formats.mei.tree import children, first, root_of, tag_of, words

_STRANGE = ("mensur", "tabGrp", "neume", "proport", "syllable")


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


class _Reader:
    def __init__(self, score: etree._Element) -> None:
        self.element = score
        self.state = ScoreState(score)

    def score(self, title: str, composer: str) -> Score:
        for element in self.element.iter():
            tag = tag_of(element)
            if tag in ("slur", "tie"):
                self.state.controls.gather(element)
            elif tag == "tupletSpan":
                raise UnreadableFile("Tuplets by a span over notes are not read in MEI.")
            elif tag in _STRANGE:
                raise UnreadableFile(f"This MEI file holds {tag}, which is no common notation.")
        self._section(self.element)
        parts = [self._part(name) for name in dict.fromkeys(s.part for s in self.state.staves)]
        marks = marks_of(parts)
        parts = [with_marks(part, marks) for part in parts]
        unread = tuple(
            (part, what, tuple(dict.fromkeys(where)))
            for part, found in self.state.unread.items()
            for what, where in found.items()
        )
        if not any(part.has_notes for part in parts):
            raise UnreadableFile("There is no note in this file.")
        return Score(title, composer, tuple(parts), unread)

    def _section(self, element: etree._Element) -> None:
        for child in children(element):
            match tag_of(child):
                case "measure":
                    read_measure(self.state, child)
                case "section" | "score" | "part" | "parts":
                    self._section(child)
                case "ending":
                    self._ending(child)
                case "scoreDef":
                    self._score_def(child)
                case "staffDef":
                    self._staff_def(child, child.get("n") or "")
                case "sb":
                    self.state.new_system = True
                case "pb":
                    self.state.new_system = self.state.new_page = True
                case _:
                    pass

    def _ending(self, element: etree._Element) -> None:
        number = (element.get("n") or element.get("label") or "1").strip(". ")[:20]
        begin = self.state.count
        self._section(element)
        if self.state.count > begin:
            for measures in self.state.measures.values():
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
        where = f"After measure {self.state.count}" if self.state.count else "The start"
        tempo = tempo_of(element, where)
        self.state.tempo = tempo or self.state.tempo
        said = said_by(element, where)
        for staff in self.state.staves:
            said.set(staff)
        for one in element.iter():
            if isinstance(one.tag, str) and tag_of(one) == "staffDef":
                self._staff_def(one, one.get("n") or "")

    def _staff_def(self, element: etree._Element, n: str) -> None:
        staff = self.state.by_n.get(n)
        if staff is not None:
            said_by(element, f"Staff {n}").set(staff)

    def _part(self, name: str) -> Part:
        staves = [s for s in self.state.start.values() if s.part == name]
        measures = with_accidentals(with_halves(self.state.measures[name]), keep=True)
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
