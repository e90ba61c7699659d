"""From nothing to a level on the Wall, in one short walk through the real page."""

from pathlib import Path

from playwright.sync_api import Browser, Page, expect

from tests.api.school import ETUDE
from tests.e2e.bench import choose
from tests.e2e.people import taken_in, with_time

DIRECTOR = {"email": "lode@skerry.example", "password": "a longer password"}


def test_music_comes_in_is_split_drilled_sent_played_and_seen(
    desk: Page, browser: Browser, empty_url: str, tmp_path: Path
):
    made = {"program": "Skerry School", "name": "R. Lode", "time_zone": "UTC", **DIRECTOR}
    asked = desk.request
    code = asked.post(f"{empty_url}/api/setup", data=made).json()["class_code"]
    section = asked.post(f"{empty_url}/api/sections", data={"name": "Clarinets"}).json()
    path = f"{empty_url}/api/sections/{section['id']}/students"
    (pin,) = asked.post(path, data={"names": ["Isa T."]}).json()

    # The director brings the etude in and splits it.
    file = tmp_path / "etude.musicxml"
    file.write_bytes(ETUDE)
    desk.goto(f"{empty_url}/music")
    desk.locator("input[type=file]").first.set_input_files(file)
    expect(desk.get_by_role("status").filter(has_text="is here")).to_be_visible()
    desk.locator("li.piece").get_by_role("link", name="Open").click()
    desk.get_by_label("Measures in a chunk").fill("2")
    desk.get_by_role("button", name="Split the part").click()
    expect(desk.locator(".brackets .tab").first).to_be_visible()

    # A drill is seen as notation, and sent.
    desk.get_by_role("link", name="Drill bench").click()
    choose(desk, "alone", "Alone")
    expect(desk.locator(".worked:not(.stale) .steps g.note").first).to_be_visible()
    desk.get_by_role("button", name="Add to assignment").click()
    desk.get_by_role("link", name="Assign", exact=False).last.click()
    desk.get_by_role("button", name="Send it").click()
    expect(desk.locator("li.piece").first).to_contain_text("1 student")

    # The student signs in at the door, plays it three times, and has it handed in.
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    phone = context.new_page()
    with_time(phone)
    phone.goto(empty_url)
    phone.get_by_label("Class code").fill(code)
    phone.get_by_label("Your name").fill("Isa T.")
    phone.get_by_label("PIN").fill(pin["pin"])
    phone.get_by_role("button", name="To my music").click()
    phone.locator(".big-start").tap()
    expect(phone.locator(".stand-music svg").first).to_be_visible()
    for _ in range(3):
        phone.clock.fast_forward(9_000)  # two measures at the start of the ladder take 8 seconds
        with phone.expect_response(taken_in):
            phone.get_by_role("button", name="Clean").tap()
    expect(phone.locator(".unsent")).to_have_count(0)
    context.close()

    desk.get_by_role("link", name="Wall", exact=True).click()
    expect(desk.locator(".wall-row")).to_have_count(1)
    expect(desk.locator(".wall-row [data-cell]").first).not_to_contain_text("0")
