"""The real thing: a server of its own with demo data, and Debian's Chromium."""

import os
import shutil
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from postgres import Cluster
from tests.conftest import ROOT, copied
from tests.e2e.serving import env_of, running, serve

# A busy machine is slow, not wrong.
expect.set_options(timeout=45_000)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
]


NOTE_EVERY_TONE = """
window.clicks = []
const start = OscillatorNode.prototype.start
OscillatorNode.prototype.start = function (at) {
  window.clicks.push({ at, pitch: this.frequency.value, type: this.type })
  return start.call(this, at)
}
"""


@pytest.fixture(scope="module")
def empty_url(database_url: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """A server whose school has yet to be made, and its worker."""
    files = tmp_path_factory.mktemp("files")
    with running("crumb.jobs.worker", [], env_of(database_url, files)):
        yield from serve(database_url, files)


@pytest.fixture(scope="session")
def demo_school(
    cluster: Cluster, template: str, tmp_path_factory: pytest.TempPathFactory
) -> Iterator[tuple[str, Path]]:
    """The demo data, made once: the name of its database, and its files."""
    shared = os.environ.get("CRUMB_TEST_DEMO")
    if shared:
        name, _, folder = shared.partition(":")
        yield name, Path(folder)
        return
    files = tmp_path_factory.mktemp("demo") / "files"
    with copied(cluster, template) as url:
        env = {**os.environ, "CRUMB_DATABASE_URL": url, "CRUMB_FILES_DIR": str(files)}
        # A second time changes nothing. The days of plans are laid out once for all copies.
        for made in ("crumb.demo.seed", "crumb.demo.seed", "crumb.jobs.upkeep"):
            subprocess.run([sys.executable, "-m", made], env=env, cwd=ROOT, check=True)
        yield url.rpartition("/")[2], files


@pytest.fixture(scope="module")
def demo_database(cluster: Cluster, demo_school: tuple[str, Path]) -> Iterator[str]:
    """A school of its own for each module, as the demo begins."""
    with copied(cluster, demo_school[0]) as url:
        yield url


@pytest.fixture(scope="module")
def demo_files(demo_school: tuple[str, Path], tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The files of the demo, a copy for each module."""
    files = tmp_path_factory.mktemp("files")
    return Path(shutil.copytree(demo_school[1], files, dirs_exist_ok=True))


@pytest.fixture(scope="module")
def demo_url(demo_database: str, demo_files: Path) -> Iterator[str]:
    """Serve it. No worker is there: see ``worker``."""
    yield from serve(demo_database, demo_files)


@pytest.fixture(scope="module")
def worker(demo_database: str, demo_files: Path) -> Iterator[None]:
    """Works the jobs of the demo off, for tests that bring music in, hand takes in or print."""
    with running("crumb.jobs.worker", [], env_of(demo_database, demo_files)):
        yield


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield opened
        opened.close()


@pytest.fixture
def desk(browser: Browser) -> Iterator[Page]:
    """A director's screen. What a new version keeps for a time without a network is no part of it:
    fetching 140 files for each test took a tenth of its time.
    """
    context = browser.new_context(viewport={"width": 1280, "height": 800}, service_workers="block")
    page = context.new_page()
    page.set_default_timeout(60_000)
    page.add_init_script(NOTE_EVERY_TONE)
    yield page
    context.close()


@pytest.fixture
def phone(browser: Browser) -> Iterator[Page]:
    """A student's screen, which writes down when each click was scheduled to sound."""
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    page = context.new_page()
    page.set_default_timeout(60_000)
    page.add_init_script(NOTE_EVERY_TONE)
    yield page
    context.close()
