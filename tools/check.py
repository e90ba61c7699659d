"""Every check, in the order in which a mistake is cheapest to find: ``./check``."""

import re
import subprocess
import sys
import time
from collections import Counter
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import provision
from postgres import CannotStart
from provision import ROOT, VENV, WEB, say

BIN = VENV / "bin"
Step = tuple[str, Path, list[str]]
Lane = tuple[Step, ...]


def _pytest(name: str, *folders: str) -> Step:
    return name, ROOT, [f"{BIN}/python", "-m", "pytest", *folders]


# Two lanes run side by side, on two processors, the steps of a lane one after the other. The
# browser waits more than it computes, so that whatever only computes goes well beside it.
LANES: tuple[Lane, ...] = (
    (
        ("web types", WEB, ["npm", "run", "--silent", "types"]),
        ("web lint", WEB, ["npm", "run", "--silent", "lint"]),
        ("web units", WEB, ["npm", "run", "--silent", "test"]),
        _pytest("browser", "tests/e2e"),
        _pytest("start command", "tests/test_start.py", "tests/test_supervision.py"),
    ),
    (
        ("lint", ROOT, [f"{BIN}/ruff", "check", "."]),
        ("format", ROOT, [f"{BIN}/ruff", "format", "--check", "."]),
        ("types", ROOT, [f"{BIN}/mypy"]),
        ("import contracts", ROOT, [f"{BIN}/lint-imports", "--no-cache"]),
        ("API description", ROOT, [f"{BIN}/python", "tools/openapi.py", "--check"]),
        _pytest("core", "tests/core"),
        _pytest("store, jobs and API", "tests/store", "tests/jobs", "tests/api"),
        _pytest("formats", "tests/formats", "tests/test_cli.py"),
    ),
)
_COUNTED = re.compile(r"(\d+) (passed|failed|skipped|error)")


def _run(step: Step) -> tuple[bool, dict[str, int]]:
    """Whether a step went well, and how many tests passed, failed and were skipped."""
    name, folder, command = step
    counts: dict[str, int] = {}
    begun = time.monotonic()
    done = subprocess.run(
        command,
        cwd=folder,
        stdout=subprocess.PIPE,
        stderr=subprocess.STDOUT,
        stdin=subprocess.DEVNULL,
        text=True,
        check=False,
    )
    if "pytest" in command or name == "web units":
        summary = [line for line in done.stdout.splitlines() if _COUNTED.search(line)][-1:]
        for line in summary:
            for number, word in _COUNTED.findall(re.sub(r"\x1b\[[0-9;]*m", "", line)):
                key = "failed" if word == "error" else word
                counts[key] = counts.get(key, 0) + int(number)
    took = f"{time.monotonic() - begun:.0f} s"
    if done.returncode != 0:
        say(f"FAILED  {name} ({took})\n{done.stdout[-12_000:]}")
    else:
        say(f"ok      {name} ({took})")
    return done.returncode == 0, counts


def _run_all(lane: Lane) -> list[tuple[str, bool, dict[str, int]]]:
    return [(step[0], *_run(step)) for step in lane]


def main() -> int:
    """Run all steps, even after a failure; 0 if all went well."""
    try:
        provision.check_python()
        provision.check_node()
        provision.ensure_debian(with_browser=True)
        provision.ensure_python(dev=True)
        provision.ensure_node()
        provision.ensure_page()
    except CannotStart as error:
        sys.stderr.write(f"{error}\n")
        return 1
    counts: Counter[str] = Counter()
    failed = []
    with ThreadPoolExecutor(len(LANES)) as side_by_side:
        for done in side_by_side.map(_run_all, LANES):
            for name, is_well, found in done:
                counts.update(found)
                if not is_well:
                    failed.append(name)
    if failed:
        say(f"Failed: {', '.join(failed)}.")
    told = [f"{counts['passed']} passed", f"{counts['failed']} failed"]
    if counts["skipped"]:
        told.append(f"{counts['skipped']} skipped")
    say(", ".join(told))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
