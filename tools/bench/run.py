"""The benchmarks by name: ``./bench drills``, ``./bench import``, ``./bench phrases``.

With ``--tiny`` a benchmark only shows that it runs: its figures and aims say nothing.
"""

import os
import sys
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).parent.parent.parent
sys.path[:0] = [str(ROOT), str(ROOT / "tools")]


def main(arguments: list[str]) -> int:
    """Run one benchmark."""
    is_tiny = "--tiny" in arguments
    if is_tiny:
        os.environ["CRUMB_BENCH"] = "tiny"
        arguments.remove("--tiny")
        sys.argv.remove("--tiny")
    from bench import (
        drills_bench,
        faults,
        forecast_bench,
        hostile_bench,
        import_bench,
        ingest_bench,
        mastery_bench,
        phrases_bench,
        plans_bench,
        secure_bench,
        stand_bench,
        stand_faults,
        wall_bench,
    )

    known: dict[str, Callable[[], int]] = {
        "drills": drills_bench.main,
        "faults": faults.main,
        "forecast": forecast_bench.main,
        "hostile": hostile_bench.main,
        "import": import_bench.main,
        "ingest": ingest_bench.main,
        "mastery": mastery_bench.main,
        "phrases": phrases_bench.main,
        "plans": plans_bench.main,
        "secure": secure_bench.main,
        "stand": stand_bench.main,
        "stand-faults": stand_faults.main,
        "wall": wall_bench.main,
    }
    if not arguments or arguments[0] not in known:
        sys.stderr.write(f"Say ./bench {' or ./bench '.join(known)}.\n")
        return 2
    status = known[arguments[0]]()
    return 0 if is_tiny else status


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
