"""What a director does beside the main story: refusals, taking back, new PINs, a table to keep."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from crumb.demo import people
from tests.e2e.bench import choose, look_at_all
from tests.e2e.people import direct, pick, study

CLARINETS = people.roster()["Clarinets"]


@pytest.mark.full
def test_a_drill_that_does_not_fit_says_so_in_place_of_notation(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Open").first.click()
    expect(desk.locator(".brackets .tab").first).to_be_visible()
    desk.get_by_role("link", name="Drill bench").click()
    # Quickly one after the other: the second choice does not undo the first.
    pick(desk, "Chunk", "33–34")
    look_at_all(desk)
    desk.get_by_role("button", name=re.compile("^Short-long ")).click()
    expect(desk.get_by_role("alert")).to_contain_text("four equal notes in a row")
    expect(desk.locator(".steps > li")).to_have_count(0)
    expect(desk.get_by_role("button", name="Add to assignment")).to_be_disabled()
    desk.get_by_label("Tempo start").fill("140")
    desk.get_by_label("Tempo start").blur()
    desk.get_by_role("button", name=re.compile("^Alone")).first.click()
    expect(desk.get_by_role("alert")).to_contain_text("above its goal")


def test_an_assignment_can_be_taken_back_and_sent_again(
    desk: Page, browser: Browser, demo_url: str
):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Assignments").click()
    desk.get_by_role("button", name="Take back").click()
    expect(desk.locator("li.withdrawn")).to_contain_text("What students played is kept")
    student = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    study(student, demo_url, CLARINETS[0])
    by_hand = student.get_by_role("heading", name="Sent by your director")
    expect(student.get_by_role("heading", name=re.compile("^Lantern Etude"))).to_be_visible()
    expect(by_hand).to_have_count(0)  # the plan goes on
    desk.get_by_role("button", name="Send again").click()
    expect(desk.locator("li.withdrawn")).to_have_count(0)
    student.reload()
    expect(by_hand).to_be_visible()
    expect(student.locator("ol.today").last.locator("li")).to_have_count(9)
    student.context.close()


@pytest.mark.full
def test_a_lost_pin_is_replaced(desk: Page, browser: Browser, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="People").click()
    row = desk.locator(".names li").filter(has_text=CLARINETS[5])
    row.get_by_role("button", name="New PIN").click()
    pin = desk.locator(".pins li").filter(has_text=CLARINETS[5]).locator(".code").inner_text()
    assert re.fullmatch(r"\d{6}", pin)
    student = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    study(student, demo_url, CLARINETS[5], pin)
    student.context.close()


@pytest.mark.full
def test_the_wall_can_be_kept_as_a_table(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Assignments").click()
    desk.get_by_role("link", name="See the Wall").click()
    expect(desk.locator(".wall")).to_be_visible()
    with desk.expect_download() as download:
        desk.get_by_role("button", name="CSV").click()
    lines = Path(download.value.path()).read_text().splitlines()
    assert len(lines) == 13
    assert lines[0].startswith('"Student","pickup to 1–2→"')
    cells = lines[1].split(",")
    assert set(cells[1:]) <= set("0123456")


@pytest.mark.usefixtures("worker")
def test_a_goal_changed_on_the_part_moves_levels_on_the_wall(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Open").first.click()
    goal = desk.get_by_label("Goal tempo")
    goal.fill("138")
    with desk.expect_response(re.compile("/goal$")) as answer:
        goal.press("Enter")
    assert answer.value.ok, answer.value.text()
    expect(desk.get_by_text("quarters a minute")).to_be_visible()
    desk.get_by_role("link", name="Assignments").click()
    desk.get_by_role("link", name="See the Wall").click()
    expect(desk.locator(".wall")).to_be_visible()
    # Twelve players' weeks are recomputed beside; the wall says how far that is.
    expect(desk.get_by_text("is working these levels out again")).to_have_count(0, timeout=90_000)
    expect(desk.locator(".wall-row .level-5")).to_have_count(0)
    expect(desk.locator(".wall-row").locator(".level-3, .level-4").first).to_be_visible()


@pytest.mark.full
def test_the_tray_keeps_its_order_and_survives_a_reload(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Open").first.click()
    desk.get_by_role("link", name="Drill bench").click()
    choose(desk, "alone", "Alone")
    desk.get_by_role("button", name="Add to assignment").click()
    choose(desk, "backward", "Backward chain")
    desk.get_by_role("button", name="Add to assignment").click()
    desk.get_by_role("link", name=re.compile("^Assign")).last.click()
    draft = desk.locator(".draft li")
    expect(draft.nth(0)).to_contain_text("Alone")
    draft.nth(1).get_by_role("button", name=re.compile("earlier")).click()
    expect(draft.nth(0)).to_contain_text("Backward chain")
    desk.reload()
    expect(draft.nth(0)).to_contain_text("Backward chain")
    expect(desk.get_by_label("Sections")).to_be_visible()
    expect(desk.locator(".sections-field")).to_contain_text("Clarinets")
    draft.nth(0).get_by_role("button", name=re.compile("^Take out")).click()
    expect(draft).to_have_count(1)


def test_a_session_that_ran_out_leads_to_the_sign_in(desk: Page, demo_url: str):
    direct(desk, demo_url)
    sign_in = desk.get_by_label("Class code")
    desk.context.clear_cookies()
    # Whatever is still asked for leads there by itself.
    desk.get_by_role("link", name="People").or_(sign_in).first.click()
    expect(sign_in).to_be_visible()


@pytest.mark.full
def test_a_page_that_is_not_there_leads_home(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.goto(f"{demo_url}/no/such/page")
    expect(desk.get_by_role("heading", name="Desk")).to_be_visible()
    desk.goto(f"{demo_url}/parts/00000000-0000-4000-8000-000000000000/split")
    expect(desk.get_by_role("alert")).to_contain_text("no such part")
