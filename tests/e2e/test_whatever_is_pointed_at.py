"""Passages, joined chunks, other octaves; what was heard; the rhythm of a class."""

import re

import pytest
from playwright.sync_api import Browser, Page, expect

from crumb.demo import people
from tests.e2e.people import direct, pick, study

CLARINETS = people.roster()["Clarinets"]


def to_the_bench(desk: Page, url: str) -> None:
    direct(desk, url)
    desk.get_by_role("link", name="Open").first.click()
    expect(desk.locator(".brackets .tab").first).to_be_visible()
    desk.get_by_role("link", name="Drill bench").click()
    expect(desk.locator(".steps .score svg").first).to_be_visible()


def is_on(desk: Page, place: str) -> None:
    expect(desk.locator(".bench-main h2").first).to_have_text(re.compile(f" on {place}"))
    expect(desk.locator(".worked:not(.stale) .steps .score svg").first).to_be_visible()


@pytest.mark.full
def test_a_place_in_words_is_drilled_every_second_session_and_seen_on_the_wall(
    desk: Page, browser: Browser, demo_url: str
):
    to_the_bench(desk, demo_url)
    another = desk.get_by_label("Another place")
    another.fill("measure 900")
    another.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("no measure 900")
    another.fill("19 beat 3 to 21")
    another.press("Enter")
    is_on(desk, ".*21")
    desk.reload()  # it is in the address
    is_on(desk, ".*21")
    desk.get_by_role("button", name="Add to assignment").click()
    desk.get_by_role("link", name=re.compile("^Assign")).last.click()
    draft = desk.locator(".draft li")
    expect(draft).to_have_count(1)
    draft.get_by_label(re.compile("comes$")).click()
    desk.locator(".ant-select-item-option").filter(has_text="every 2nd session").click()
    send = desk.get_by_role("button", name="Send it")
    expect(send).to_be_enabled()
    send.click()
    expect(desk.get_by_role("heading", name="Assignments")).to_be_visible()
    student = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    study(student, demo_url, CLARINETS[6])
    expect(student.locator("ol.today li").filter(has_text="–21").first).to_be_visible()
    student.context.close()
    desk.get_by_role("link", name="Wall", exact=True).click()
    expect(desk.get_by_role("heading", name="Wall")).to_be_visible()
    pick(desk, "Section", "Clarinets")
    desk.locator("[data-cell]").first.focus()
    desk.keyboard.press("End")  # what was sent beside the map stands last
    expect(desk.locator(".wall-head .beside")).to_contain_text("21")


@pytest.mark.full
def test_joined_chunks_all_of_it_and_another_octave(desk: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    pick(desk, "Chunk", "13–14")
    is_on(desk, "13–14")
    desk.get_by_role("button", name="Joined with the next").click()
    is_on(desk, "13–16")
    desk.get_by_role("button", name="All of it").click()
    expect(desk.locator(".bench-main h2").first).to_have_text(re.compile("pickup to 1–64"))
    pick(desk, "Chunk", "3–4")
    is_on(desk, "3–4")
    desk.get_by_role("button", name="Octave up").click()
    expect(desk.get_by_role("alert").first).to_contain_text("comfortable range")
    desk.get_by_role("button", name="Octave down").click()
    expect(desk.get_by_text("3–4 an octave lower")).to_be_visible()
    is_on(desk, "3–4")


@pytest.mark.full
def test_what_was_heard_is_the_first_drill_on_the_bench_until_it_is_mended(
    desk: Page, demo_url: str
):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Wall", exact=True).click()
    expect(desk.get_by_role("heading", name="Wall")).to_be_visible()
    pick(desk, "Section", "Clarinets")
    desk.get_by_role("gridcell", name=re.compile(f"^{re.escape(CLARINETS[0])}, 13–14")).click()
    drawer = desk.get_by_role("dialog")
    expect(drawer.locator(".axes")).to_contain_text("All of it, at most")
    expect(drawer).to_contain_text("The seam into it")
    pick(desk, "Something heard", "It rushes or drags")
    expect(drawer.locator(".heard-line")).to_contain_text("First Click on the off-beat")
    desk.keyboard.press("Escape")
    desk.get_by_role("link", name="Music").click()
    desk.get_by_role("link", name="Open").first.click()
    desk.get_by_role("link", name="Drill bench").click()
    pick(desk, "Chunk", "13–14")
    first = desk.locator(".drill-list button").first
    expect(first).to_contain_text("Heard: It rushes or drags")
    desk.get_by_role("link", name="Wall", exact=True).click()
    pick(desk, "Section", "Clarinets")
    desk.get_by_role("gridcell", name=re.compile(f"^{re.escape(CLARINETS[0])}, 13–14")).click()
    drawer.get_by_role("button", name="Fixed").click()
    expect(drawer.locator(".heard-line")).to_have_count(0)


@pytest.mark.full
def test_a_class_has_a_weekly_rhythm_and_a_plan_only_for_some_passages(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Plans", exact=True).click()
    expect(desk.locator(".lead")).to_contain_text("players are likely to be ready")
    desk.get_by_role("link", name="Clarinets").first.click()
    expect(desk.locator(".plan-day").first).to_be_visible()
    pick(desk, "Weekly rhythm", "due Fri")
    weeks = desk.locator("table.weeks tbody tr")
    expect(weeks.first).to_contain_text("Fri")
    expect(weeks.last).to_contain_text("nothing new")
    desk.get_by_label("Festival tempo").fill("126")
    desk.get_by_label("Festival tempo").press("Enter")
    goals = desk.get_by_role("list", name="Tempos to be ready for")
    expect(goals.locator("li")).to_have_count(2)
    goals.get_by_role("button", name="Plan for it").click()
    expect(goals.locator("li").last).to_contain_text("planned for")
    added = desk.get_by_label("Add a passage")
    added.fill("9-12")
    added.press("Enter")
    expect(desk.locator(".passage")).to_contain_text("9–12")
    expect(desk.locator(".plan-day").first).not_to_contain_text("57–58")
    desk.get_by_role("button", name="Undo").click()
    expect(desk.locator(".passage")).to_have_count(0)
