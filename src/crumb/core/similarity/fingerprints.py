"""Every measure as three keys: exactly so, so at any pitch, so in rhythm."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from operator import attrgetter

from crumb.core.score.model import Part
from crumb.core.similarity.model import Attack, Sketch


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
                midi, name = note.place.midi if note.place is not None else 60, STROKE
            attacks.append(Attack(ticks(note.at), ticks(note.duration), midi, name))
        attacks.sort(key=_PLACE)
        rows.append(tuple(attacks))
    lengths = tuple(ticks(measure.length) for measure in part.measures)
    return Sketch(ticks.per_quarter, lengths, tuple(rows))


STROKE = "stroke"
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
    tonal: int = -1
    """The letters alone, at any height: a sequence inside the key has the same."""
    figures: tuple[tuple[int, int], ...] = ()
    """Figures by where they start and by key: all of the measure, and each half of it."""


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
    tonal = -1
    if count >= _FEWEST_FOR_RHYTHM and all(a.name != STROKE for a in attacks):
        letters = [height_of(a.name) for a in attacks]
        tonal = book.number((times, "tonal", tuple([h - letters[0] for h in letters])))
    figures = tuple(_figures(attacks, length, book))
    return Fingerprint(tuple(attacks), exact, shape, rhythm, head, tonal, figures)


def _figures(attacks: Sequence[Attack], length: int, book: Book) -> Iterator[tuple[int, int]]:
    """Four notes or more that may come at another beat of a measure."""
    windows = [attacks]
    if length % 2 == 0:
        half = length // 2
        windows += [[a for a in attacks if a.at < half], [a for a in attacks if a.at >= half]]
    for row in windows:
        if len(row) < _FEWEST_FOR_RHYTHM or len({a.midi for a in row}) < _FEWEST_FOR_SHAPE:
            continue
        at, midi = row[0].at, row[0].midi
        shape = tuple([(a.at - at, a.midi - midi) for a in row])
        yield at, book.number(("figure", shape))


@lru_cache(maxsize=512)
def height_of(name: str) -> int:
    """Letters above C0 of a written name such as ``F#5``."""
    return "CDEFGAB".index(name[0]) + 7 * int(name.lstrip("ABCDEFG").lstrip("#b+"))
