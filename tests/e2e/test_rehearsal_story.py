"""A director's evening and the rehearsal after it: the Desk, the score, the room, the way home."""

import re
from io import BytesIO

import pytest
from playwright.sync_api import Browser, Page, expect
from pypdf import PdfReader

from crumb.demo import people
from tests.e2e.people import direct, study
from tests.e2e.test_views import assert_accessible

HORNS = people.roster()["Horns"]


def to_the_score(page: Page, url: str) -> None:
    direct(page, url)
    march = page.locator("li.piece").filter(has_text="Saltgrass March")
    march.get_by_role("link", name="The whole score").click()
    expect(page.locator("table.passages")).to_be_visible()


@pytest.mark.full
def test_the_desk_comes_first_and_a_line_is_put_off_and_back(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Crumb, first page").click()
    expect(desk.get_by_role("heading", name="Desk")).to_be_visible()
    # Not the line of the takes: it comes back as soon as one more of them is ready.
    idle = desk.locator(".desk-lines li").filter(has_text="have not practiced")
    idle.get_by_role("button", name=re.compile("^Put off")).click()
    expect(idle).to_have_count(0)
    expect(desk.get_by_text("1 put off.")).to_be_visible()
    desk.get_by_role("button", name="Undo").click()
    expect(idle).to_have_count(1)
    expect(desk.get_by_label("Suggested rehearsal")).to_contain_text("Saltgrass March")
    expect(desk.get_by_label("Dates")).to_contain_text("19 days")


@pytest.mark.full
def test_a_passage_is_split_for_everybody_and_put_back(desk: Page, demo_url: str):
    to_the_score(desk, demo_url)
    desk.get_by_label("Passage").fill("R")
    desk.get_by_label("How to split").click()
    desk.locator(".ant-select-item-option").filter(has_text="by phrases").click()
    desk.get_by_role("button", name="in every part").click()
    notice = desk.locator(".ant-message")
    expect(notice).to_contain_text(re.compile(r"Split in \d+ parts; .*Snare drum rest there"))
    desk.get_by_role("button", name="Undo").click()
    expect(notice).to_contain_text("The chunks are as they were.")
    desk.get_by_label("Passage").fill("Z")
    desk.get_by_role("button", name="in every part").click()
    expect(desk.locator(".split-together").get_by_role("alert")).to_contain_text("Z")


def test_from_the_plan_through_the_room_to_the_home_list(
    desk: Page, browser: Browser, demo_url: str
):
    to_the_score(desk, demo_url)
    desk.get_by_role("link", name="Rehearse it").click()
    rows = desk.locator(".rehearsal > li")
    expect(rows.first).to_contain_text("Warm-up")
    desk.get_by_label("Minutes").fill("20")
    desk.get_by_label("Minutes").press("Enter")
    expect(desk.get_by_text("20 of 20 minutes.")).to_be_visible()
    given = [int(text) for text in desk.locator(".rehearsal .mins strong").all_inner_texts()]
    assert sum(given) == 20
    expect(rows.nth(1)).to_contain_text(re.compile(r"\d+ in the room cannot play it yet"))
    desk.get_by_role("button", name="Use this plan").click()
    expect(desk.get_by_role("button", name="On the podium")).to_be_visible()
    assert_accessible(desk, "a kept plan")
    paper = PdfReader(BytesIO(desk.pdf(format="Letter")))
    assert len(paper.pages) == 1
    printed = paper.pages[0].extract_text()
    assert "Warm-up" in printed
    assert "Print" not in printed
    desk.get_by_role("button", name="On the podium").click()
    now = desk.get_by_label("Now")
    expect(now).to_contain_text("Warm-up")
    expect(now).to_contain_text("Next: ")
    assert_accessible(desk, "the podium")
    for _ in range(len(given)):
        desk.keyboard.press("PageDown")
    after = desk.get_by_label("What you did")
    after.get_by_role("button", name="1×").first.click()
    after.get_by_text("Everybody was there").click()
    after.get_by_label(HORNS[0]).uncheck()
    assert_accessible(desk, "what was done")
    after.get_by_role("button", name="Save it").click()
    home = desk.get_by_label("Home list")
    expect(home).to_contain_text("×2 more")
    expect(home).to_contain_text("Horns")
    home.get_by_role("button", name="Send it home").click()
    expect(home.get_by_role("status")).to_contain_text(re.compile(r"Horns: sent to 4"))
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    phone = context.new_page()
    study(phone, demo_url, HORNS[0])
    expect(phone.locator("ol.today, .today").first).to_contain_text("Saltgrass March")
    context.close()
    desk.get_by_role("link", name="Rehearse", exact=True).click()
    expect(desk.get_by_label("Saved rehearsals")).to_contain_text("work to take home")


@pytest.mark.full
def test_a_section_is_heard_by_keys_and_one_cure_goes_to_who_needs_it(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Hearing", exact=True).click()
    expect(desk.locator(".judged svg").first).to_be_visible()
    name = desk.locator(".hearing h2")
    queue = desk.get_by_label("Students waiting").get_by_role("button")
    first = name.inner_text()
    desk.locator(".judged g.note .notehead").nth(4).click(force=True)
    expect(desk.locator(".judged .slipped")).to_have_count(1)
    desk.keyboard.press("e")
    expect(desk.get_by_role("button", name=re.compile("^Rhythm"))).to_have_attribute(
        "aria-pressed", "true"
    )
    desk.keyboard.press("2")
    expect(desk.get_by_role("button", name=re.compile("^Keep"))).to_be_disabled()
    desk.get_by_label("Why the level goes down").fill("The rest is cut short.")
    desk.get_by_label("First: what went well").fill("Clear notes")
    assert_accessible(desk, "hearing")
    desk.get_by_role("button", name=re.compile("^Keep")).click()
    expect(desk.locator(".ant-message")).to_contain_text("to 2.")
    expect(name).not_to_have_text(first)
    second = name.inner_text()
    desk.get_by_role("group", name="Music").click(position={"x": 3, "y": 3})
    desk.locator(".judged g.note .notehead").nth(4).click(force=True)
    desk.keyboard.press("e")
    desk.get_by_role("button", name="Level 3, steady").click()
    desk.get_by_label("Why the level goes down").fill("The same.")
    desk.get_by_role("button", name=re.compile("^Keep")).click()
    expect(name).not_to_have_text(second)
    several = desk.get_by_label("Heard from several")
    expect(several).to_contain_text("A wrong rhythm")
    several.get_by_role("button", name=re.compile("to these 2$")).click()
    expect(desk.locator(".ant-message")).to_contain_text("sent to 2")
    expect(queue.first).to_be_visible()


@pytest.mark.full
@pytest.mark.parametrize("size", [(390, 844)])
def test_the_podium_on_a_phone(browser: Browser, demo_url: str, size: tuple[int, int]):
    context = browser.new_context(viewport={"width": size[0], "height": size[1]}, has_touch=True)
    page = context.new_page()
    direct(page, demo_url)
    page.get_by_role("link", name="Rehearse", exact=True).click()
    page.get_by_role("button", name="Use this plan").click()
    page.get_by_role("button", name="On the podium").click()
    for part in (page.locator(".now h2"), page.locator(".now .left")):
        expect(part).to_be_in_viewport()
    page.get_by_role("button", name="Next").click()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    assert_accessible(page, "the podium on a phone")
    context.close()
