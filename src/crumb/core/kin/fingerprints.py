"""Every measure as three keys: exactly so, so at any pitch, so in rhythm."""

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction
from math import lcm

from crumb.core.kin.model import Attack
from crumb.core.score.model import Part


@dataclass(frozen=True, slots=True)
class Fingerprint:
    """One measure. Keys are numbers that are equal where the measures are; -1: nothing to learn."""

    attacks: tuple[Attack, ...]
    exact: int
    shape: int
    rhythm: int
    head: int
    """The first half at any pitch: finds twins that end differently."""


class Book:
    """Gives equal keys equal numbers, over all parts; ``ticks`` divide every time in them."""

    def __init__(self, parts: Sequence[Part]) -> None:
        self._numbers: dict[object, int] = {}
        over = {
            denominator
            for part in parts
            for measure in part.measures
            for note in measure.notes
            for denominator in (note.at.denominator, note.duration.denominator)
        }
        over |= {m.length.denominator for part in parts for m in part.measures}
        self.ticks = lcm(*over)

    def count(self, time: Fraction) -> int:
        """Quarter notes as ticks."""
        return time.numerator * (self.ticks // time.denominator)

    def number(self, key: object) -> int:
        """The number of a key."""
        return self._numbers.setdefault(key, len(self._numbers))


_FEWEST_FOR_SHAPE = 3
_FEWEST_FOR_RHYTHM = 4


def fingerprints(part: Part, book: Book) -> list[Fingerprint]:
    """One for each measure of a part, in sounding pitch."""
    moved = part.transposition.chromatic
    found = []
    for measure in part.measures:
        attacks = []
        for note in measure.notes:
            if note.is_rest or note.grace or note.cue or note.tie in ("stop", "continue"):
                continue
            where = note.pitch or note.place
            midi = where.midi + (moved if note.pitch else 0) if where is not None else 60
            at, length = book.count(note.at), book.count(note.duration)
            attacks.append(Attack(at, length, midi, note.pitch))
        found.append(_fingerprint(attacks, book.count(measure.length), book))
    return found


def _fingerprint(attacks: list[Attack], length: int, book: Book) -> Fingerprint:
    if not attacks:
        return Fingerprint((), -1, -1, -1, -1)
    attacks.sort(key=lambda a: (a.at, a.midi))
    first = attacks[0].midi
    # Every key needs the times: they get one number first.
    times = book.number((length, *((a.at, a.length) for a in attacks)))
    count = len(attacks)
    exact = book.number((times, *(a.midi for a in attacks)))
    intervals = tuple(a.midi - first for a in attacks)
    shape = book.number((times, "shape", intervals)) if count >= _FEWEST_FOR_SHAPE else -1
    is_plain = len({a.length for a in attacks}) == 1
    rhythm = times if count >= _FEWEST_FOR_RHYTHM and not is_plain else -1
    half = (count + 1) // 2
    head = -1
    if count >= _FEWEST_FOR_RHYTHM:
        head = book.number(("head", intervals[:half], *((a.at, a.length) for a in attacks[:half])))
    return Fingerprint(tuple(attacks), exact, shape, rhythm, head)
