"""A week in the life: a score comes in on Monday, on Friday the room knows what to rehearse.

One story in order, told as a director, with four students on their own devices, an assistant and a
section leader.
"""

import re
from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from crumb.core.score.position import Position, Span
from crumb.demo import people
from crumb.demo.reel import reel
from crumb.demo.sound import Fault, played
from crumb.formats.musicxml.writer import write_score
from tests.e2e.people import direct, pick, study, with_time
from tests.e2e.test_helping import comes, invited
from tests.e2e.test_views import assert_accessible

pytestmark = [pytest.mark.full, pytest.mark.usefixtures("worker")]


TITLE = "Evening Reel"
SCORE = replace(reel(), title=TITLE)
VIOLINS = people.roster()["Violins I"]
STEADY, ALSO_STEADY, SLIPS, RECORDS = VIOLINS[4:8]
LETTER_P = Span(Position(9, Fraction(0)), Position(11, Fraction(0)))
"""The first two measures of the reel's sixteenths."""
EIGHT_MEASURES_MS = 31_000
"""As long as the passage takes at the tempo it is begun with: what comes sooner is doubted."""


@pytest.fixture(scope="module")
def score_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("score") / "evening-reel.musicxml"
    path.write_text(write_score(SCORE.parts, title=TITLE))
    return path


@pytest.fixture(scope="module")
def take_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """What a device recorded: two measures with a wrong rhythm in them."""
    path = tmp_path_factory.mktemp("sound") / "take.wav"
    part = SCORE.parts[0]
    wrong = {4: Fault.LATE}
    path.write_bytes(played(part, LETTER_P, tempo=Fraction(88), beat=Fraction(1), faults=wrong))
    return path


@pytest.fixture
def device(browser: Browser) -> Iterator[BrowserContext]:
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    context.set_default_timeout(60_000)
    yield context
    context.close()


def to_the_score(page: Page) -> None:
    page.get_by_role("link", name="Music", exact=True).click()
    page.locator("li.piece").filter(has_text=TITLE).get_by_role(
        "link", name="The whole score"
    ).click()
    expect(page.get_by_role("heading", name=TITLE)).to_be_visible()


def test_on_monday_the_score_is_brought_in_split_and_sent(
    desk: Page, demo_url: str, score_file: Path
):
    direct(desk, demo_url)
    desk.locator("input[type=file]").first.set_input_files(score_file)
    expect(desk.get_by_text(f"{TITLE} is here")).to_be_visible(timeout=60_000)
    piece = desk.locator("li.piece").filter(has_text=TITLE)
    piece.get_by_role("button", name="Keep this").click()
    for part, section in (("Violin I", "Violins I"), ("Viola", "Violas"), ("Cello", "Cellos")):
        row = piece.get_by_role("row").filter(has=desk.get_by_role("link", name=part, exact=True))
        expect(row).to_contain_text(section)
    to_the_score(desk)
    desk.get_by_label("Passage").fill("P")
    desk.get_by_role("button", name="in every part").click()
    expect(desk.locator(".ant-message")).to_contain_text("Split in 5 parts")
    desk.get_by_role("button", name="P 9–16").click()
    sending = desk.locator(".send-passage")
    sending.get_by_role("button", name="Send", exact=True).click()
    expect(sending.get_by_role("status")).to_contain_text("Violins I: sent to 9")
    expect(sending.get_by_role("status")).to_contain_text("Cellos: sent to 6")


def test_on_tuesday_two_students_practise_cleanly(browser: Browser, demo_url: str):
    for name in (STEADY, ALSO_STEADY):
        context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
        page = context.new_page()
        with_time(page)
        study(page, demo_url, name)
        to_the_reel(page)
        for _ in range(3):
            page.clock.fast_forward(EIGHT_MEASURES_MS)
            page.get_by_role("button", name="Clean").click()
        page.get_by_role("button", name="Back to today").click()
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
        expect(page.locator(".unsent")).to_have_count(0)
        context.close()


def to_the_reel(page: Page) -> None:
    """The Stand, on what was sent of the reel."""
    page.locator("ol.today li a").filter(has_text=TITLE).first.click()
    expect(page.locator(".stand-music svg").first).to_be_visible()


