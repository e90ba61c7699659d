"""Slurs and ties, which no cut may break."""

from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

from crumb.core.score.model import Part
from crumb.core.score.position import Position, is_held


@dataclass(frozen=True, slots=True)
class Unbroken:
    """A part, and for each of its slurs where it starts and ends in quarter notes."""

    part: Part
    slurs: tuple[tuple[Fraction, Fraction], ...]

    def may_cut(self, at: Position) -> bool:
        """Whether a chunk may begin at a place."""
        here = self.part.starts[at.index] + at.at
        if any(start < here <= end for start, end in self.slurs):
            return False
        return not is_held(self.part, at)


def unbroken(part: Part) -> Unbroken:
    """Slurs and ties of a part that must stay whole. A slur that never ends is none."""
    return Unbroken(part, tuple(_slurs(part)))


def _slurs(part: Part) -> Iterator[tuple[Fraction, Fraction]]:
    open_at: dict[tuple[int, int, str], Fraction] = {}
    for measure, note in part.each_note():
        for slur in sorted(note.slurs, key=lambda s: s.end == "start"):
            here = part.starts[measure.index] + note.at
            name = (slur.number, note.staff, note.voice)
            if slur.end == "start":
                open_at[name] = here
            elif name in open_at:
                yield open_at.pop(name), here
