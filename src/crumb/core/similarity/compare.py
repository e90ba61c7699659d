"""Two lines of notes compared one by one: what differs once the commonest shift is allowed for."""

from collections import Counter
from collections.abc import Sequence

from rapidfuzz.distance import Levenshtein

from crumb.core.similarity.model import Attack, Difference

NEAR = 0.25
"""At most this share of the notes may differ in near twins (common practice, no source)."""


def commonest_shift(a: Sequence[Attack], b: Sequence[Attack]) -> int:
    """Half steps by which most notes of b lie above those of a at the same moment."""
    heights = {attack.at: attack.midi for attack in a}
    shifts = Counter(attack.midi - heights[attack.at] for attack in b if attack.at in heights)
    if not shifts:
        return 0
    most = max(shifts.values())
    # Of equally common shifts the smallest: an unchanged note is the plainer story.
    return min((s for s, n in shifts.items() if n == most), key=lambda s: (abs(s), s))


def differences(a: Sequence[Attack], b: Sequence[Attack], shift: int) -> tuple[Difference, ...]:
    """Notes of a that b has otherwise, lacks, or has besides, in order; pitches shifted."""
    one = [(attack.at, attack.length, attack.midi + shift) for attack in a]
    two = [(attack.at, attack.length, attack.midi) for attack in b]
    found = []
    for op in Levenshtein.opcodes(one, two):
        if op.tag == "equal":
            continue
        for k in range(max(op.src_end - op.src_start, op.dest_end - op.dest_start)):
            i, j = op.src_start + k, op.dest_start + k
            found.append(
                Difference(
                    min(i, max(len(a) - 1, 0)),
                    a[i].name if i < op.src_end else None,
                    b[j].name if j < op.dest_end else None,
                )
            )
    return tuple(found)


def are_near(a: Sequence[Attack], found: Sequence[Difference]) -> bool:
    """Whether so little differs that the difference itself is the drill."""
    return 0 < len(found) <= max(1, int(len(a) * NEAR))
