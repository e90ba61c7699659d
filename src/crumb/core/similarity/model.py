"""The model of similarity: two stretches of measures and their relation."""

from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from itertools import chain, islice
from typing import Any, NamedTuple


class Relation(StrEnum):
    """How two stretches are alike, the closest first."""

    IDENTICAL = "identical"
    TRANSPOSED = "transposed"
    SEQUENCE = "sequence"
    AUGMENTED = "augmented"
    SHIFTED = "shifted"
    NEAR = "near"
    SAME_RHYTHM = "same-rhythm"


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

    ``steps`` are the letters that a sequence goes up or down inside the key. ``scale`` is how many
    times as long b's notes are (augmented or diminished). ``later`` is by how many quarter notes a
    figure comes later in its measure (shifted), less than zero: earlier.
    """

    a: Stretch
    b: Stretch
    relation: Relation
    interval: int = 0
    scale: Fraction = Fraction(1)
    differs: tuple[Difference, ...] = ()
    steps: int = 0
    later: Fraction = Fraction(0)


class Attack(NamedTuple):
    """A note as kin is judged by: offset in its measure, length, sounding MIDI key, written name.

    Times are whole ticks. A chord's notes come one after another, the lowest first.
    """

    at: int
    length: int
    midi: int
    name: str


@dataclass(frozen=True, slots=True)
class Sketch:
    """All that kin needs of a part: for each measure its length and attacks, in ticks."""

    per_quarter: int
    lengths: tuple[int, ...]
    attacks: tuple[tuple[Attack, ...], ...]

    def __reduce__(self) -> tuple[object, ...]:
        """Column by column: attack by attack would take as long as finding them."""
        columns = tuple(zip(*chain.from_iterable(self.attacks), strict=True))
        counts = tuple(map(len, self.attacks))
        return _sketch_of, (self.per_quarter, self.lengths, counts, columns)

    def scaled(self, per_quarter: int) -> "Sketch":
        """The same in finer ticks; ``per_quarter`` is a multiple of the present one."""
        times = per_quarter // self.per_quarter
        if times == 1:
            return self
        return Sketch(
            per_quarter,
            tuple(length * times for length in self.lengths),
            tuple(
                tuple(Attack(a.at * times, a.length * times, a.midi, a.name) for a in attacks)
                for attacks in self.attacks
            ),
        )


def _sketch_of(
    per_quarter: int, lengths: tuple[int, ...], counts: tuple[int, ...], columns: tuple[Any, ...]
) -> Sketch:
    attacks = map(Attack._make, zip(*columns, strict=True))
    return Sketch(per_quarter, lengths, tuple(tuple(islice(attacks, n)) for n in counts))
