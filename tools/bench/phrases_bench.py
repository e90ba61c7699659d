"""Phrases on the held-out folk songs: ours against local boundaries, both in one run."""

import sys
from statistics import mean

from tests.lbdm import boundaries

from crumb.core.split.melody import Melody
from crumb.core.split.phrases import shaped, starts_of
from folk_songs import boundary_f1, held_out, learned_from, songs

_THRESHOLDS = [t / 20 for t in range(4, 13)]


def _found(melody: Melody) -> list[int]:
    """As a part with nothing but notes is split."""
    bare: list[list[tuple[float, str]]] = [[] for _ in range(len(melody) - 1)]
    measures = [int((at - melody.onsets[0]) / melody.measure) for at in melody.onsets]
    return starts_of(melody, shaped(melody, bare), measures) if len(melody) > 1 else []


def main() -> int:
    """Mean boundary F1 over songs; the baseline's threshold is chosen on the learning files."""
    known = [song for path in held_out() for song in songs(path)]
    seen = [song for path in learned_from() for i, song in enumerate(songs(path)) if i % 4 == 0]
    threshold = max(
        _THRESHOLDS,
        key=lambda t: mean(boundary_f1(boundaries(s.melody, t), s.starts) for s in seen),
    )
    found = [frozenset(_found(s.melody)) for s in known]
    ours = mean(boundary_f1(f, s.starts) for f, s in zip(found, known, strict=True))
    right = sum(len(f & s.starts) for f, s in zip(found, known, strict=True))
    pooled = 2 * right / sum(len(f) + len(s.starts) for f, s in zip(found, known, strict=True))
    baseline = mean(boundary_f1(boundaries(s.melody, threshold), s.starts) for s in known)
    sys.stdout.write(
        f"{len(known)} songs of {len(held_out())} files that nothing was learned from\n"
        f"ours      mean F1 {ours:.3f}, pooled {pooled:.3f}\n"
        f"baseline  mean F1 {baseline:.3f} (local boundaries, threshold {threshold})\n"
    )
    return 0 if ours >= 0.75 else 1
