"""Every check, in the order in which a mistake is cheapest to find: ``./check``."""

import re
import subprocess
import sys
import time
from pathlib import Path

import provision
from postgres import CannotStart
from provision import ROOT, VENV, WEB, say

BIN = VENV / "bin"
STEPS: tuple[tuple[str, Path, list[str]], ...] = (
    ("lint", ROOT, [f"{BIN}/ruff", "check", "."]),
    ("format", ROOT, [f"{BIN}/ruff", "format", "--check", "."]),
    ("types", ROOT, [f"{BIN}/mypy"]),
    ("import contracts", ROOT, [f"{BIN}/lint-imports", "--no-cache"]),
    ("API description", ROOT, [f"{BIN}/python", "tools/openapi.py", "--check"]),
    ("web types", WEB, ["npm", "run", "--silent", "types"]),
    ("web lint", WEB, ["npm", "run", "--silent", "lint"]),
    ("web units", WEB, ["npm", "run", "--silent", "test"]),
    ("core", ROOT, [f"{BIN}/python", "-m", "pytest", "tests/core"]),
    ("formats", ROOT, [f"{BIN}/python", "-m", "pytest", "tests/formats", "tests/test_cli.py"]),
    ("store and API", ROOT, [f"{BIN}/python", "-m", "pytest", "tests/store", "tests/api"]),
    ("start command", ROOT, [f"{BIN}/python", "-m", "pytest", "tests/test_start.py"]),
    ("browser", ROOT, [f"{BIN}/python", "-m", "pytest", "tests/e2e"]),
)
_COUNTED = re.compile(r"(\d+) (passed|failed|skipped|error)")


def _run(name: str, folder: Path, command: list[str], counts: dict[str, int]) -> bool:
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
        return False
    say(f"ok      {name} ({took})")
    return True


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
    counts: dict[str, int] = {}
    failed = [name for name, folder, command in STEPS if not _run(name, folder, command, counts)]
    if failed:
        say(f"Failed: {', '.join(failed)}.")
    told = [f"{counts.get('passed', 0)} passed", f"{counts.get('failed', 0)} failed"]
    if counts.get("skipped"):
        told.append(f"{counts['skipped']} skipped")
    say(", ".join(told))
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
