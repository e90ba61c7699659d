"""Takes: a student records with a microphone that is none, and it is heard at the desk."""

import re
from collections.abc import Iterator
from fractions import Fraction

import pytest
from playwright.sync_api import Browser, Page, expect

from crumb.core.score.position import Position, Span
from crumb.demo.etude import clarinet_etude
from crumb.demo.sound import Fault, played
from tests.e2e.conftest import FLAGS
from tests.e2e.people import direct, pick, study
from tests.e2e.test_views import assert_accessible

pytestmark = pytest.mark.usefixtures("worker")

PLAYER = "Dilys P."


def stopped_after(page: Page, seconds: int) -> None:
    """Recorded for so many seconds or, on a slow device, some more."""
    enough = "|".join(str(n) for n in range(seconds, seconds + 30))
    page.get_by_role("button", name=re.compile(rf"^Stop, ({enough}) s")).click()


@pytest.fixture(scope="module")
def microphone(browser: Browser, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Page]:
    """A phone that hears measures 14 and 15, with a wrong note in them."""
    span = Span(Position(13, Fraction(0)), Position(15, Fraction(0)))
    faults = {5: Fault.WRONG}
    sound = played(clarinet_etude(), span, tempo=Fraction(96), beat=Fraction(1), faults=faults)
    file = tmp_path_factory.mktemp("sound") / "microphone.wav"
    file.write_bytes(sound)
    heard = [
        "--use-fake-ui-for-media-stream",
        "--use-fake-device-for-media-stream",
        f"--use-file-for-fake-audio-capture={file}",
    ]
    opened = browser.browser_type.launch(executable_path="/usr/bin/chromium", args=[*FLAGS, *heard])
    context = opened.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True
    )
    page = context.new_page()
    page.set_default_timeout(60_000)
    yield page
    opened.close()


def test_a_take_is_recorded_heard_again_and_handed_in_without_a_network(
    microphone: Page, demo_url: str
):
    page = microphone
    study(page, demo_url, PLAYER)
    page.get_by_role("link", name="Takes", exact=True).click()
    expect(page.get_by_text("the chunk once through")).to_be_visible()
    page.get_by_role("button", name="Record", exact=True).click()
    stopped_after(page, 2)
    take = page.locator(".takes li").first
    expect(take.locator("audio")).to_be_visible()
    assert_accessible(page, "Takes")
    page.context.set_offline(True)
    take.get_by_role("button", name="Hand in").click()
    expect(take.get_by_text("Waiting to be handed in")).to_be_visible()
    page.context.set_offline(False)
    handed = page.get_by_role("region", name="Handed in")
    expect(handed).to_contain_text("handed in")
    expect(page.get_by_role("heading", name="On this device")).to_be_hidden()
    expect(handed.locator("audio")).to_be_visible()
    page.wait_for_function(
        """() => new Promise((tell) => {
          const audio = document.querySelector('[aria-label="Handed in"] audio')
          audio.addEventListener('loadedmetadata', () => tell(audio.duration > 1.5))
          audio.preload = 'auto'
          audio.load()
        })"""
    )


@pytest.mark.full
def test_a_take_that_the_device_has_no_room_for_is_not_lost_in_silence(
    microphone: Page, demo_url: str
):
    page = microphone
    page.evaluate(
        """() => {
          window.put = IDBObjectStore.prototype.put
          IDBObjectStore.prototype.put = () => { throw new DOMException('', 'QuotaExceededError') }
        }"""
    )
    page.get_by_role("button", name="Record", exact=True).click()
    stopped_after(page, 1)
    expect(page.get_by_role("alert")).to_contain_text("This device has no room")
    page.evaluate("() => { IDBObjectStore.prototype.put = window.put }")
    page.get_by_role("button", name="Record", exact=True).click()
    stopped_after(page, 1)
    expect(page.get_by_role("alert")).to_be_hidden()
    kept = page.locator(".takes li").filter(has=page.get_by_role("button", name="Hand in"))
    expect(kept).to_have_count(1)
    kept.get_by_role("button", name="Delete", exact=True).click()
    kept.get_by_role("button", name="Delete for good").click()
    expect(kept).to_have_count(0)


