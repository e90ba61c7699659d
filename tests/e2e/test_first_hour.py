"""A director's first hour with one etude, and a student's first quarter of an hour, in order."""

import io
import re
import zipfile
from itertools import pairwise
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from crumb.demo import people
from crumb.demo.etude import TITLE
from crumb.formats.musicxml.writer import write_part
from tests.builders import SIXTEENTHS, a_part
from tests.e2e.bench import choose
from tests.e2e.people import direct, pick, play_on, study, type_sign_in, with_time

pytestmark = pytest.mark.usefixtures("worker")

OWN = a_part("q:4", *[SIXTEENTHS, "q:0,2 h:4"] * 4, fifths=2)
"""The director's own part: a pickup and eight measures."""

CLARINETS = people.roster()["Clarinets"]
FLUTES = people.roster()["Flutes"]


@pytest.fixture(scope="module")
def own_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    container = '<container><rootfiles><rootfile full-path="own.xml"/></rootfiles></container>'
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("META-INF/container.xml", container)
        archive.writestr("own.xml", write_part(OWN, title="Causeway Study"))
    path = tmp_path_factory.mktemp("own") / "causeway.mxl"
    path.write_bytes(out.getvalue())
    return path


def open_own(page: Page, where: str = "") -> None:
    page.get_by_role("link", name="Music", exact=True).click()
    row = page.locator("li.piece").filter(has_text="Causeway Study")
    row.get_by_role("link", name="Open").click()
    expect(page.locator(".sheet svg g.measure").first).to_be_visible()
    if where:
        page.get_by_role("link", name=where).click()


def test_the_director_opens_the_demo_etude_large(desk: Page, demo_url: str):
    direct(desk, demo_url)
    piece = desk.locator("li.piece").filter(has_text=TITLE)
    expect(piece).to_contain_text("G major")
    expect(piece).to_contain_text("4/4")
    expect(piece).to_contain_text("106")
    expect(piece).to_contain_text("65 with pickup, last is 64")
    piece.get_by_role("link", name="Open").click()
    expect(desk.locator(".sheet g.measure")).to_have_count(65)
    expect(desk.locator(".brackets .tab")).to_have_count(33)
    staff = desk.locator(".sheet g.staff").first.bounding_box()
    assert staff is not None
    assert staff["height"] > 40


def test_a_file_that_is_no_music_is_refused_in_sight(desk: Page, demo_url: str, tmp_path):
    direct(desk, demo_url)
    bad = tmp_path / "score.musicxml"
    bad.write_bytes(b"%PDF-1.7 not music")
    expect(desk.locator("li.piece").first).to_be_visible()
    before = desk.locator("li.piece").count()
    desk.locator("input[type=file]").first.set_input_files(bad)
    expect(desk.get_by_role("alert")).to_contain_text("This is a PDF, not MusicXML")
    expect(desk.get_by_role("alert")).to_contain_text("Nothing was stored")
    expect(desk.locator("li.piece")).to_have_count(before)


def test_the_director_brings_in_a_part_of_their_own(desk: Page, demo_url: str, own_file: Path):
    direct(desk, demo_url)
    desk.locator("input[type=file]").first.set_input_files(own_file)
    expect(desk.get_by_role("status").filter(has_text="Causeway Study is here")).to_be_visible()
    piece = desk.locator("li.piece").filter(has_text="Causeway Study")
    expect(piece).to_contain_text("2 sharps")
    expect(piece).to_contain_text("9 with pickup, last is 8")
    open_own(desk)
    expect(desk.locator(".sheet g.measure")).to_have_count(9)
    numbers = [text.strip() for text in desk.locator(".sheet g.mNum").all_text_contents()]
    assert [n for n in numbers if n] == [str(i) for i in range(1, 9)]


