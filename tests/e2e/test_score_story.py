"""A director brings in a full score and works on one of its parts; a student marks it."""

import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from bench.wind_score import wind_score
from crumb.demo import people
from crumb.demo.etude import TITLE
from crumb.formats.musicxml.writer import write_part
from tests.builders import a_part
from tests.e2e.people import direct, pick, study

pytestmark = pytest.mark.usefixtures("worker")

STUDY = "Measured March"


@pytest.fixture(scope="module")
def score_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    path = tmp_path_factory.mktemp("score") / "march.musicxml"
    path.write_bytes(wind_score(5, 48))
    return path


def open_part(page: Page, part: str, title: str = STUDY) -> None:
    page.get_by_role("link", name="Music", exact=True).click()
    piece = page.locator("li.piece").filter(has_text=title)
    piece.get_by_role("link", name=part, exact=True).click()
    expect(page.locator(".sheet svg g.measure").first).to_be_visible()


def tabs(page: Page) -> list[str]:
    return [text.strip() for text in page.locator(".brackets .tab-text").all_text_contents()]


def test_a_score_is_brought_in_and_its_parts_are_given_out(
    desk: Page, demo_url: str, score_file: Path
):
    direct(desk, demo_url)
    desk.locator("input[type=file]").first.set_input_files(score_file)
    expect(desk.get_by_role("status").filter(has_text=f"{STUDY} is here")).to_be_visible(
        timeout=60_000
    )
    expect(desk.get_by_text("MusicXML: 5 parts, 48 measures")).to_be_visible()
    piece = desk.locator("li.piece").filter(has_text=STUDY)
    expect(piece.get_by_role("checkbox")).to_have_count(5)
    piece.get_by_label("Flute 2 wanted").uncheck()
    piece.get_by_role("button", name="Keep this").click()
    expect(piece.get_by_text("1 part is set aside.")).to_be_visible()
    expect(piece.get_by_role("row").filter(has_text="Clarinet in Bb 1")).to_contain_text(
        "Clarinets"
    )
    desk.reload()
    expect(piece.get_by_role("link", name="Flute 2", exact=True)).to_have_count(0)
    expect(piece.get_by_role("link", name="Flute 1", exact=True)).to_be_visible()


def test_it_is_split_by_phrases_three_edges_are_moved_and_an_order_is_set(
    desk: Page, demo_url: str
):
    direct(desk, demo_url)
    open_part(desk, "Clarinet in Bb 1")
    desk.get_by_label("Split by").click()
    desk.get_by_title("Where the melody breathes").click()
    desk.get_by_role("button", name="Split the part").click()
    expect(desk.locator(".brackets .tab").nth(3)).to_be_visible()
    expect(desk.get_by_text("starts here:")).to_have_count(0)
    before = tabs(desk)
    desk.locator("h1").click()
    moved = [before]
    for _ in range(3):
        desk.keyboard.press("]")
        expect(desk.get_by_role("button", name="Undo")).to_be_enabled()
        for _ in range(40):
            if tabs(desk) != moved[-1]:
                break
            desk.wait_for_timeout(100)
        moved.append(tabs(desk))
        desk.keyboard.press("ArrowDown")
    assert len({tuple(state) for state in moved}) == 4
    desk.keyboard.press("z")
    expect(desk.locator(".brackets .tab-text").nth(2)).to_have_text(moved[2][2])
    # why an edge is where it is
    expect(desk.get_by_role("status").filter(has_text="starts here")).to_be_visible()
    # kin: confirm the first link
    desk.get_by_role("tab", name=re.compile("^Kin")).click()
    first = desk.locator(".kin").first
    said = first.locator(".kin-look").inner_text()
    first.get_by_role("button", name="Confirm").click()
    expect(desk.locator(".kin.confirmed")).to_have_count(1)
    desk.locator(".kin.confirmed .kin-look").click()
    expect(desk.locator(".kin-end").first).to_be_attached()
    # the order of learning
    desk.get_by_role("tab", name="Order").click()
    pick(desk, "Order of learning", "Hardest first")
    expect(desk.get_by_text("asks most")).to_be_visible()
    order = desk.locator(".order li").all_text_contents()
    final = tabs(desk)
    desk.reload()
    expect(desk.locator(".brackets .tab").first).to_be_visible()
    assert tabs(desk) == final
    desk.get_by_role("tab", name=re.compile("^Kin")).click()
    expect(desk.locator(".kin.confirmed .kin-look")).to_have_text(said.replace("\n", ""))
    desk.get_by_role("tab", name="Order").click()
    expect(desk.locator(".order li").first).to_be_visible()
    assert desk.locator(".order li").all_text_contents() == order


