"""Trouble by the hundred at the Stand: what the pad counted is what the school has, always.

Real processes and a real browser. Each kind of fault comes again and again while a student counts;
at its end everything is handed in and held against the database.
"""

import shutil
import tempfile
from collections.abc import Callable
from pathlib import Path
from random import Random
from time import sleep
from typing import Any

from playwright.sync_api import BrowserContext, Page, Route
from sqlalchemy import create_engine, text

from bench.at_the_stand import PHONE, a_browser, demo_stage, keep_day, open_stand, sign_in
from bench.faults import kill_database, start_database
from bench.stage import ROOT, Stage
from crumb.demo import people

_STORED = """
select count(*), count(distinct e.id) from evidence e join person p on p.id = e.student_id
where p.name = :name and e.what = 'repetition'
"""


class Student:
    """One who counts, whatever happens; ``counted`` is how often the pad was tapped."""

    def __init__(self, stage: Stage, context: BrowserContext, name: str) -> None:
        self.stage, self.context, self.name = stage, context, name
        self.page = sign_in(context, stage.url, name)
        keep_day(self.page)
        open_stand(self.page)
        self.where = self.page.url
        self.counted = 0

    def tap(self, times: int = 1, page: Page | None = None) -> None:
        """Count so many."""
        for _ in range(times):
            (page or self.page).keyboard.press("ArrowRight")
            self.counted += 1

    def reopen(self) -> None:
        """The same drill in a tab of its own."""
        self.page = self.context.new_page()
        self.page.set_default_timeout(60_000)
        self.page.goto(self.where)
        self.page.locator(".pad .clean").wait_for()

    def handed_in(self) -> None:
        """Wait until nothing waits any more."""
        for _ in range(240):
            self.page.wait_for_timeout(250)
            if self.page.locator(".unsent", has_text="kept on this device").count() == 0:
                self.page.wait_for_timeout(600)
                if self.page.locator(".unsent", has_text="kept on this device").count() == 0:
                    return
        raise TimeoutError("something still waits")

    def stored(self) -> tuple[int, int]:
        """How many the school has, and how many of them are different."""
        engine = create_engine(self.stage.cluster.url)
        with engine.connect() as connection:
            count, different = connection.execute(text(_STORED), {"name": self.name}).one()
        engine.dispose()
        return int(count), int(different)


def _server_killed(student: Student, random: Random) -> None:
    student.tap(2)
    sleep(random.uniform(0, 0.05))
    student.stage.kill(student.stage.servers.pop(0))
    student.tap()
    student.stage.serve(1)


def _database_killed(student: Student, _: Random) -> None:
    student.tap(2)
    kill_database(student.stage)
    student.tap(2)
    start_database(student.stage)
    student.stage.wait()


def _answer_lost(student: Student, random: Random) -> None:
    def lose(route: Route) -> None:
        if random.random() < 0.5:
            route.fetch()  # the school has it, the device does not hear of it
        route.abort()

    student.page.route("**/api/me/repetitions", lose)
    student.tap(3)
    student.page.wait_for_timeout(random.randint(0, 200))
    student.page.unroute_all(behavior="ignoreErrors")


def _network_cut(student: Student, random: Random) -> None:
    student.tap()
    student.page.wait_for_timeout(random.randint(0, 60))
    student.context.set_offline(True)
    student.tap(2)
    student.context.set_offline(False)


def _tab_closed(student: Student, _: Random) -> None:
    student.tap(3)
    student.page.close()
    student.reopen()


def _two_tabs(student: Student, _: Random) -> None:
    student.context.set_offline(True)
    student.tap(2)
    other = student.context.new_page()
    other.goto(student.where)
    other.locator(".pad .clean").wait_for()
    student.tap(2, other)
    student.context.set_offline(False)
    other.wait_for_timeout(300)
    other.close()


def _clock_set_back(student: Student, _: Random) -> None:
    student.tap()
    student.page.evaluate("() => { const now = Date.now; Date.now = () => now() - 86_400_000 }")
    student.tap(2)


def _new_version_offline(student: Student, random: Random) -> None:
    worker = Path(student.stage.env["CRUMB_WEB_DIR"]) / "sw.js"
    worker.write_text(f"{worker.read_text()}\n// {random.random()}\n")
    student.page.evaluate("() => navigator.serviceWorker.getRegistration().then((r) => r.update())")
    student.context.set_offline(True)
    student.tap(2)
    student.page.reload()
    student.page.locator(".pad .clean").wait_for()
    student.tap()
    student.context.set_offline(False)


KINDS: tuple[tuple[str, int, Callable[[Student, Random], None]], ...] = (
    ("server killed during a hand-in", 50, _server_killed),
    ("database killed", 20, _database_killed),
    ("answer lost on the way", 40, _answer_lost),
    ("network cut in a request", 40, _network_cut),
    ("tab closed in a count", 40, _tab_closed),
    ("the same outbox in two tabs", 20, _two_tabs),
    ("clock set back a day", 20, _clock_set_back),
    ("new version while offline", 10, _new_version_offline),
)


def main() -> int:
    """Hurt, count, compare and print; 1 if anything was lost or doubled."""
    folder = Path(tempfile.mkdtemp(prefix="crumb-page-"))
    shutil.copytree(ROOT / "web" / "dist", folder / "dist")
    folder.chmod(0o755)
    bad = 0
    try:
        with demo_stage(folder / "dist") as stage, a_browser() as browser:
            for place, (kind, trials, hurt) in enumerate(KINDS):
                name = people.roster()["Clarinets"][place]
                bad += _held(stage, browser.new_context(**PHONE), name, kind, trials, hurt)
    finally:
        shutil.rmtree(folder, ignore_errors=True)
    return 1 if bad else 0


def _held(stage: Stage, context: BrowserContext, name: str, *kind: Any) -> int:  # noqa: ANN401
    what, trials, hurt = kind
    student = Student(stage, context, name)
    random = Random(what)  # noqa: S311 - no secret
    before, _ = student.stored()
    for _ in range(trials):
        hurt(student, random)
    student.handed_in()
    count, different = student.stored()
    context.close()
    is_well = count - before == student.counted and count == different
    print(
        f"{what}: {trials} times; {student.counted} counted by the pad, {count - before} stored,"
        f" {count - different} twice",
        flush=True,
    )
    return 0 if is_well else 1
