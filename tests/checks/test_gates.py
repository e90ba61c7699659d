"""The gates that hold the house close: each is shown something that it must not let through."""

import ast
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from crumb.core.drill_names import DrillName
from crumb.core.drills import CATALOGUE
from tests.conftest import ROOT

CONTRACTS = Path(sys.executable).with_name("lint-imports")


@pytest.fixture(scope="module")
def house(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A copy of the sources with three faults built in."""
    folder = tmp_path_factory.mktemp("house")
    shutil.copytree(
        ROOT / "src", folder / "src", ignore=shutil.ignore_patterns("__pycache__", "*.egg-info")
    )
    shutil.copy(ROOT / ".importlinter", folder)
    sources = folder / "src" / "crumb"
    with (sources / "core" / "score" / "pitch.py").open("a") as file:
        file.write("\nimport crumb.core.plan.model  # up, inside the core\n")
    with (sources / "store" / "base.py").open("a") as file:
        file.write("\nimport crumb.services.errors  # up, over floors\n")
    (sources / "services" / "attic.py").write_text('"""A room that no contract knows."""\n')
    return folder


def test_an_import_that_points_up_and_a_room_without_a_floor_are_found(house: Path):
    done = subprocess.run(
        [CONTRACTS, "--no-cache"],
        cwd=house,
        env={**os.environ, "PYTHONPATH": str(house / "src")},
        capture_output=True,
        text=True,
        check=False,
    )
    said = " ".join(done.stdout.split())
    assert done.returncode == 1
    assert "crumb.core.score.pitch -> crumb.core.plan.model" in said
    assert "crumb.store.base -> crumb.services.errors" in said
    assert "- crumb.services.attic" in said


def test_a_statement_outside_of_the_store_is_found(tmp_path: Path):
    command = [Path(sys.executable).with_name("ruff"), "check", "--no-cache", "--stdin-filename"]
    statement = "from sqlalchemy import select\n\nprint(select)\n"
    for room, found in (("services", True), ("store/queries", False)):
        file = ROOT / "src" / "crumb" / room / "attic.py"
        done = subprocess.run(
            [*command, file, "-"], input=statement, capture_output=True, text=True, check=False
        )
        assert ("TID251" in done.stdout) is found, room


def test_every_drill_has_its_name_in_the_one_list():
    assert [kind.name for kind in CATALOGUE] == list(DrillName)


def bare_drill_names(source: str) -> set[str]:
    """Names of drills that stand as bare strings in a table: two or more words joined by dashes."""
    names = {name for name in DrillName if "-" in name}
    nodes = ast.walk(ast.parse(source))
    return {n.value for n in nodes if isinstance(n, ast.Constant) and n.value in names}


def test_no_table_of_the_rules_spells_a_drill_by_itself():
    # Called like a drill and none: categories of a plan.
    others = {"warm-up", "run-through"}
    left_out = {"drill_names.py", "patterns.py"}
    for path in [
        *(ROOT / "src/crumb/core").rglob("*.py"),
        *(ROOT / "src/crumb/services").rglob("*.py"),
    ]:
        if "kinds" in path.parts or path.name in left_out:
            continue
        assert bare_drill_names(path.read_text()) <= others, path


def test_a_bare_name_would_be_found():
    assert bare_drill_names('CURES = ("long-short", "a-drill-that-is-none")') == {"long-short"}
