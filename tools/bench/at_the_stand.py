"""The demo school on a stage of its own, and a student's browser in front of it."""

import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, BrowserContext, Page, sync_playwright

from bench.stage import ROOT, Stage
from crumb.demo import people

FLAGS = ["--no-sandbox", "--disable-gpu", "--no-first-run", "--disable-background-networking"]
PHONE: dict[str, Any] = {"viewport": {"width": 390, "height": 844}, "has_touch": True}


@contextmanager
def demo_stage(web: Path | None = None, servers: int = 2) -> Iterator[Stage]:
    """A stage with the demo's data; ``web``: another built page than the usual one."""
    with Stage() as stage:
        if web is not None:
            stage.env["CRUMB_WEB_DIR"] = str(web)
        subprocess.run(
            [sys.executable, "-m", "crumb.demo.seed"], cwd=ROOT, env=stage.env, check=True
        )
        stage.serve(servers)
        stage.work()
        yield stage


@contextmanager
def a_browser() -> Iterator[Browser]:
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        opened = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield opened
        opened.close()


def sign_in(context: BrowserContext, url: str, name: str) -> Page:
    """A student of the demo, before their day."""
    page = context.new_page()
    page.set_default_timeout(60_000)
    page.goto(url)
    page.get_by_label("Class code").fill(people.CLASS_CODE)
    page.get_by_label("Your name").fill(name)
    page.get_by_label("PIN").fill(people.PIN)
    page.get_by_role("button", name="To my music").click()
    page.locator("ol.today a").first.wait_for()
    return page


def keep_day(page: Page) -> None:
    """Wait until the day is on the device."""
    page.get_by_text("opens without a network").wait_for()
    page.wait_for_timeout(1_200)


def open_stand(page: Page) -> None:
    """The first drill of the day."""
    page.locator("ol.today a").nth(1).click()
    page.locator(".stand-music svg").first.wait_for()