def test_it_is_heard_at_the_desk_from_a_measure_and_judged(
    microphone: Page, desk: Page, demo_url: str
):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Desk", exact=True).click()
    line = desk.locator(".desk-lines li", has_text="1 take of").first
    line.get_by_role("link", name="Hear them").click()
    player = desk.get_by_role("region", name="Take", exact=True)
    expect(player).to_be_visible()
    expect(desk.get_by_role("heading", name=PLAYER)).to_be_visible()
    assert_accessible(desk, "Hearing a take")
    desk.keyboard.press("p")
    desk.wait_for_function("() => document.querySelector('.take-player audio').currentTime > 0.2")
    desk.keyboard.press("b")
    expect(player.get_by_role("status")).to_contain_text("now in")
    desk.keyboard.press("-")
    rate = "() => document.querySelector('.take-player audio').playbackRate"
    assert desk.evaluate(rate) == 0.9
    assert desk.evaluate("() => document.querySelector('.take-player audio').preservesPitch")
    desk.locator(".judged .notehead").nth(5).click(force=True)
    desk.keyboard.press("w")
    desk.get_by_label("First: what went well").fill("A steady pulse")
    desk.get_by_label("Then: one thing to change").fill("Name the sixth note before you play it")
    desk.get_by_role("button", name="Level 3, steady").click()
    level_before = desk.get_by_label("Why the level goes down")
    if level_before.is_visible():
        level_before.fill("A wrong note each time")
    desk.get_by_role("button", name="Keep").click()
    expect(desk.get_by_text(f"{PLAYER}:")).to_be_visible()
    microphone.reload()
    expect(microphone.get_by_text("heard: see My music")).to_be_visible()
    microphone.get_by_role("link", name="My music").click()
    expect(microphone.get_by_text("Name the sixth note")).to_be_visible()


@pytest.mark.full
def test_two_takes_stand_side_by_side(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Desk", exact=True).click()
    desk.locator(".desk-lines li", has_text="takes of").get_by_role("link").first.click()
    desk.locator(".queue button", has_text="Fia H.").click()
    desk.get_by_label("Beside it").click()
    desk.keyboard.press("ArrowDown")
    desk.keyboard.press("Enter")
    expect(desk.locator(".take-player")).to_have_count(2)


@pytest.mark.full
def test_a_take_that_was_handed_in_can_be_deleted_for_good(microphone: Page, demo_url: str):
    microphone.get_by_role("link", name="Takes", exact=True).click()
    handed = microphone.get_by_role("region", name="Handed in")
    handed.get_by_role("button", name="Delete").click()
    handed.get_by_role("button", name="Delete for good").click()
    expect(handed).to_be_hidden()


@pytest.mark.full
def test_a_section_is_asked_for_takes_and_either_of_two_closes_it(
    microphone: Page, desk: Page, demo_url: str
):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Hearing", exact=True).click()
    pick(desk, "Chunk", "15–16")
    desk.get_by_role("button", name="Ask for takes").click()
    desk.get_by_role("button", name="or a choice of passages").click()
    pick(desk, "Passage to hand in 1.2", "17–18")
    assert_accessible(desk, "Asking for takes")
    desk.get_by_role("button", name="Ask Clarinets").click()
    task = desk.get_by_role("region", name="Asked for").get_by_role("listitem").last
    expect(task).to_contain_text("Lantern Etude 15–16 or Lantern Etude 17–18 (0 of 12)")

    page = microphone
    page.goto(f"{demo_url}/today")
    page.get_by_role("link", name="takes to hand in").click()
    asked = page.get_by_role("region", name="Asked for")
    expect(asked).to_contain_text("run-through")
    asked.get_by_role("link", name="Lantern Etude 17–18").click()
    page.get_by_role("button", name="Record", exact=True).click()
    stopped_after(page, 5)
    page.locator(".takes li").first.get_by_role("button", name="Hand in").click()
    expect(asked.locator("li.done")).to_contain_text("handed in")
    desk.reload()
    expect(task).to_contain_text("1 of 12 handed everything in")


@pytest.mark.full
def test_the_style_of_a_passage_is_said_and_read_before_the_first_take(
    microphone: Page, desk: Page, demo_url: str
):
    direct(desk, demo_url)
    desk.get_by_role("link", name="Hearing", exact=True).click()
    pick(desk, "Chunk", "15–16")
    desk.get_by_role("button", name="Describe its style").click()
    desk.get_by_label("Style of this passage").fill("Short first note, then lean")
    desk.get_by_role("button", name="Keep", exact=True).click()
    expect(desk.locator(".hearing .style-brief")).to_contain_text("Short first note, then lean")
    desk.get_by_text("Checklist: all there").click()
    style = desk.get_by_label("Style", exact=True)
    desk.get_by_role("button", name="Level 3, steady").click()
    expect(style).to_be_hidden()
    desk.get_by_role("button", name="Level 5").click()
    expect(style).to_be_visible()
    page = microphone
    page.goto(f"{demo_url}/takes")
    pick(page, "Chunk", "15–16")
    expect(page.locator(".style-brief")).to_contain_text("Short first note, then lean")
