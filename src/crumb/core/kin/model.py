"""What kin is: two stretches of measures and how they are alike."""

from dataclasses import dataclass
from fractions import Fraction

from crumb.core.score.pitch import Pitch

RELATIONS = ("identical", "transposed", "augmented", "near", "same-rhythm")


@dataclass(frozen=True, slots=True)
class Stretch:
    """Whole measures of a part: its place in the score, first and last index, both included."""

    part: int
    first: int
    last: int

    def __len__(self) -> int:
        """How many measures."""
        return self.last - self.first + 1


@dataclass(frozen=True, slots=True)
class Difference:
    """A note that differs: which attack of the first stretch, its name there and in the second.

    Names are written pitches; ``None`` where one of them has no such note.
    """

    index: int
    a: str | None
    b: str | None


@dataclass(frozen=True, slots=True)
class Kin:
    """``b`` is like ``a``. ``interval``: half steps from what a sounds to what b sounds.

    ``scale`` is how many times as long b's notes are (augmented or diminished only).
    """

    a: Stretch
    b: Stretch
    relation: str
    interval: int = 0
    scale: Fraction = Fraction(1)
    differs: tuple[Difference, ...] = ()


@dataclass(frozen=True, slots=True)
class Attack:
    """A note as kin is judged by: offset from the stretch's start, length, sounding MIDI number.

    Times are whole ticks, as many to a quarter note as every time of the score divides into. A
    chord's notes come one after another, the lowest first.
    """

    at: int
    length: int
    midi: int
    pitch: Pitch | None
