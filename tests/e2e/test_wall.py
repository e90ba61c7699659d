"""The Wall by keys and by hand: several cells at once, filters, a page that is printed."""

import re

import pytest
from playwright.sync_api import Page, Route, expect

from crumb.demo import people
from tests.e2e.people import direct, pick

CLARINETS = people.roster()["Clarinets"]


def on_the_wall(desk: Page, url: str) -> None:
    direct(desk, url)
    desk.get_by_role("link", name="Wall", exact=True).click()
    pick(desk, "Section", "Clarinets")
    pick(desk, "Part", "Lantern Etude · Clarinet in B♭")
    expect(desk.locator(".wall-row").first).to_be_visible()


def test_a_block_of_cells_gets_a_drill_in_one_act(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    desk.locator('[data-cell="1 1"]').click(modifiers=["ControlOrMeta"])
    desk.locator('[data-cell="3 2"]').click(modifiers=["Shift"])
    bar = desk.get_by_role("region", name="Chosen cells")
    expect(bar.get_by_role("status")).to_have_text("3 students on 2 chunks")
    bar.get_by_role("button", name="Send a drill").click()
    bar.get_by_role("button", name="Send", exact=True).click()
    expect(desk.get_by_text(re.compile("3–4, 5–6: sent to 3"))).to_be_visible()


@pytest.mark.full
def test_cells_are_chosen_by_keys_and_heard_one_after_the_other(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    desk.locator('[data-cell="0 0"]').focus()
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press(" ")
    desk.keyboard.press("Shift+ArrowDown")
    expect(desk.get_by_role("status").filter(has_text="2 students on 1 chunk")).to_be_visible()
    desk.get_by_role("button", name="Hear them").click()
    expect(desk.get_by_text("2 chosen on the Wall.")).to_be_visible()
    expect(desk.locator(".queue li")).to_have_count(2)
    expect(desk.locator(".queue")).to_contain_text(CLARINETS[1])
    desk.get_by_role("button", name="Hear everybody").click()
    expect(desk.locator(".queue li")).to_have_count(12)


def test_the_far_end_is_a_key_away_and_a_cell_opens_with_enter(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    desk.locator('[data-cell="0 0"]').focus()
    desk.keyboard.press("Control+End")
    last = desk.locator(":focus")
    expect(last).to_have_attribute("aria-label", re.compile(f"^{re.escape(CLARINETS[-1])}, "))
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("dialog")).to_contain_text(CLARINETS[-1])


@pytest.mark.full
def test_tab_leads_in_where_one_looks_and_arrows_go_on_from_there(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    desk.evaluate("() => document.querySelector('.wall-scroll').scrollTo(3000, 0)")
    expect(desk.locator('[data-cell="0 0"]')).to_have_count(0)
    desk.get_by_role("button", name="Choose several cells").focus()
    desk.keyboard.press("Tab")
    first = desk.locator("[data-cell]:focus")
    expect(first).to_have_attribute("data-cell", re.compile("^0 [1-9]"))
    column = int((first.get_attribute("data-cell") or "").split()[1])
    desk.keyboard.press("ArrowRight")
    expect(desk.locator("[data-cell]:focus")).to_have_attribute("data-cell", f"0 {column + 1}")


@pytest.mark.full
def test_of_a_very_large_section_the_first_are_there_before_everybody(desk: Page, demo_url: str):
    def as_if_there_were_more(route: Route) -> None:
        answer = route.fetch()
        some = answer.json()
        route.fulfill(response=answer, json={**some, "rows": some["rows"][:3], "standings": []})

    waiting: list[Route] = []

    def hold(route: Route) -> None:
        waiting.append(route)

    desk.route(re.compile(r"/api/wall/[^/]+/[^/]+\?.*first="), as_if_there_were_more)
    desk.route(re.compile(r"/api/wall/[^/]+/[^/]+\?depth=0$"), hold)
    on_the_wall(desk, demo_url)
    expect(desk.locator(".wall-row")).to_have_count(3)
    expect(desk.get_by_role("button", name="CSV")).to_be_disabled()
    pick(desk, "Show", "What is open")
    expect(desk.get_by_text("Loading everybody’s evidence")).to_be_visible()
    for route in waiting:
        route.continue_()
    expect(desk.locator(".wall-row").nth(3)).to_be_visible()
    pick(desk, "Show", "Everything")
    expect(desk.locator(".wall-row")).to_have_count(12)
    expect(desk.locator(".wall-foot")).to_contain_text("of 12 at 5 or more")
    expect(desk.get_by_role("button", name="CSV")).to_be_enabled()


@pytest.mark.full
def test_what_is_not_begun_is_all_that_is_shown(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    pick(desk, "Show", "Not begun")
    expect(desk.locator(".wall-row")).not_to_have_count(12)
    expect(desk.locator(".wall-row").first).to_be_visible()
    expect(desk.locator(".wall-row .level-0").first).to_be_visible()
    desk.get_by_role("textbox", name="Student").fill("nobody of that name")
    expect(desk.get_by_text("No student here has that.")).to_be_visible()


@pytest.mark.full
def test_the_whole_wall_goes_on_one_printed_page(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    columns = int(desk.get_by_role("grid").get_attribute("aria-colcount") or 0)
    desk.evaluate("() => window.dispatchEvent(new Event('beforeprint'))")
    printed = desk.locator("table.wall-print")
    expect(printed.locator("tbody tr")).to_have_count(12)
    expect(printed.locator("thead th")).to_have_count(columns)
    sheet = desk.pdf(prefer_css_page_size=True)
    assert sheet.count(b"/Type /Page\n") + sheet.count(b"/Type /Page ") <= 1


@pytest.mark.full
def test_a_piece_leads_to_the_part_and_a_student_to_their_music(desk: Page, demo_url: str):
    on_the_wall(desk, demo_url)
    desk.get_by_title("Piece", exact=True).click()
    pick(desk, "Piece", "Saltgrass March")
    pick(desk, "Sections", "Flutes")
    expect(desk.locator(".wall-row").first).to_contain_text("Flutes")
    desk.locator('[data-cell="0 0"]').click()
    expect(desk.get_by_role("dialog")).to_be_visible()
    desk.keyboard.press("Escape")
    desk.get_by_title("Student", exact=True).click()
    expect(desk.locator(".my-sheet g.measure").first).to_be_visible()
    desk.get_by_role("list", name="Chunks").get_by_role("button").first.click()
    expect(desk.get_by_role("dialog")).to_be_visible()
