"""From the bench to paper: a drill chosen, changed, heard, sent, printed, typed in again."""

import re
from io import BytesIO
from itertools import pairwise
from typing import Any

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.e2e.bench import choose, look_at_all
from tests.e2e.people import direct, pick, study

pytestmark = pytest.mark.usefixtures("worker")


def to_the_bench(page: Page, url: str) -> None:
    direct(page, url)
    page.get_by_role("link", name="Open").first.click()
    page.locator(".tab-text").first.wait_for()
    page.goto(page.url.replace("/split", "/bench"))
    page.locator(".steps .score svg").first.wait_for()


def tones(page: Page) -> list[dict[str, Any]]:
    return page.evaluate("window.clicks")


@pytest.mark.full
def test_the_bench_ranks_changes_and_refuses(desk: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    first = desk.locator(".drill-list button").first
    expect(first).to_have_attribute("aria-pressed", "true")
    assert first.locator("small").first.inner_text()
    # Another setting, another engraving.
    choose(desk, "hold one", "Hold one of each group")
    before = desk.locator(".steps .score").first.inner_html()
    desk.get_by_label("Hold note").fill("2")
    expect(desk.locator(".step-head").first).to_contain_text("Hold 2 of 4")
    assert desk.locator(".steps .score").first.inner_html() != before
    # Younger players get fewer passes.
    choose(desk, "standard set", "Standard set of rhythms")
    expect(desk.locator(".steps > li")).to_have_count(5)
    desk.get_by_text("Beginner", exact=True).click()
    expect(desk.locator(".steps > li")).to_have_count(2)
    desk.get_by_text("Middle", exact=True).click()
    # What does not fit says why and offers what does.
    look_at_all(desk)
    desk.get_by_role("button", name=re.compile("^Voices apart")).click()
    expect(desk.get_by_role("alert")).to_contain_text("One line only")
    desk.get_by_role("alert").get_by_role("button").first.click()
    expect(desk.locator(".steps .score svg").first).to_be_visible()


@pytest.mark.full
def test_a_drill_is_heard_on_the_audio_clock_with_count_in_and_click(desk: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    pick(desk, "Chunk", "13–14")
    choose(desk, "long-short", "Long-short")
    desk.get_by_label("Tempo to listen at").fill("240")
    desk.get_by_label("Tempo to listen at").blur()
    desk.get_by_role("button", name=re.compile("^Listen to step 1")).click()
    sounding = desk.locator(".steps .sounding")
    expect(sounding.first).to_be_visible()
    for _ in range(60):
        if len(tones(desk)) > 16:
            break
        desk.wait_for_timeout(100)
    desk.get_by_role("button", name=re.compile("^Stop step 1")).click()
    heard = tones(desk)
    plain = [t for t in heard if t["type"] == "triangle"]
    count_in = [t["at"] for t in plain if round(t["pitch"]) == 1320]
    clicks = [t["at"] for t in plain if round(t["pitch"]) == 880]
    notes = [t["at"] for t in heard if t["type"] == "custom"]
    assert len(count_in) == 4
    beat = 60 / 240
    gaps = [b - a for a, b in pairwise(count_in)]
    assert all(abs(gap - beat) < 1e-3 for gap in gaps)
    assert abs(clicks[0] - count_in[-1] - beat) < 1e-3
    # Dotted: three quarters of a beat, then one quarter, on the sound card's own clock.
    lengths = [b - a for a, b in pairwise(notes)][:4]
    for length, share in zip(lengths, (0.75, 0.25, 0.75, 0.25), strict=True):
        assert abs(length - beat * share) < 2e-3
    before = len(tones(desk))
    desk.wait_for_timeout(500)
    assert len(tones(desk)) == before  # stopped is stopped


@pytest.mark.full
def test_the_whole_part_is_heard_at_a_share_of_goal(desk: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    listen = desk.get_by_role("region", name="Reference sound of the whole part")
    listen.get_by_role("button", name=re.compile("^80 %")).click()
    listen.get_by_role("button", name="Stop").wait_for()
    for _ in range(40):
        if len(tones(desk)) > 3:
            break
        desk.wait_for_timeout(100)
    listen.get_by_role("button", name="Stop").click()
    assert len(tones(desk)) > 3


@pytest.mark.full
def test_a_recipe_is_used_kept_and_taken_off(desk: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    desk.get_by_role("button", name=re.compile("^Use Beginners on")).click()
    expect(desk.get_by_text("ready to assign on").first).to_be_visible()
    desk.get_by_label("Name of the recipe").fill("Wednesday")
    desk.get_by_role("button", name="Save as a recipe").click()
    kept = desk.locator(".recipes li").filter(has_text="Wednesday")
    expect(kept).to_be_visible()
    with desk.expect_download() as download:
        kept.get_by_role("button", name="Save Wednesday as a file").click()
    path = download.value.path()
    kept.get_by_role("button", name="Remove Wednesday from the list").click()
    expect(kept).to_have_count(0)
    desk.get_by_label("Recipe file").set_input_files(path)
    expect(kept).to_be_visible()


def test_a_drill_goes_to_a_mixed_class_on_paper_and_back(desk: Page, phone: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    choose(desk, "alone", "Alone")
    desk.get_by_role("button", name="Add to assignment").click()
    desk.goto(desk.url.split("/bench")[0] + "/assign")
    desk.locator("table.preview").first.wait_for()
    for section in ("Flutes", "Horns", "Percussion"):
        pick(desk, "Sections", section)
    desk.keyboard.press("Escape")
    expect(desk.locator("details summary", has_text="Horns")).to_contain_text("Horn, from Clarinet")
    horns = desk.locator("details", has_text="Horns")
    horns.locator("summary").click()
    horns.get_by_label(re.compile("^How .* gets it")).first.click()
    desk.get_by_title("absent: a week later").click()
    expect(horns).to_contain_text("due")
    desk.get_by_role("button", name="Send it").click()
    expect(desk.get_by_role("heading", name="Assignments")).to_be_visible()
    sending = desk.locator("li.piece").first
    expect(sending).to_contain_text("(absent")
    # Changed for everybody, later.
    sending.get_by_role("button", name=re.compile("^Change ")).click()
    sending.get_by_label("New minutes a day").fill("15")
    sending.get_by_role("button", name="Keep the change").click()
    expect(sending).to_contain_text("15 minutes a day")
    # On paper.
    sending.get_by_role("button", name=re.compile("^Print sheets")).click()
    opened = sending.get_by_role("link", name=re.compile("^Open the sheets"))
    opened.wait_for(timeout=90_000)
    address = opened.get_attribute("href") or ""
    pdf = PdfReader(BytesIO(desk.request.get(demo_url + address).body()))
    first = pdf.pages[0].extract_text()
    name = first.splitlines()[0]
    code = re.search(r"Code:\s*([A-Z0-9]{6})", first)
    assert code is not None
    # Typed in by the director.
    desk.get_by_role("link", name="Sheets", exact=True).click()
    desk.get_by_label("Code on the sheet").fill(code[1].lower())
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("heading", name=re.compile(re.escape(name)))).to_be_visible()
    desk.locator(".ticks").first.get_by_role("button").nth(2).click()
    desk.get_by_role("button", name="Enter 3 ticks").click()
    expect(desk.locator(".ticks button.kept")).to_have_count(3)
    # And there for the student who has it.
    study(phone, demo_url, name)
    by_hand = phone.locator("ol.today").last
    by_hand.get_by_role("link", name=re.compile("Alone")).first.click()
    expect(phone.locator("[data-testid=tempo]")).not_to_have_text("64")


def test_an_unknown_code_is_said_in_words(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Sheets", exact=True).click()
    desk.get_by_label("Code on the sheet").fill("zzzzzz")
    desk.keyboard.press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("no sheet with the code ZZZZZZ")
