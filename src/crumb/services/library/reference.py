"""Reference sound of a whole part."""

from dataclasses import dataclass, replace
from fractions import Fraction

from sqlalchemy.orm import Session

from crumb.core.score.model import ZERO, Part
from crumb.core.score.playing import playing_order
from crumb.core.score.position import Sound, sounds
from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, load_part, piece_with_parts


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


def others(session: Session, actor: Actor, hand: PartInHand) -> list[tuple[PartInHand, Reference]]:
    """The other parts of the piece as they sound beside a part, those that go with it throughout.

    Versions of a part for another instrument are no voices of the piece, and what is on paper
    sounds not.
    """
    _, rows = piece_with_parts(session, actor, hand.row.piece_id)
    found = []
    for row in rows:
        if row.id == hand.row.id or row.version_of_id is not None:
            continue
        other = load_part(session, actor, row.id)
        if other.part.has_notes and _goes_with(other.part, hand.part):
            found.append((other, reference(other)))
    return found


def _goes_with(one: Part, other: Part) -> bool:
    return [m.length for m in one.measures] == [m.length for m in other.measures]
