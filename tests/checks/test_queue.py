"""The queue behind ``./check``: what runs when, what is told, and what fails with what."""

import time
from collections import Counter
from pathlib import Path
from threading import Lock

from checks.durations import file_seconds
from checks.queue import Done, next_step, run_all, run_step
from checks.sizes import Size
from checks.steps import Step, _packed, steps_of


def a_step(name: str, seconds: float = 1, **more: object) -> Step:
    return Step(name, ("true",), seconds, Path("/"), **more)


def ends(status: int = 0):
    return lambda step: Done(step, status, "", 0.0)


def test_the_longest_step_that_can_begin_begins():
    steps = [a_step("short", 2), a_step("long", 9, needs=frozenset({"demo"})), a_step("middle", 5)]
    assert next_step(steps, set()).name == "middle"
    assert next_step(steps, {"demo"}).name == "long"
    assert next_step(steps[1:2], set()) is None


def test_what_is_needed_is_made_first_and_everything_runs_once():
    order: list[str] = []
    steps = [
        a_step("browser", 99, needs=frozenset({"demo"})),
        a_step("demo school", 1, makes="demo"),
        a_step("types", 50),
    ]

    def run(step: Step) -> Done:
        order.append(step.name)
        return Done(step, 0, "", 0.0)

    ended = run_all(steps, 1, run, lambda done: None, ready=set())
    assert order == ["types", "demo school", "browser"]
    assert [done.status for done in ended] == [0, 0, 0]


def test_who_needs_what_failed_is_failed_and_the_rest_runs():
    steps = [a_step("browser", needs=frozenset({"demo"})), a_step("demo school", makes="demo")]
    told: list[str] = []
    ended = run_all(steps, 2, ends(1), lambda done: told.append(done.told()), ready=set())
    assert {done.step.name: done.status for done in ended} == {"browser": 1, "demo school": 1}
    assert any("It needs demo" in line for line in told)


def test_no_more_browsers_run_at_once_than_there_are_processors_and_one_other_step_beside_them():
    going: Counter[str] = Counter()
    most: Counter[str] = Counter()
    lock = Lock()

    def run(step: Step) -> Done:
        with lock:
            going.update([step.uses, "any"])
            for name, count in going.items():
                most[name] = max(most[name], count)
        time.sleep(0.02)
        with lock:
            going.subtract([step.uses, "any"])
        return Done(step, 0, "", 0.0)

    browsers = [a_step(f"browser {n}", 9, uses="a browser") for n in range(6)]
    run_all([*browsers, *(a_step(f"core {n}") for n in range(6))], 2, run, lambda done: None, set())
    assert (most["a browser"], most["any"]) == (2, 3)


def test_a_command_that_fails_is_told_with_what_it_printed():
    step = Step("lint", ("sh", "-c", "echo wrong in line 3; exit 1"), 1, Path("/"))
    done = run_step(step, {})
    assert done.status == 1
    assert "wrong in line 3" in done.told()


def test_a_shard_without_a_test_of_this_size_is_no_failure():
    step = Step("API 9", ("sh", "-c", "exit 5"), 1, Path("/"), counts=True)
    assert run_step(step, {}).status == 0


def test_tests_are_counted_from_the_last_summary():
    printed = "FAILED a\n1 failed, 20 passed, 3 skipped in 4.2s\n2 errors\n"
    done = Done(a_step("core 1", counts=True), 1, printed, 1.0)
    assert done.counts == Counter(failed=2)
    done = Done(a_step("core 1", counts=True), 1, printed.rpartition("2 errors")[0], 1.0)
    assert done.counts == Counter(failed=1, passed=20, skipped=3)


def test_shards_hold_every_file_once_and_are_about_as_long():
    known = {f"tests/{i}.py": float(3 + i % 7 * 5) for i in range(40)}
    shards = _packed(known, known)
    assert sorted(file for shard in shards for file in shard) == sorted(known)
    lengths = [sum(known[file] for file in shard) for shard in shards]
    assert max(lengths) < 1.5 * min(lengths)


def test_a_full_check_runs_all_that_a_check_runs_and_every_benchmark(tmp_path: Path):
    def files(size: Size) -> set[str]:
        steps = steps_of(size, record_in=tmp_path)
        return {part for s in steps for part in s.command if part.endswith(".py")}

    quick, check, full = (files(size) for size in (Size.QUICK, Size.CHECK, Size.FULL))
    assert quick - {"tests/e2e/test_smoke.py"} < check <= full
    assert quick <= full
    names = {step.name for step in steps_of(Size.FULL, record_in=tmp_path)}
    assert {"bench ingest", "bench drills", "bench plans"} <= names


def test_seconds_are_read_from_what_pytest_reports(tmp_path: Path):
    report = tmp_path / "core-1.junit.xml"
    report.write_text(
        '<testsuites><testsuite><testcase classname="tests.core.test_a" name="x" time="1.5"/>'
        '<testcase classname="tests.core.test_a" name="y" time="0.5"/></testsuite></testsuites>'
    )
    assert file_seconds(report) == {"tests/core/test_a.py": 2.0}
