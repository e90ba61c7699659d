"""Every measure as three keys: exactly so, so at any pitch, so in rhythm."""

from collections.abc import Sequence
from dataclasses import dataclass
from operator import attrgetter

from crumb.core.kin.model import Attack, Sketch
from crumb.core.score.model import Part


def sketch(part: Part) -> Sketch:
    """A part in sounding pitch, grace and cue notes left out, ties as one."""
    ticks = part.ticks
    rows = []
    for measure in part.measures:
        moved = part.transposition_at(measure).chromatic
        attacks = []
        for note in measure.notes:
            if note.is_rest or note.grace or note.cue or note.tie in ("stop", "continue"):
                continue
            pitch = note.pitch
            if pitch is not None:
                midi, name = pitch.midi + moved, pitch.name
            else:
                midi, name = note.place.midi if note.place is not None else 60, "stroke"
            attacks.append(Attack(ticks(note.at), ticks(note.duration), midi, name))
        attacks.sort(key=_PLACE)
        rows.append(tuple(attacks))
    lengths = tuple(ticks(measure.length) for measure in part.measures)
    return Sketch(ticks.per_quarter, lengths, tuple(rows))


_PLACE = attrgetter("at", "midi")
_TIMES = attrgetter("at", "length")


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
    """Gives equal keys equal numbers, and equal measures one fingerprint, over all parts."""

    def __init__(self) -> None:
        self._numbers: dict[object, int] = {}
        self._prints: dict[tuple[int, tuple[Attack, ...]], Fingerprint] = {}

    def fingerprint(self, attacks: tuple[Attack, ...], length: int) -> Fingerprint:
        """Of a measure; much of a score comes more than once."""
        known = self._prints.get((length, attacks))
        if known is None:
            known = self._prints[length, attacks] = _fingerprint(attacks, length, self)
        return known

    def number(self, key: object) -> int:
        """The number of a key."""
        return self._numbers.setdefault(key, len(self._numbers))


_FEWEST_FOR_SHAPE = 3
_FEWEST_FOR_RHYTHM = 4


def fingerprints(part: Sketch, book: Book) -> list[Fingerprint]:
    """One for each measure of a part; all parts of a book have the same ticks."""
    return [
        book.fingerprint(attacks, length)
        for attacks, length in zip(part.attacks, part.lengths, strict=True)
    ]


def _fingerprint(attacks: Sequence[Attack], length: int, book: Book) -> Fingerprint:
    if not attacks:
        return Fingerprint((), -1, -1, -1, -1)
    first = attacks[0].midi
    # Every key needs the times: they get one number first.
    times = book.number((length, *map(_TIMES, attacks)))
    count = len(attacks)
    heights = tuple([a.midi for a in attacks])
    exact = book.number((times, heights))
    intervals = tuple([height - first for height in heights])
    shape = book.number((times, "shape", intervals)) if count >= _FEWEST_FOR_SHAPE else -1
    is_plain = len({a.length for a in attacks}) == 1
    rhythm = times if count >= _FEWEST_FOR_RHYTHM and not is_plain else -1
    half = (count + 1) // 2
    head = -1
    if count >= _FEWEST_FOR_RHYTHM:
        head = book.number(("head", intervals[:half], *map(_TIMES, attacks[:half])))
    return Fingerprint(tuple(attacks), exact, shape, rhythm, head)
