"""The steps of a check: linters, types, contracts, and shards of tests."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import Path

from checks.sizes import Size
from provision import ROOT, VENV, WEB

BIN = VENV / "bin"
DURATIONS = Path(__file__).with_name("durations.json")
_SHARD_SECONDS = 180.0
"""A shard is a process of its own; of a longer one the end of the check would have to wait for."""
_UNKNOWN_SECONDS = 10.0
_FIRST = 10_000.0  # whatever waits for it would have to wait longer


@dataclass(frozen=True, slots=True)
class Step:
    """A command, where it runs, and how long it is expected to take, in seconds.

    ``needs`` names what must be ready before it begins.
    """

    name: str
    command: tuple[str, ...]
    seconds: float
    folder: Path = ROOT
    needs: frozenset[str] = frozenset()
    makes: str = ""
    env: Mapping[str, str] = field(default_factory=dict)
    uses: str = ""
    """What it keeps busy; at most as many steps as processors keep the same thing busy."""
    counts: bool = False
    """Whether its last lines tell how many tests passed."""


def steps_of(size: Size, *, record_in: Path) -> list[Step]:
    """Every step of a check; shards of tests leave a report of their times in a folder."""
    known = known_durations()
    steps = [*_static(size, known), *_shards(size, known, record_in)]
    if any("demo" in step.needs for step in steps):
        command = (f"{BIN}/python", "-m", "checks.demo")
        demo = Step(
            "demo school", command, _FIRST, folder=ROOT / "tools", makes="demo", needs=_DATABASE
        )
        steps.append(demo)
    return steps


def known_durations() -> dict[str, float]:
    """Seconds that steps and files of tests took when that was last written down."""
    if not DURATIONS.exists():
        return {}
    found: dict[str, float] = json.loads(DURATIONS.read_text())
    return found


def _plain(
    name: str,
    command: tuple[str, ...],
    known: Mapping[str, float],
    *,
    folder: Path = ROOT,
    counts: bool = False,
) -> Step:
    seconds = known.get(name, _UNKNOWN_SECONDS)
    return Step(name, command, seconds, folder, counts=counts)


def _static(size: Size, known: Mapping[str, float]) -> Iterable[Step]:
    npm = ("npm", "run", "--silent")
    python = f"{BIN}/python"
    yield _plain("web types", (*npm, "types"), known, folder=WEB)
    lint = _plain("web lint", (*npm, "lint"), known, folder=WEB)
    yield replace(lint, env={"CRUMB_TESTS": size.value})
    yield _plain("web format", (*npm, "format"), known, folder=WEB)
    yield _plain("web units", (*npm, "test"), known, folder=WEB, counts=True)
    yield _plain("lint", (f"{BIN}/ruff", "check", "."), known)
    yield _plain("format", (f"{BIN}/ruff", "format", "--check", "."), known)
    yield _plain("types", (f"{BIN}/mypy",), known)
    yield _plain("import contracts", (f"{BIN}/lint-imports", "--no-cache"), known)
    yield _plain("API description", (python, "tools/openapi.py", "--check"), known)
    if size is Size.FULL:
        for name in _BENCHMARKS:
            yield _plain(f"bench {name}", (python, "tools/bench/run.py", name, "--tiny"), known)


_BENCHMARKS = (
    *("drills", "forecast", "hostile", "import", "ingest", "mastery"),
    *("phrases", "plans", "secure", "stand", "wall"),
)


@dataclass(frozen=True, slots=True)
class Kind:
    """Tests that want the same things around them."""

    name: str
    paths: tuple[str, ...]
    needs: frozenset[str]
    uses: str = ""


_DATABASE = frozenset({"database"})
_DEMO = frozenset({"database", "demo"})
_KINDS = (
    Kind("core", ("tests/core",), frozenset()),
    Kind("formats", ("tests/formats", "tests/test_cli.py"), frozenset()),
    Kind("checks", ("tests/checks",), frozenset()),
    Kind("API", ("tests/store", "tests/jobs", "tests/api"), _DATABASE),
    Kind("start", ("tests/test_start.py", "tests/test_supervision.py"), frozenset()),
    Kind("browser", ("tests/e2e",), _DEMO, uses="a browser"),
)
_SMOKE = "tests/e2e/test_smoke.py"
"""In one walk what other browser tests look at one by one: for the quick and the full check."""
_QUICK = (
    *(kind for kind in _KINDS if kind.name in ("core", "checks")),
    Kind("smoke", (_SMOKE, "tests/api/test_every_route.py"), _DATABASE),
)


def _shards(size: Size, known: Mapping[str, float], record_in: Path) -> Iterable[Step]:
    for kind in _QUICK if size is Size.QUICK else _KINDS:
        files = [file for file in _files(kind) if size is not Size.CHECK or file != _SMOKE]
        for number, shard in enumerate(_packed(files, known), 1):
            yield Step(
                f"{kind.name} {number}",
                (
                    *(f"{BIN}/python", "-m", "pytest", *shard),
                    f"--junitxml={record_in / f'{kind.name}-{number}.junit.xml'}",
                ),
                sum(known.get(file, _UNKNOWN_SECONDS) for file in shard),
                needs=kind.needs,
                uses=kind.uses,
                env={"CRUMB_TESTS": size.value},
                counts=True,
            )


def _files(kind: Kind) -> list[str]:
    found = []
    for path in kind.paths:
        whole = ROOT / path
        found += [whole] if whole.is_file() else sorted(whole.rglob("test_*.py"))
    return [str(file.relative_to(ROOT)) for file in found]


def _packed(files: Iterable[str], known: Mapping[str, float]) -> list[list[str]]:
    """Files in shards of about equal length: the longest first, each where most room is."""
    seconds = {file: known.get(file, _UNKNOWN_SECONDS) for file in files}
    count = max(round(sum(seconds.values()) / _SHARD_SECONDS), 1)
    shards: list[list[str]] = [[] for _ in range(count)]
    taken = [0.0] * count
    for file in sorted(seconds, key=lambda one: (-seconds[one], one)):
        place = taken.index(min(taken))
        shards[place].append(file)
        taken[place] += seconds[file]
    return [sorted(shard) for shard in shards if shard]
