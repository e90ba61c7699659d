"""The reference sound of a whole part: what is heard from the first note to the last."""

from dataclasses import dataclass, replace
from fractions import Fraction

from crumb.core.score.model import ZERO
from crumb.core.score.playing import playing_order
from crumb.core.score.position import Sound, sounds
from crumb.services.library.pieces import PartInHand


@dataclass(frozen=True, slots=True)
class Reference:
    """Sounds in playing order, onsets in quarter notes from the start."""

    sounds: tuple[Sound, ...]
    quarters: Fraction
    family: str


def reference(hand: PartInHand) -> Reference:
    """The part with its repeats and jumps played out."""
    part = hand.part
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
    return Reference(tuple(heard), at, hand.instrument.family)
