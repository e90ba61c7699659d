"""Secure tempo on families of simulated students: ``./bench secure``, four hundred of each.

Coverage of the 80 % interval, the Brier score of the next pass as it was played (not as it was
marked), and how far the median lies from the truth.
"""

import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from statistics import mean

from tests.core.simulated import FAMILIES, IN_SIGHT, Judged, judged

from bench.sizes import size


def main() -> int:
    """Measure and print."""
    count = int(sys.argv[2]) if len(sys.argv) > 2 else size(400, 5)
    with ProcessPoolExecutor(2) as pool:
        for family in FAMILIES:
            cases = [(family, 10_000 + seed) for seed in range(count)]
            found = list(pool.map(judged, cases, chunksize=20))
            known = "" if family in IN_SIGHT else ", held out"
            print(f"{family}{known}: {', '.join(_said(found))}", flush=True)
    return 0


def _said(found: list[Judged]) -> Iterator[str]:
    yield f"coverage {mean(float(one.is_held) for one in found):.3f}"
    yield f"Brier {sum(one.squares for one in found) / sum(one.passes for one in found):.3f}"
    yield f"bias {mean(one.bias for one in found):+.3f}"
    yield f"told at most {max(one.above_tried for one in found):.2f} of the fastest tried"
