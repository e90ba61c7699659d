"""How a MIDI file was played: to a click or free of it, straight or swung.

Estimates, so floats: onsets stay exact, and only what is drawn from them is decided here.
"""

from cmath import exp
from collections import defaultdict
from collections.abc import Sequence
from fractions import Fraction
from math import pi
from statistics import median

_FEWEST = 32
"""Onsets from which it can be said whether anybody played to a click."""
_PARTS = (2, 3, 4, 6)
"""Parts of a quarter note that played music falls on."""
_FREE = 0.3
"""How closely the onsets crowd on the best of them, from 0 to 1 (exactly): below this, free."""
_FEWEST_PAIRS = 6
_SWUNG = (Fraction(56, 100), Fraction(74, 100))
"""Where in its beat the second of two swung notes falls, from the first of them to the last."""
_EXACT = Fraction(1, 48)


def is_free(onsets: Sequence[Fraction]) -> bool:
    """Whether notes fall anywhere between the beats that a file names (circular statistics)."""
    if len(onsets) < _FEWEST:
        return False
    crowds = [
        abs(sum(exp(2j * pi * float(parts * onset % 1)) for onset in onsets)) / len(onsets)
        for parts in _PARTS
    ]
    return max(crowds) < _FREE


def is_swung(onsets: Sequence[Fraction]) -> bool:
    """Whether pairs of notes are played long and short by feel, not as exact triplets."""
    seconds = [into for first, into in _pairs(onsets) if first < Fraction(1, 8)]
    if len(seconds) < _FEWEST_PAIRS:
        return False
    swung = [into for into in seconds if _SWUNG[0] <= into <= _SWUNG[1]]
    if len(swung) < len(seconds) * 2 / 3:
        return False
    if all(abs(into - Fraction(2, 3)) <= _EXACT for into in swung):
        return False  # written as triplets, and so they stay
    return float(_SWUNG[0]) < median(map(float, swung)) < float(_SWUNG[1])


def straightened(onsets: Sequence[Fraction]) -> list[Fraction]:
    """Swung pairs as even eighths; true triplets stay as they are."""
    made = list(onsets)
    by_beat = _by_beat(onsets)
    for places in by_beat.values():
        late = [p for p in places if _SWUNG[0] <= onsets[p] % 1 <= _SWUNG[1]]
        times = {onsets[p] for p in places}
        if late and len(times) <= 2:
            for place in late:
                made[place] = onsets[place] // 1 + Fraction(1, 2)
    return made


def _pairs(onsets: Sequence[Fraction]) -> list[tuple[Fraction, Fraction]]:
    """Offsets in their beat of the notes of each beat that has just two moments."""
    found = []
    for places in _by_beat(onsets).values():
        times = sorted({onsets[p] % 1 for p in places})
        if len(times) == 2:
            found.append((times[0], times[1]))
    return found


def _by_beat(onsets: Sequence[Fraction]) -> dict[int, list[int]]:
    found: dict[int, list[int]] = defaultdict(list)
    for place, onset in enumerate(onsets):
        found[int(onset)].append(place)
    return found
