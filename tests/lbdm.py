"""The Local Boundary Detection Model, as a baseline for phrase finding.

Source: E. Cambouropoulos, The Local Boundary Detection Model (LBDM) and its application in the
study of expressive timing, ICMC 2001: change between successive intervals times interval size, for
pitch, onsets and rests, weighted 0.25, 0.5, 0.25; a boundary is a local peak above a threshold
(weights from memory of the paper).
"""

from collections.abc import Sequence
from itertools import pairwise

from crumb.core.split.melody import Melody

WEIGHTS = (0.25, 0.5, 0.25)


def strengths(melody: Melody) -> list[float]:
    """Boundary strength between each note and the next, 0 to 1."""
    count = len(melody)
    steps = [abs(melody.pitches[i + 1] - melody.pitches[i]) + 0.0 for i in range(count - 1)]
    gaps = [float(melody.onsets[i + 1] - melody.onsets[i]) for i in range(count - 1)]
    rests = [float(melody.onsets[i + 1] - melody.ends[i]) for i in range(count - 1)]
    profiles = [_profile(values) for values in (steps, gaps, rests)]
    return [
        sum(w * profile[i] for w, profile in zip(WEIGHTS, profiles, strict=True))
        for i in range(count - 1)
    ]


def _profile(values: Sequence[float]) -> list[float]:
    changes = [abs(a - b) / (a + b) if a + b else 0.0 for a, b in pairwise(values)]
    padded = [0.0, *changes, 0.0]
    found = [value * (padded[i] + padded[i + 1]) for i, value in enumerate(values)]
    most = max(found, default=0.0)
    return [value / most if most else 0.0 for value in found]


def boundaries(melody: Melody, threshold: float) -> frozenset[int]:
    """Notes that start a phrase."""
    found = strengths(melody)
    padded = [0.0, *found, 0.0]
    return frozenset(
        i + 1
        for i, value in enumerate(found)
        if value > threshold and value >= padded[i] and value >= padded[i + 2]
    )
