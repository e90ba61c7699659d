"""A score while it is read: its staves, what is in force, and the measures so far."""

from dataclasses import replace

from lxml import etree

from crumb.core.errors import UnreadableFile
from crumb.core.score.model import Measure, Tempo
from crumb.core.score.pitch import Transposition
from crumb.formats.mei.controls import Controls
from crumb.formats.mei.definitions import Staff, staves_of, tempo_of
from crumb.formats.mei.tree import first
from crumb.formats.musicxml.bounds import MOST_PARTS


class ScoreState:
    """The state that one measure leaves for the next ones."""

    def __init__(self, score: etree._Element) -> None:
        """The start of a <score>, as its <scoreDef> says.

        Raises:
            UnreadableFile: it names no staff, or too many parts.
        """
        definition = first(score, "scoreDef")
        if definition is None:
            raise UnreadableFile("This MEI file names no staff.")
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

    def not_kept(self, part: str, what: str, number: str) -> None:
        """Write down what the model has no place for, with its measure."""
        self.unread.setdefault(part, {}).setdefault(what, []).append(number)

    def transposition_of(self, part: str, staff: Staff) -> Transposition | None:
        """The transposition from here on, if it is not that of the first measure."""
        first_of = next(s for s in self.start.values() if s.part == part)
        same = staff.transposition == first_of.transposition
        return None if same else staff.transposition
