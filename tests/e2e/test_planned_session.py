"""A whole planned session at every size, by keys and by pedal, without a network and back."""

import pytest
from playwright.sync_api import Browser, expect

from tests.e2e.people import play_on
from tests.e2e.test_stand import CLARINETS, enter, ready_offline, stored
from tests.e2e.test_views import assert_accessible


@pytest.mark.full
@pytest.mark.parametrize(
    ("size", "clean", "slip", "name"),
    [
        ((1280, 800), "ArrowRight", "ArrowLeft", CLARINETS[8]),
        ((1024, 768), "ArrowRight", "ArrowLeft", CLARINETS[9]),
        ((844, 390), "PageDown", "PageUp", CLARINETS[10]),
        ((390, 844), "PageDown", "PageUp", CLARINETS[11]),
    ],
    ids=["keys at a desk", "keys on a tablet", "a pedal on its side", "a pedal upright"],
)
def test_a_whole_planned_session_without_a_network_and_back(
    browser: Browser,
    demo_url: str,
    demo_database: str,
    size: tuple[int, int],
    clean: str,
    slip: str,
    name: str,
):
    width, height = size
    context = browser.new_context(viewport={"width": width, "height": height}, has_touch=True)
    page = enter(context, demo_url, name)
    ready_offline(page)
    before = stored(demo_database, name)
    context.set_offline(True)
    links = page.locator("ol.today li:not(.finished):not(.rest) a")
    expect(links.first).to_be_visible()
    whole, taps = links.count(), 0
    for place in range(whole):
        links.nth(place).focus()
        page.keyboard.press("Enter")
        expect(page.locator(".stand-music svg, .stand-music .on-paper").first).to_be_visible()
        expect(page.locator(".where")).to_contain_text("today")
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="Stop click")).to_be_visible()
        for key in (clean, slip, clean):
            play_on(page)
            page.keyboard.press(key)
            taps += 1
        page.keyboard.press("Escape")
        expect(page.get_by_role("heading", name="Today")).to_be_visible()
    assert whole >= 3, "a day of less than a warm-up and two chunks is no session"
    expect(page.locator(".unsent")).to_contain_text("saved on this device")
    context.set_offline(False)
    expect(page.locator(".unsent")).to_have_count(0)
    assert stored(demo_database, name) == before + taps
    assert_accessible(page, f"Today after a session at {width} by {height}")
    context.close()
