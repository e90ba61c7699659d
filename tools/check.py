"""Every check: ``./check``; what a change touches most: ``./check quick``; all: ``./check full``.

``--record`` writes down how long each step and each file of tests took, so that the next check
begins with the longest.
"""

import os
import sys
import time
from collections import Counter
from functools import partial

import provision
from checks.durations import record
from checks.queue import Done, run_all, run_step
from checks.sizes import Size
from checks.stage import Stage
from checks.steps import steps_of
from postgres import CannotStart
from provision import say


def main(arguments: list[str]) -> int:
    """Run all steps of a size, even after a failure; 0 if all went well."""
    sizes = [one for one in arguments if one in list(Size)]
    if len(sizes) > 1 or set(arguments) - {*sizes, "--record"}:
        say(f"Say ./check, ./check {Size.QUICK} or ./check {Size.FULL}.")
        return 2
    size = Size(sizes[0]) if sizes else Size.CHECK
    begun = time.monotonic()
    try:
        provision.check_python()
        provision.check_node()
        provision.ensure_debian(with_browser=True)
        provision.ensure_python(dev=True)
        provision.ensure_node()
        provision.ensure_page()
        stage = Stage()
        stage.open()
    except CannotStart as error:
        sys.stderr.write(f"{error}\n")
        return 1
    say(f"Everything is installed ({time.monotonic() - begun:.0f} s).")
    begun = time.monotonic()
    try:
        ended = run_all(
            steps_of(size, record_in=stage.folder),
            len(os.sched_getaffinity(0)),
            partial(run_step, env=stage.env),
            lambda done: say(done.told()),
            ready={"database"},
        )
        if "--record" in arguments:
            record(ended, stage.folder)
    finally:
        stage.close()
    return _summary(ended, time.monotonic() - begun)


def _summary(ended: list[Done], seconds: float) -> int:
    counts: Counter[str] = Counter()
    for done in ended:
        counts.update(done.counts)
    failed = [done.step.name for done in ended if done.status]
    if failed:
        say(f"Failed: {', '.join(failed)}.")
    say(f"{len(ended)} steps in {seconds // 60:.0f} min {seconds % 60:.0f} s.")
    told = [f"{counts['passed']} passed", f"{counts['failed']} failed"]
    if counts["skipped"]:
        told.append(f"{counts['skipped']} skipped")
    say(", ".join(told))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