@pytest.mark.full
def test_chunks_are_divided_inside_and_seen_at_each_depth(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_part(desk, "Oboe")
    desk.get_by_role("button", name="Split the part").click()
    expect(desk.locator(".brackets .tab")).to_have_count(24)
    desk.locator("h1").click()
    desk.keyboard.press("d")
    expect(desk.locator(".brackets .tab")).to_have_count(25)
    expect(desk.get_by_text("1 in", exact=True)).to_be_visible()
    desk.keyboard.press("o")
    expect(desk.locator(".brackets .tab")).to_have_count(24)
    desk.keyboard.press("j")
    expect(desk.get_by_text("1 in", exact=True)).to_have_count(0)


@pytest.mark.full
def test_a_place_is_jumped_to_as_it_is_said(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_part(desk, "Clarinet in B♭", TITLE)
    desk.keyboard.press("/")
    desk.keyboard.type("third measure of R")
    desk.keyboard.press("Enter")
    expect(desk.get_by_text("cursor at 35 beat 1")).to_be_visible()
    desk.get_by_label("Go to a place").fill("ninth page")
    desk.get_by_label("Go to a place").press("Enter")
    expect(desk.get_by_role("alert")).to_contain_text("ninth page")


@pytest.mark.full
def test_the_survey_names_the_crux_and_leads_there(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_part(desk, "Clarinet in B♭", TITLE)
    crux = desk.locator(".panel").get_by_role("button", name=re.compile("^measure"))
    number = crux.inner_text().removeprefix("measure ")
    crux.click()
    expect(desk.get_by_text(f"cursor at {number} beat 1")).to_be_visible()
    expect(desk.locator(".spot-list li").first).to_be_visible()
    expect(desk.locator(".strip .crux")).to_have_count(1)


@pytest.mark.full
def test_what_is_said_of_the_music_is_checked_tagged_and_found(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_part(desk, "Clarinet in B♭", TITLE)
    desk.get_by_role("tab", name=re.compile("^Kin")).click()
    desk.get_by_label("Is this true?").fill("5-6 is 1-2")
    desk.get_by_role("button", name="Check", exact=True).click()
    expect(desk.get_by_text("Yes: every note is at the same pitch.")).to_be_visible()
    desk.get_by_label("Is this true?").fill("2 is 1 a step higher")
    desk.get_by_role("button", name="Check", exact=True).click()
    expect(desk.get_by_text(re.compile("^Not quite: note 1 is"))).to_be_visible()
    desk.get_by_role("tab", name="Survey").click()
    pick(desk, "Add a technique", "Vibrato")
    tags = desk.locator(".chunk-tags")
    expect(tags).to_contain_text("Vibrato")
    desk.get_by_role("tab", name="Print").click()
    desk.get_by_label("Lines start at").fill("5, 9, 13")
    desk.get_by_role("button", name="Keep these lines").click()
    expect(desk.get_by_text("These are the lines you typed.")).to_be_visible()
    desk.get_by_label("Go to a place").fill("second from the end of line 2")
    desk.get_by_label("Go to a place").press("Enter")
    expect(desk.get_by_text("cursor at 7 beat 1")).to_be_visible()
    desk.get_by_role("button", name="Use the lines of the file").click()
    expect(desk.get_by_text("The file has no line breaks.")).to_be_visible()
    desk.get_by_role("link", name="Music").click()
    pick(desk, "Find chunks by technique", "Vibrato")
    expect(desk.locator(".tag-found")).to_contain_text(TITLE)


@pytest.mark.full
def test_a_piece_has_one_goal_and_three_objectives(desk: Page, demo_url: str):
    direct(desk, demo_url)
    card = desk.locator(".piece").filter(has_text=TITLE).first
    card.get_by_role("button", name="Goal and objectives").click()
    card.get_by_label("Objective 1").fill("Even sixteenths over the break")
    card.get_by_role("button", name="Keep", exact=True).click()
    expect(card.locator(".objectives-line")).to_have_text("Even sixteenths over the break")
    open_part(desk, "Clarinet in B♭", TITLE)
    expect(desk.locator(".part-head")).to_contain_text("Even sixteenths over the break")


@pytest.mark.full
def test_a_section_gets_chunks_of_its_own(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_part(desk, "Oboe")
    pick(desk, "Whose chunks", "Oboes")
    desk.get_by_role("button", name="Give Oboes their own chunks").click()
    expect(desk.get_by_role("button", name="Give Oboes")).to_have_count(0)
    desk.locator("h1").click()
    desk.keyboard.press("m")
    expect(desk.locator(".brackets .tab")).to_have_count(23)
    pick(desk, "Whose chunks", "Everybody")
    expect(desk.locator(".brackets .tab")).to_have_count(24)


@pytest.mark.full
def test_a_mark_of_the_director_reaches_the_student_and_the_students_own_does_not_come_back(
    desk: Page, phone: Page, demo_url: str
):
    direct(desk, demo_url)
    open_part(desk, "Clarinet in B♭", TITLE)
    desk.get_by_role("tab", name="Marks").click()
    desk.get_by_label("Text of the mark").fill("count here")
    desk.get_by_role("button", name=re.compile("^Write at")).click()
    expect(desk.locator(".marks li")).to_have_count(1)
    expect(desk.locator(".sheet svg").filter(has_text="count here").first).to_be_visible()
    study(phone, demo_url, people.roster()["Clarinets"][0])
    phone.get_by_role("link", name="My music").click()
    phone.get_by_role("link", name="Look and mark").first.click()
    expect(phone.locator(".sheet svg").filter(has_text="count here").first).to_be_visible()
    phone.locator("#m2 g.note").first.click(force=True)
    phone.get_by_label("Text of the mark").fill("my own")
    phone.get_by_role("button", name="Write at 2 beat 1").click()
    expect(phone.locator(".marks li")).to_have_count(2)
    desk.reload()
    desk.get_by_role("tab", name="Marks").click()
    expect(desk.locator(".marks li")).to_have_count(1)
    # taken away and brought back
    desk.get_by_role("button", name=re.compile("^Remove ")).click()
    expect(desk.locator(".marks li")).to_have_count(0)
    desk.get_by_role("button", name="Bring it back").click()
    expect(desk.locator(".marks li")).to_have_count(1)


@pytest.mark.full
def test_a_new_version_takes_over_what_was_done(desk: Page, demo_url: str, tmp_path: Path):
    old = a_part("q:0,1,2,3", "e:0,1,2,3,4,5,6,7", "h:4 h:0", "q:0,1,2,3")
    new = a_part("q:0,1,2,3", "w:4", "e:0,1,2,3,4,5,6,7", "h:4 h:0", "q:0,1,2,3")
    files = []
    for name, part in (("one", old), ("two", new)):
        path = tmp_path / f"{name}.musicxml"
        path.write_text(write_part(part, title="Tideline Study"))
        files.append(path)
    direct(desk, demo_url)
    desk.locator("input[type=file]").first.set_input_files(files[0])
    expect(desk.get_by_text("Tideline Study is here")).to_be_visible(timeout=30_000)
    open_part(desk, "Test part", "Tideline Study")
    desk.get_by_role("button", name="Split the part").click()
    expect(desk.locator(".brackets .tab")).to_have_count(2)
    desk.get_by_role("link", name="Music", exact=True).click()
    piece = desk.locator("li.piece").filter(has_text="Tideline Study")
    piece.locator("input[type=file]").set_input_files(files[1])
    expect(desk.get_by_text("Every measure of the old version is here")).to_be_visible(
        timeout=30_000
    )
    expect(desk.locator("li.piece").filter(has_text="Tideline Study")).to_have_count(1)
    open_part(desk, "Test part", "Tideline Study")
    assert tabs(desk) == ["0–2→", "3–4"]


@pytest.mark.full
def test_four_hundred_measures_are_edited_without_waiting(
    desk: Page, demo_url: str, tmp_path: Path
):
    path = tmp_path / "long.musicxml"
    path.write_bytes(wind_score(1, 400).replace(b"Measured March", b"Long March"))
    direct(desk, demo_url)
    desk.locator("input[type=file]").first.set_input_files(path)
    expect(desk.get_by_text("Long March is here")).to_be_visible(timeout=60_000)
    open_part(desk, "Flute 1", "Long March")
    expect(desk.locator(".sheet g.measure")).to_have_count(400, timeout=60_000)
    desk.get_by_role("button", name="Split the part").click()
    expect(desk.locator(".brackets .tab")).to_have_count(200)
    desk.locator("h1").click()
    took = desk.evaluate(
        """async () => {
          const tabs = () => document.querySelectorAll('.brackets .tab').length
          const begun = performance.now()
          document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'm', bubbles: true }))
          while (tabs() !== 199 && performance.now() - begun < 10000)
            await new Promise((done) => requestAnimationFrame(done))
          return performance.now() - begun
        }"""
    )
    assert took < 2000, "an edit is stored and drawn while the director looks on"