def test_one_slips_again_and_again_and_says_where(device: BrowserContext, demo_url: str):
    page = device.new_page()
    with_time(page)
    study(page, demo_url, SLIPS)
    to_the_reel(page)
    page.clock.fast_forward(EIGHT_MEASURES_MS)
    page.get_by_role("button", name="Slip").click()
    page.locator(".stand-music g.note[id^='n'] .notehead").nth(4).click(force=True)
    expect(page.get_by_text("Marked on the note.")).to_be_visible()
    page.get_by_role("button", name="Rhythm", exact=True).click()
    page.clock.fast_forward(EIGHT_MEASURES_MS)
    page.get_by_role("button", name="Slip").click()
    page.get_by_role("button", name="Back to today").click()
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    expect(page.locator(".unsent")).to_have_count(0)


def test_one_records_and_hands_it_in(device: BrowserContext, demo_url: str, take_file: Path):
    page = device.new_page()
    study(page, demo_url, RECORDS)
    page.get_by_role("link", name="Takes", exact=True).click()
    pick(page, "Part", f"{TITLE} · Violin I")
    pick(page, "Chunk", "9–12")
    # The take belongs to the chunk that one sees chosen.
    expect(page.locator(".ant-select").filter(has_text=re.compile("^9–12"))).to_be_visible()
    page.get_by_label("Bring a recording").set_input_files(take_file)
    page.locator(".takes li").first.get_by_role("button", name="Hand in").click()
    handed = page.get_by_role("region", name="Handed in")
    expect(handed).to_contain_text("handed in")
    expect(handed.locator("audio")).to_be_visible()


def test_on_wednesday_the_take_is_heard_and_two_with_one_fault_get_one_cure(
    desk: Page, demo_url: str
):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Desk", exact=True).click()
    line = desk.locator(".desk-lines li", has_text="1 take of").filter(has_text="9–12")
    line.get_by_role("link", name="Hear them").click()
    expect(desk.get_by_role("heading", name=RECORDS)).to_be_visible()
    expect(desk.get_by_role("region", name="Take", exact=True)).to_be_visible()
    judged(desk)
    desk.locator(".queue button", has_text=SLIPS).click()
    expect(desk.get_by_role("heading", name=SLIPS)).to_be_visible()
    judged(desk)
    several = desk.get_by_role("region", name="Heard from several")
    expect(several).to_contain_text(RECORDS)
    expect(several).to_contain_text(SLIPS)
    several.get_by_role("button", name=re.compile("to these 2$")).click()
    expect(desk.locator(".ant-message")).to_contain_text("sent to 2")
    desk.get_by_role("link", name="Desk", exact=True).click()
    expect(desk.locator(".desk-lines li").first).to_be_visible()
    expect(line).to_have_count(0)


def judged(page: Page) -> None:
    """A wrong rhythm on the fifth note: level 2, one thing to do."""
    page.locator(".judged .notehead").nth(4).click(force=True)
    page.keyboard.press("e")
    page.get_by_label("First: what went well").fill("A good sound")
    page.get_by_label("Then: one thing to change").fill("Count the fifth note aloud")
    page.get_by_role("button", name="Level 2").click()
    page.get_by_role("button", name=re.compile("^Keep")).click()
    expect(page.locator(".ant-message")).to_contain_text("2.")


def test_the_wall_tells_them_apart(desk: Page, demo_url: str):
    direct(desk, demo_url)
    to_the_score(desk)
    desk.locator("table.passages").get_by_role("link", name="Violins I", exact=True).click()
    expect(desk.locator(".wall-row").first).to_be_visible()
    for name, level in ((STEADY, 3), (ALSO_STEADY, 3), (SLIPS, 2), (RECORDS, 2), (VIOLINS[3], 0)):
        row = desk.locator(".wall-row").filter(has_text=name)
        expect(row.get_by_role("gridcell").nth(1)).to_have_accessible_name(
            re.compile(f"9–12→: {level}, ")
        )
    desk.get_by_text("Where it slips").click()
    # One that was named at the stand, two that were heard: all on the fifth note or beside it.
    expect(desk.get_by_text(re.compile("^3 slips on [12] of"))).to_be_visible()
    expect(desk.locator(".slips-map .slips-3").first).to_be_attached()


