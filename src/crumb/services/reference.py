"""The reference sound of a whole part: what is heard from the first note to the last."""

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache

from crumb.core.score.model import ZERO, Part
from crumb.core.score.playing import playing_order
from crumb.core.score.position import Sound, sounds
from crumb.services.music import PartInHand
from crumb.services.surveying import instrument_of


@dataclass(frozen=True, slots=True)
class Reference:
    """Sounds in playing order, onsets in quarter notes from the start."""

    sounds: tuple[Sound, ...]
    quarters: Fraction
    family: str


def reference(hand: PartInHand) -> Reference:
    """The part with its repeats and jumps played out."""
    return _of_row(_Row(str(hand.row.id), hand.part))


class _Row(tuple[str, Part]):
    """A stored part: equal for the same row, whose music never changes."""

    def __new__(cls, key: str, part: Part) -> "_Row":
        return super().__new__(cls, (key, part))

    def __hash__(self) -> int:
        return hash(self[0])

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Row) and self[0] == other[0]


@lru_cache(maxsize=64)
def _of_row(row: _Row) -> Reference:
    part = row[1]
    by_measure: dict[int, list[Sound]] = {}
    starts = part.starts
    measure = 0
    for sound in sounds(part):
        while measure + 1 < len(part.measures) and starts[measure + 1] <= sound.at:
            measure += 1
        by_measure.setdefault(measure, []).append(sound)
    heard: list[Sound] = []
    at = ZERO
    for index in playing_order(part):
        shift = at - starts[index]
        heard += [replace(s, at=s.at + shift) for s in by_measure.get(index, ())]
        at += part.measures[index].length
    return Reference(tuple(heard), at, instrument_of(part).family)