def test_the_part_is_split_and_edited_on_the_score_by_keyboard_and_mouse(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_own(desk)
    desk.get_by_label("Measures in a chunk").fill("4")
    desk.get_by_role("button", name="Split the part").click()
    tabs = desk.locator(".brackets .tab-text")
    expect(tabs).to_have_text(["›1–4→", "5–8"])
    desk.locator("h1").click()
    desk.keyboard.press("ArrowRight")  # measure 1, beat 1
    for _ in range(8):
        desk.keyboard.press("ArrowRight")  # two measures on
    desk.keyboard.press("s")
    expect(tabs).to_have_text(["›1–2→", "3–4→", "5–8"])
    desk.keyboard.press("]")
    expect(tabs).to_have_text(["›1–2→", "3–5 beat 1→", "5 beat 2–8"])
    desk.keyboard.press("[")
    desk.keyboard.press("l")
    expect(tabs).to_have_text(["›1–2→", "3–4", "5–8"])
    desk.keyboard.press("m")
    expect(tabs).to_have_text(["›1–2→", "3–8"])
    desk.keyboard.press("z")
    desk.keyboard.press("z")
    expect(tabs).to_have_text(["›1–2→", "3–4→", "5–8"])
    desk.keyboard.press("y")
    expect(tabs).to_have_text(["›1–2→", "3–4", "5–8"])
    desk.keyboard.press("z")
    expect(tabs).to_have_text(["›1–2→", "3–4→", "5–8"])
    # by mouse: click a note in measure 7 and cut there (a staff line lies over its middle)
    desk.locator("#m7 g.note").first.click(force=True)
    desk.get_by_role("button", name="Split here").click()
    expect(tabs).to_have_text(["›1–2→", "3–4→", "5–6→", "7–8"])
    # by mouse: drag the end of 3–4 to the second beat of 5, and take it back
    edge = desk.locator('.chunk[data-label="3–4→"] .handle').bounding_box()
    note = desk.locator("#m5 g.note").nth(4).bounding_box()
    assert edge is not None
    assert note is not None
    desk.mouse.move(edge["x"] + 6, edge["y"] + 30)
    desk.mouse.down()
    desk.mouse.move(note["x"], note["y"] + 8, steps=5)
    desk.mouse.up()
    expect(tabs).to_have_text(["›1–2→", "3–5 beat 1→", "5 beat 2–6→", "7–8"])
    desk.get_by_role("button", name="Undo").click()
    expect(tabs).to_have_text(["›1–2→", "3–4→", "5–6→", "7–8"])
    desk.reload()
    expect(tabs).to_have_text(["›1–2→", "3–4→", "5–6→", "7–8"])


def test_an_edit_that_cannot_be_says_why(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_own(desk)
    expect(desk.locator(".brackets .tab")).to_have_count(4)
    desk.keyboard.press("s")
    expect(desk.get_by_text("There is an edge here already.")).to_be_visible()
    expect(desk.locator(".brackets .tab")).to_have_count(4)


def test_brackets_stand_over_the_notes_they_hold(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_own(desk)
    chunk = desk.locator('.chunk[data-label="3–4→"] .wash').first.bounding_box()
    first = desk.locator("#m3 g.note").first.bounding_box()
    before = desk.locator("#m2 g.note").last.bounding_box()
    assert chunk is not None
    assert first is not None
    assert before is not None
    assert chunk["x"] <= first["x"] + 2
    if abs(before["y"] - first["y"]) < 150 and before["x"] < first["x"]:
        assert before["x"] + before["width"] <= chunk["x"] + 2


def test_drills_are_seen_as_notation_before_they_are_sent(desk: Page, demo_url: str):
    direct(desk, demo_url)
    open_own(desk, "Drill bench")
    choose(desk, "alone", "Alone")
    expect(desk.get_by_role("heading", name="Alone on pickup to 1–2→")).to_be_visible()
    desk.locator("h1").click()
    desk.keyboard.press("ArrowRight")
    expect(desk.get_by_role("heading", name="Alone on 3–4→")).to_be_visible()
    notes = desk.locator(".worked:not(.stale) .steps li").first.locator("g.note")
    expect(notes).to_have_count(16 + 3 + 1)  # the chunk and its landing
    choose(desk, "long-short", "Long-short")
    expect(desk.locator(".steps > li")).to_have_count(2)
    expect(desk.locator(".burst")).to_contain_text("At 100 the quick notes")
    for field, value in (("Tempo start", "82"), ("Tempo goal", "106"), ("Tempo step", "4")):
        desk.get_by_label(field).fill(value)
        desk.get_by_label(field).blur()
    expect(desk.locator(".ladder").first).to_contain_text("7 rungs")
    expect(desk.locator(".burst")).to_contain_text("106")
    expect(desk.locator(".figures")).to_contain_text("7.1 notes a second")
    choose(desk, "backward", "Backward chain")
    expect(desk.locator(".steps > li")).to_have_count(7)  # eight beats, one of them held
    choose(desk, "hold one of", "Hold one of each group")
    desk.get_by_label("Hold note").fill("3")
    expect(desk.locator(".steps > li").first).to_contain_text("Hold 3 of 4")
    choose(desk, "alone", "Alone")
    expect(desk.locator(".steps > li")).to_have_count(1)
    desk.locator("h1").click()
    desk.keyboard.press("a")
    expect(desk.locator(".path .count")).to_have_text("1")
    choose(desk, "long-short", "Long-short")
    expect(desk.get_by_role("heading", name="Long-short on 3–4→")).to_be_visible()
    desk.get_by_role("button", name="Add to assignment").click()
    expect(desk.locator(".path .count")).to_have_text("2")
    desk.get_by_role("link", name=re.compile("^Assign")).last.click()
    _send(desk)


def _send(desk: Page) -> None:
    """The director looks at what each student gets, leaves one out, and sends it."""
    desk.get_by_label("Sections").press("Backspace")
    pick(desk, "Sections", "Flutes")
    desk.keyboard.press("Escape")
    desk.get_by_label("Minutes a day").fill("15")
    desk.get_by_label("Minutes a day").blur()
    table = desk.get_by_role("table")
    expect(table.locator("tbody tr")).to_have_count(8)
    expect(desk.locator(".fit")).to_contain_text("8 days give 120 min")
    desk.get_by_role("checkbox", name=f"{FLUTES[1]} gets it").uncheck()
    expect(table.locator("tr.left-out")).to_have_count(1)
    desk.get_by_role("button", name="Send it").click()
    expect(desk.get_by_role("heading", name="Flutes: Causeway Study")).to_be_visible()
    expect(desk.locator("li.piece").first).to_contain_text("7 students, 15 minutes a day")


def test_a_student_finds_the_list_in_order_with_minutes(phone: Page, demo_url: str):
    study(phone, demo_url, FLUTES[0])
    lines = phone.locator(".today li")
    expect(lines).to_have_count(2)
    expect(lines.nth(0)).to_contain_text("3–4→ Alone")
    expect(lines.nth(1)).to_contain_text("3–4→ Long-short")
    expect(lines.nth(0)).to_contain_text("min")
    phone.get_by_role("button", name="Start with 3–4").tap()
    expect(phone.locator(".stand-music g.note")).to_have_count(20)
    expect(phone.locator(".stand-music g.clef")).not_to_have_count(0)
    expect(phone.locator(".stand-music g.meterSig").first).to_be_attached()
    width = phone.evaluate("document.documentElement.scrollWidth")
    assert width <= 390, "nothing hangs over the edge of a phone"


def _tempo(phone: Page) -> str:
    return phone.get_by_test_id("tempo").inner_text()


def _until_clicks(phone: Page, count: int) -> None:
    for _ in range(150):
        if phone.evaluate("window.clicks.length") >= count:
            return
        phone.wait_for_timeout(100)
    raise AssertionError("the click is silent")


def test_the_metronome_keeps_time_on_the_audio_clock(phone: Page, demo_url: str):
    study(phone, demo_url, FLUTES[0])
    phone.locator(".big-start").tap()
    phone.get_by_role("button", name="Start click").tap()
    _until_clicks(phone, 7)
    phone.get_by_role("button", name="Stop click").tap()
    clicks = phone.evaluate("window.clicks")
    gaps = [b["at"] - a["at"] for a, b in pairwise(clicks)]
    assert all(abs(gap - 60 / 82) < 1e-6 for gap in gaps)
    pitches = [click["pitch"] for click in clicks]
    assert pitches[:5] == [pitches[0]] * 4 + [pitches[4]]
    assert pitches[4] != pitches[0], "the count-in sounds different"
    # off the beat: half a beat later than the beat would be
    phone.get_by_role("button", name="Settings").tap()
    phone.get_by_label("Count-in").uncheck()
    phone.get_by_label("Where it clicks").select_option("off-beat")
    phone.get_by_role("button", name="Settings").tap()
    phone.evaluate("window.clicks = []")
    phone.keyboard.press("ArrowUp")
    phone.keyboard.press("Space")
    _until_clicks(phone, 3)
    off = phone.evaluate("window.clicks")
    assert abs(off[1]["at"] - off[0]["at"] - 60 / 83) < 1e-6
    assert off[0]["type"] != clicks[0]["type"], "it has a sound of its own"
    phone.keyboard.press("Space")


def test_repetitions_are_counted_by_touch_keys_and_pedal(phone: Page, demo_url: str):
    with_time(phone)
    study(phone, demo_url, FLUTES[0])
    phone.locator(".big-start").tap()
    count = phone.locator(".pips em")
    expect(count).to_have_text("0 of 3 in a row")
    play_on(phone)
    phone.get_by_role("button", name="Clean").tap()
    expect(count).to_have_text("1 of 3 in a row")
    play_on(phone)
    phone.keyboard.press("ArrowRight")
    expect(count).to_have_text("2 of 3 in a row")
    play_on(phone)
    phone.get_by_role("button", name="Slip").tap()
    expect(count).to_have_text("0 of 3 in a row")
    phone.keyboard.press("u")
    expect(count).to_have_text("2 of 3 in a row")
    play_on(phone)
    phone.keyboard.press("PageDown")  # a page-turn pedal
    assert _tempo(phone) == "86"
    expect(phone.get_by_role("status").first).to_contain_text("Up to 86")
    play_on(phone)
    phone.keyboard.press("PageUp")
    play_on(phone)
    phone.keyboard.press("ArrowLeft")
    assert _tempo(phone) == "81"
    expect(phone.get_by_role("status").first).to_contain_text("Down to 81")
    phone.wait_for_timeout(600)
    phone.reload()
    expect(phone.get_by_test_id("tempo")).to_have_text("81")


ON_TOP = """(shown) => {
  const { x, width, bottom } = shown.getBoundingClientRect()
  return shown.contains(document.elementFromPoint(x + width / 2, bottom - 4))
}"""


def test_what_nobody_can_play_is_said_where_one_looks_and_not_counted(phone: Page, demo_url: str):
    study(phone, demo_url, FLUTES[5])
    phone.set_viewport_size({"width": 390, "height": 600})  # as under a drill of several staves
    phone.locator(".big-start").tap()
    count = phone.locator(".pips em")
    expect(count).to_have_text("0 of 3 in a row")
    phone.keyboard.press("ArrowRight")
    phone.keyboard.press("ArrowRight")
    said = phone.get_by_text("One repetition is saved but not counted")
    expect(said).to_be_visible()
    expect(said).to_be_in_viewport()
    assert said.evaluate(ON_TOP), "the pad lies over it"
    expect(count).to_have_text("1 of 3 in a row")


def test_nothing_counted_is_lost_without_a_network(phone: Page, demo_url: str):
    with_time(phone)
    study(phone, demo_url, FLUTES[2])
    phone.locator(".big-start").tap()
    expect(phone.locator(".stand-music g.note")).to_have_count(20)
    phone.context.set_offline(True)
    for _ in range(3):
        play_on(phone)
        phone.keyboard.press("ArrowRight")
    assert _tempo(phone) == "86"
    expect(phone.locator(".unsent")).to_contain_text("3 saved on this device")
    phone.context.set_offline(False)
    expect(phone.locator(".unsent")).to_have_count(0)
    phone.reload()
    expect(phone.get_by_test_id("tempo")).to_have_text("86")
    expect(phone.locator(".stand-head .level-number")).to_have_text("3")


def test_the_wall_shows_levels_and_a_cell_its_evidence(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Assignments").click()
    card = desk.locator("li.piece").filter(has_text="Causeway Study")
    card.get_by_role("link", name="See the Wall").click()
    cell = desk.get_by_role(
        "gridcell", name=re.compile(rf"^{re.escape(FLUTES[0])}, 3–4→: 3, steady")
    )
    expect(cell).to_be_visible()
    expect(cell).to_have_text("\ue0033")  # a shape of its own and a number, not colour alone
    expect(desk.locator(".wall-foot")).to_contain_text("0 of 8 at 5 or more")
    cell.click()
    drawer = desk.get_by_role("dialog")
    expect(drawer).to_contain_text(f"{FLUTES[0]} on 3–4→")
    expect(drawer.locator("tr.retracted")).to_have_count(1)
    expect(drawer.locator("tbody tr")).to_have_count(6)
    expect(drawer).to_contain_text("slip")


def test_a_student_sees_their_own_map_only(phone: Page, browser: Browser, demo_url: str):
    study(phone, demo_url, FLUTES[0])
    phone.get_by_role("link", name="My music").tap()
    own = phone.locator("section").filter(has_text="Causeway Study")
    expect(own.locator(".my-chunks .level-number")).to_have_text(["0", "3", "0", "0"])
    other = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    study(other, demo_url, FLUTES[1])
    expect(other.get_by_text("Nothing open")).to_be_visible()
    other.context.close()


def test_at_goal_the_drill_is_done_and_leads_on(phone: Page, demo_url: str):
    with_time(phone)
    study(phone, demo_url, FLUTES[3])
    phone.locator(".big-start").tap()
    expect(phone.locator(".stand-music g.note")).to_have_count(20)
    for _ in range(7 * 3):  # seven rungs, three clean on each
        play_on(phone)
        phone.keyboard.press("PageDown")
    expect(phone.locator(".told")).to_have_text("Clean at goal tempo. This drill is done.")
    expect(phone.locator(".stand-head .level-number")).to_have_text("5")
    phone.get_by_role("button", name="To the end of today").tap()
    expect(phone.locator(".proud")).to_contain_text("rose from level 0 to 5")
    phone.get_by_role("link", name="Back to today").tap()
    expect(phone.locator(".today li").nth(0)).to_contain_text("done")
    # The other drill on the chunk gets no minutes: it stands at its goal.
    expect(phone.locator(".today li").nth(1)).to_contain_text("at goal")
    expect(phone.get_by_text("All done. Play something you like.")).to_be_visible()


def test_signing_out_leaves_nothing_behind_for_the_next_person(phone: Page, demo_url: str):
    study(phone, demo_url, FLUTES[0])
    phone.get_by_role("button", name="Sign out").tap()
    expect(phone.get_by_label("Class code")).to_be_visible()
    type_sign_in(phone, demo_url, CLARINETS[0])
    expect(phone.locator(".today").first).to_be_visible()
    expect(phone.locator("#main")).not_to_contain_text("Causeway")
