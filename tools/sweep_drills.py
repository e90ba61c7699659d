"""Every drill on many spans of music21's corpus, read back by others: ``tools/sweep_drills.py``.

``--spans N`` (200 unless told otherwise), ``--seed N``. Says how many drills were made and refused,
and every one that is wrong; exits 1 if any is. A sample of the same runs in ``./check``.
"""

import argparse
import os
import sys
import warnings
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent
sys.path[:0] = [str(ROOT)]

Result = tuple[tuple[str, int, int, int, bool], dict[str, list[str] | None]]


def _sweep(place: tuple[str, int, int, int, bool]) -> Result:
    from tests.formats.drill_sweep import made, passage_at, problems

    from crumb.core.drills import CATALOGUE

    warnings.simplefilter("ignore")
    passage = passage_at(place)
    found: dict[str, list[str] | None] = {}
    for kind in CATALOGUE:
        drill = made(passage, kind.name)
        found[kind.name] = None if drill is None else problems(passage, drill)
    return place, found


def main(arguments: list[str]) -> int:
    """Sweep and say what came of it."""
    from tests.formats.drill_sweep import places

    parser = argparse.ArgumentParser()
    parser.add_argument("--spans", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    args = parser.parse_args(arguments)
    good: Counter[str] = Counter()
    refused: Counter[str] = Counter()
    wrong = 0
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        spans = list(places(args.spans, args.seed))
        for place, found in pool.map(_sweep, spans, chunksize=2):
            for kind, said in found.items():
                if said is None:
                    refused[kind] += 1
                elif not said:
                    good[kind] += 1
                else:
                    wrong += 1
                    sys.stdout.write(f"{kind} on {place}: {'; '.join(said)}\n")
    for kind in sorted({*good, *refused}):
        sys.stdout.write(f"{kind:20} {good[kind]:4} made {refused[kind]:4} refused\n")
    total = sum(good.values())
    sys.stdout.write(
        f"{len(spans)} spans: {total} drills read back alike, {wrong} wrong,"
        f" {sum(refused.values())} refused\n"
    )
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
