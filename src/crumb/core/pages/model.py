"""A page as it was read: words, and measures with the place of each. Lengths are whole pixels."""

from dataclasses import dataclass, replace


@dataclass(frozen=True, slots=True)
class Area:
    """A rectangle of a page's picture; ``right`` and ``bottom`` lie outside."""

    left: int
    top: int
    right: int
    bottom: int

    @property
    def width(self) -> int:
        """From side to side."""
        return self.right - self.left

    @property
    def height(self) -> int:
        """From top to bottom."""
        return self.bottom - self.top


@dataclass(frozen=True, slots=True)
class Word:
    """A printed word and its place."""

    text: str
    area: Area


@dataclass(frozen=True, slots=True)
class PageMeasure:
    """A measure as it is printed, and what was read or said of it.

    ``area`` is as high as its system is; ``first_line`` and ``last_line`` are the heights of its
    outer staff lines.
    """

    area: Area
    first_line: int
    last_line: int
    system: int
    stands_for: int = 1
    """How many measures: more than one in a rest of several."""
    number: int | None = None
    """The number printed over it, or the one that a person said it has."""
    letter: str = ""
    time: str = ""
    """The meter that begins here, such as ``3/4``."""
    quarters: str = ""
    """Quarter notes that it holds, where they are not what its meter says: ``1``, ``3/2``."""
    opens_repeat: bool = False
    closes_repeat: bool = False
    ending: str = ""
    """The numbers of the ending that begins here: ``1``, ``1, 2``."""
    closes: bool = False
    """Whether a double or final barline follows."""

    def between(self, left: int, right: int) -> "PageMeasure":
        """The same measure from one column to another."""
        return replace(self, area=replace(self.area, left=left, right=right))


@dataclass(frozen=True, slots=True)
class PageRead:
    """A page as it was read: its picture's size, its measures in order, its words."""

    width: int
    height: int
    measures: tuple[PageMeasure, ...]
    words: tuple[Word, ...]
