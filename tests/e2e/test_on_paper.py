"""Music on paper: added, divided, sent, practised from one's own page, on the Wall."""

import re

from playwright.sync_api import Page, expect

from crumb.demo import people
from tests.e2e.people import direct, pick, play_on, study, taken_in, with_time

FLUTES = people.roster()["Flutes"]
TITLE = "Evening Chorale"


def test_the_director_says_how_many_measures_there_are(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("button", name="Music on paper").click()
    dialog = desk.get_by_role("dialog")
    dialog.get_by_role("button", name="Add it").click()
    expect(dialog).to_contain_text("What is the piece called?")
    dialog.get_by_label("Title").fill(TITLE)
    pick(desk, "Played on", "Flute")
    dialog.get_by_label("Full measures").fill("24")
    dialog.get_by_label("Time").fill("3/5")
    dialog.get_by_label("Beats of pickup").fill("1")
    dialog.get_by_label("Letters and their measures").fill("A 9, B 17")
    dialog.get_by_role("button", name="Add it").click()
    expect(dialog.get_by_role("alert")).to_contain_text("no time signature")
    expect(dialog.get_by_label("Title")).to_have_value(TITLE)
    dialog.get_by_label("Time").fill("3/4")
    dialog.get_by_role("button", name="Add it").click()
    expect(dialog).not_to_be_visible()
    piece = desk.locator("li.piece").filter(has_text=TITLE)
    expect(piece).to_contain_text("on paper")
    expect(piece).to_contain_text("25 with pickup, last is 24")
    expect(piece).to_contain_text("Flutes")


def test_it_is_divided_drilled_and_sent(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.locator("li.piece").filter(has_text=TITLE).get_by_role("link", name="Open").click()
    expect(desk.locator(".sheet g.measure")).to_have_count(25)
    desk.get_by_label("Measures in a chunk").fill("8")
    desk.get_by_role("button", name="Split the part").click()
    expect(desk.locator(".brackets .tab-text")).to_have_text(["›1–8", "9–16", "17–24"])
    desk.get_by_role("link", name="Drill bench").click()
    expect(desk.get_by_role("heading", name=re.compile(" on pickup to 1–8"))).to_be_visible()
    desk.locator("h1").click()
    desk.keyboard.press("ArrowRight")
    desk.get_by_label("Find a drill").fill("measure by measure")
    desk.locator(".drill-list button").filter(has_text="Measure by measure").first.click()
    expect(desk.get_by_role("heading", name="Measure by measure on 9–16")).to_be_visible()
    expect(desk.locator(".figures")).to_contain_text("on paper")
    expect(desk.locator(".steps > li")).to_have_count(15)
    desk.get_by_role("button", name="Add to assignment").click()
    desk.get_by_role("link", name=re.compile("^Assign")).last.click()
    expect(desk.get_by_role("table").locator("tbody tr")).to_have_count(8)
    desk.get_by_role("button", name="Send it").click()
    expect(desk.get_by_role("heading", name=f"Flutes: {TITLE}")).to_be_visible()


def test_a_student_plays_it_from_the_page(phone: Page, demo_url: str):
    with_time(phone)
    study(phone, demo_url, FLUTES[0])
    phone.get_by_role("button", name="Start with 9–16").tap()
    expect(phone.locator(".on-paper")).to_contain_text("From your own part")
    expect(phone.locator(".on-paper strong")).to_have_text("9")
    count = phone.locator(".pips em")
    play_on(phone)
    with phone.expect_response(taken_in):
        phone.get_by_role("button", name="Clean").tap()
    expect(count).to_have_text("1 of 3 in a row")
    expect(phone.locator(".unsent")).to_have_count(0)
    phone.reload()
    expect(count).to_have_text("1 of 3 in a row")


def test_the_wall_shows_it_like_any_other(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Assignments").click()
    card = desk.locator("li.piece").filter(has_text=TITLE)
    card.get_by_role("link", name="See the Wall").click()
    cell = desk.get_by_role("gridcell", name=re.compile(rf"^{re.escape(FLUTES[0])}, 9–16"))
    expect(cell).to_be_visible()
