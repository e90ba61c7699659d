"""How long steps and files of tests take: written down by ``--record``, read by the next check."""

import json
import xml.etree.ElementTree as ET
from collections.abc import Iterable
from pathlib import Path

from checks.queue import Done
from checks.steps import DURATIONS, known_durations
from provision import ROOT


def record(ended: Iterable[Done], folder: Path) -> None:
    """Put what was measured in the place of what was known; the rest stays.

    Args:
        ended: steps that have run.
        folder: where shards of tests left their JUnit reports.
    """
    known = known_durations()
    for done in ended:
        if not done.step.name.split()[-1].isdigit():
            known[done.step.name] = round(done.seconds, 1)
    for report in folder.glob("*.junit.xml"):
        for file, seconds in file_seconds(report).items():
            known[file] = round(seconds, 1)
    there = {name: s for name, s in known.items() if "/" not in name or (ROOT / name).exists()}
    DURATIONS.write_text(json.dumps(there, indent=1, sort_keys=True) + "\n")


def file_seconds(report: Path) -> dict[str, float]:
    """Seconds of each file of tests in a JUnit report of pytest's own."""
    found: dict[str, float] = {}
    for case in ET.parse(report).iter("testcase"):  # noqa: S314 - pytest wrote it just now
        file = case.get("classname", "").replace(".", "/") + ".py"
        found[file] = found.get(file, 0.0) + float(case.get("time", "0"))
    return found