def test_who_has_it_already_is_left_out_before_it_is_sent(desk: Page, demo_url: str):
    direct(desk, demo_url)
    reel = desk.locator("li.piece").filter(has_text="Tern Island Reel")
    reel.get_by_role("link", name="Cello", exact=True).click()
    desk.get_by_role("link", name="Drill bench").click()
    desk.get_by_role("button", name="Add to assignment").click()
    desk.get_by_role("link", name=re.compile("^Assign")).last.click()
    caution = desk.locator(".caution").filter(has_text="at tempo already")
    expect(caution).to_contain_text("6 of 6 have all of this")
    caution.get_by_role("button", name=re.compile("^Leave these")).click()
    expect(caution).to_have_count(0)
    expect(desk.locator("table.preview input[type=checkbox]:checked")).to_have_count(0)


def test_on_thursday_the_rehearsal_is_taken_done_and_sent_home(desk: Page, demo_url: str):
    direct(desk, demo_url)
    to_the_score(desk)
    desk.get_by_role("link", name="Rehearse it").click()
    desk.get_by_label("Minutes").fill("15")
    desk.get_by_label("Minutes").press("Enter")
    expect(desk.get_by_text("15 of 15 minutes.")).to_be_visible()
    given = [int(text) for text in desk.locator(".rehearsal .mins strong").all_inner_texts()]
    assert sum(given) == 15
    desk.get_by_role("button", name="Use this plan").click()
    desk.get_by_role("button", name="On the podium").click()
    expect(desk.get_by_label("Now")).to_be_visible()
    for _ in given:
        desk.keyboard.press("PageDown")
    after = desk.get_by_label("What you did")
    after.get_by_role("button", name="1×").first.click()
    after.get_by_role("button", name="Save it").click()
    home = desk.get_by_label("Home list")
    expect(home).to_contain_text("more")
    home.get_by_role("button", name="Send it home").click()
    expect(home.get_by_role("status")).to_contain_text("sent to")


def test_on_friday_a_leader_finds_the_sectional_and_an_assistant_hears_their_section(
    desk: Page, browser: Browser, device: BrowserContext, demo_url: str
):
    link = invited(desk, demo_url, "An assistant", "For which sections", "Violins I")
    helper = comes(browser, link, "Sorrel")
    expect(helper.get_by_role("heading", name="Hearing")).to_be_visible()
    helper.get_by_label("Section", exact=True).click()
    expect(helper.locator(".ant-select-item-option:visible")).to_have_text(["Violins I"])
    helper.context.close()
    person = desk.locator(".names li").filter(has_text=STEADY)
    person.get_by_role("button", name="Make leader").click()
    expect(person).to_contain_text("section leader")
    desk.get_by_role("link", name="Rehearse", exact=True).click()
    pick(desk, "Piece", TITLE)
    pick(desk, "Who", "Sectional: Violins I")
    expect(desk.locator(".rehearsal > li").first).to_be_visible()
    desk.get_by_role("button", name="Use this plan").click()
    expect(desk.get_by_role("button", name="On the podium")).to_be_visible()
    page = device.new_page()
    study(page, demo_url, STEADY)
    page.get_by_role("link", name="My music").click()
    led = page.get_by_role("region", name="Sectionals you lead")
    expect(led).to_contain_text(TITLE)
    for other in (ALSO_STEADY, SLIPS, RECORDS):
        expect(led).not_to_contain_text(other)
    assert_accessible(page, "a leader's music")


def test_a_player_decides_whether_the_leader_counts_them(device: BrowserContext, demo_url: str):
    page = device.new_page()
    study(page, demo_url, ALSO_STEADY)
    page.get_by_role("link", name="My music").click()
    counted = page.get_by_label(f"When {STEADY} leads Violins I, count me in the numbers.")
    expect(counted).not_to_be_checked()
    counted.click()
    expect(counted).to_be_checked()
    page.wait_for_load_state("networkidle")
    page.reload()
    expect(counted).to_be_checked()
    counted.click()
    expect(counted).not_to_be_checked()
