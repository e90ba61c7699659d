"""Take one picture of each main view from a running demo: ``python tools/screenshots.py [URL]``."""

import re
import sys
from io import BytesIO
from pathlib import Path

from playwright.sync_api import Browser, Page, ViewportSize, sync_playwright
from pypdf import PdfReader

from crumb.demo import people

TARGET = Path(__file__).parent.parent / "docs" / "screenshots"
FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-sync"]
WIDE: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}


def shoot(page: Page, name: str) -> None:
    """One picture of what is on the screen, once nothing loads."""
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(500)
    page.screenshot(path=TARGET / f"{name}.png")


def director(browser: Browser, url: str) -> None:
    """The director's views."""
    page = browser.new_page(viewport=WIDE)
    page.goto(url)
    page.get_by_text("I direct").click()
    _, email, password = people.DIRECTOR
    page.get_by_label("Email").fill(email)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="To my program").click()
    page.locator(".desk-lines li").first.wait_for()
    page.get_by_label("Suggested rehearsal").wait_for()
    page.get_by_text("likely ready").wait_for(timeout=60_000)
    shoot(page, "desk")
    page.get_by_role("link", name="Rehearse", exact=True).click()
    page.locator(".rehearsal").wait_for()
    shoot(page, "rehearse")
    page.get_by_role("link", name="Desk", exact=True).click()
    page.get_by_role("link", name="Hear them").first.click()
    page.locator(".take-player").wait_for()
    page.locator(".queue button", has_text="Fia H.").click()
    page.wait_for_timeout(1_000)
    page.keyboard.press("b")
    page.locator(".judged g.note .notehead").nth(5).click(force=True)
    page.keyboard.press("e")
    page.keyboard.press("5")
    shoot(page, "hearing")
    page.get_by_role("link", name="Music", exact=True).click()
    page.get_by_role("heading", name="Music").wait_for()
    shoot(page, "music")
    march = page.locator("li.piece").filter(has_text="Saltgrass March")
    march.get_by_role("link", name="The whole score").click()
    page.locator("table.passages").wait_for()
    shoot(page, "score")
    page.get_by_role("link", name="Music", exact=True).click()
    page.get_by_role("link", name="Open").first.click()
    page.locator(".tab-text").first.wait_for()
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowDown")
    page.wait_for_timeout(600)
    shoot(page, "splitter")
    for _ in range(5):
        page.keyboard.press("ArrowDown")
    page.get_by_role("tab", name="Survey").click()
    page.locator(".drill-link").click()
    page.locator(".steps .score svg").first.wait_for()
    page.get_by_label("Find a drill").fill("set of rhythms")
    page.locator(".drill-list button").first.click()
    page.get_by_role("heading", name=re.compile("^Standard set")).wait_for()
    page.get_by_label("Find a drill").fill("")
    shoot(page, "drill-bench")
    page.get_by_role("button", name="Add to assignment").click()
    page.keyboard.press("1")
    page.wait_for_timeout(400)
    page.get_by_role("button", name="Add to assignment").click()
    page.get_by_role("link", name=re.compile("^Assign")).last.click()
    page.get_by_role("table").first.wait_for()
    for section in ("Flutes", "Horns", "Percussion"):
        page.get_by_label("Sections").fill(section)
        page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    page.wait_for_timeout(4500)  # until the notices have gone
    shoot(page, "assign")
    page.get_by_role("link", name="Plans", exact=True).click()
    page.get_by_role("link", name="Clarinets").first.click()
    page.locator(".plan-day").first.wait_for()
    shoot(page, "plan")
    page.get_by_role("link", name="Assignments").click()
    page.get_by_role("button", name=re.compile("^Print sheets")).first.click()
    link = page.get_by_role("link", name=re.compile("^Open the sheets"))
    link.wait_for(timeout=60_000)
    shoot(page, "assignments")
    pdf = page.request.get(url + (link.get_attribute("href") or "")).body()
    code = re.search(r"sheet ([A-Z0-9]{6})", PdfReader(BytesIO(pdf)).pages[0].extract_text())
    page.goto(f"{url}/sheets/{code[1] if code else ''}")
    page.locator(".ticks").first.wait_for()
    page.locator(".ticks").first.get_by_role("button").nth(3).click()
    page.goto(f"{url}/sent")
    page.get_by_role("link", name="See the Wall").first.click()
    page.locator(".wall-row").first.wait_for()
    shoot(page, "wall")
    page.locator("[data-cell]").first.focus()
    page.get_by_role("gridcell", name=re.compile("^Fia .*13–14")).click()
    page.locator(".evidence-why").wait_for()
    shoot(page, "evidence")
    page.keyboard.press("Escape")
    page.get_by_role("link", name="People").click()
    page.locator(".roster").first.wait_for()
    shoot(page, "people")
    page.close()


def student(browser: Browser, url: str) -> None:
    """The student's views, at phone width."""
    page = browser.new_page(viewport=PHONE)
    page.goto(url)
    page.get_by_label("Class code").fill(people.CLASS_CODE)
    page.get_by_label("Your name").fill(people.roster()["Clarinets"][3])
    page.get_by_label("PIN").fill(people.PIN)
    page.get_by_role("button", name="To my music").click()
    page.locator(".today li").first.wait_for()
    shoot(page, "today")
    page.locator(".big-start").click()
    page.locator(".stand-music svg").first.wait_for()
    page.get_by_role("button", name="Back to today").click()
    page.locator("ol.today a").first.wait_for()
    count = page.locator("ol.today a").count()
    for place in range(count):  # the first that is written music; the last, if none is
        page.locator("ol.today a").nth(place).click()
        page.locator(".stand-music svg").first.wait_for()
        if page.locator(".stand-music g.note[id^='n']").count() or place == count - 1:
            break
        page.get_by_role("button", name="Back to today").click()
    page.keyboard.press("ArrowRight")
    page.wait_for_timeout(9_000)
    page.keyboard.press("ArrowLeft")
    notes = page.locator(".stand-music g.note .notehead")
    if notes.count():
        notes.first.click(force=True)
    shoot(page, "stand")
    page.get_by_role("button", name="Back to today").click()
    page.get_by_role("link", name=re.compile("end of today")).click()
    page.locator(".proud").wait_for()
    shoot(page, "done")
    page.get_by_role("link", name="Back to today").click()
    page.get_by_role("link", name="My music").click()
    page.locator(".my-chunks li").first.wait_for()
    shoot(page, "my-music")
    page.get_by_role("link", name="Takes").click()
    page.get_by_role("region", name="Handed in").wait_for()
    shoot(page, "takes")
    page.get_by_role("link", name="My music").click()
    page.get_by_role("link", name="Look and mark").first.click()
    page.locator(".my-sheet svg g.measure").first.wait_for()
    shoot(page, "my-score")
    page.close()


def main(url: str) -> None:
    """All of them."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        director(browser, url)
        student(browser, url)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8327")
