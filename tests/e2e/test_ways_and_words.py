"""Two ways compared on the Stand; a school that says bar and crotchet."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.e2e.bench import choose
from tests.e2e.people import direct, study, with_time
from tests.e2e.test_bench_to_paper import to_the_bench


@pytest.mark.full
def test_two_ways_are_played_rated_and_one_wins(desk: Page, phone: Page, demo_url: str):
    to_the_bench(desk, demo_url)
    choose(desk, "two ways", "Two ways compared")
    desk.get_by_role("textbox", name="First way").fill("left side key")
    desk.get_by_role("textbox", name="First way").blur()
    desk.get_by_role("textbox", name="Second way").fill("right side key")
    desk.get_by_role("textbox", name="Second way").blur()
    expect(desk.locator(".step-head").first).to_contain_text("Left side key")
    desk.get_by_role("button", name="Add to assignment").click()
    desk.goto(desk.url.split("/bench")[0] + "/assign")
    desk.locator("table.preview").first.wait_for()
    desk.get_by_role("button", name="Send it").click()
    expect(desk.get_by_role("heading", name="Assignments")).to_be_visible()
    with_time(phone)
    study(phone, demo_url, "Sage L.")
    phone.get_by_role("link", name=re.compile("Two ways compared")).first.click()
    ways = phone.get_by_role("region", name="Two ways compared")
    expect(ways).to_contain_text("Try both ways")
    stars = ways.get_by_role("radio")
    stars.nth(3).click()  # the fourth of five for intonation
    stars.nth(9).click()  # the last of five for tone
    ways.get_by_role("button", name="Keep").click()
    expect(ways.get_by_role("row", name=re.compile("^Left side key"))).to_contain_text("4.0")


@pytest.mark.full
def test_a_uk_school_reads_of_bars_and_a4(desk: Page, demo_url: str):
    direct(desk, demo_url)
    expect(desk.get_by_role("columnheader", name="Measures").first).to_be_visible()
    desk.get_by_role("link", name="People").click()
    account = desk.get_by_role("region", name="School and account")
    with desk.expect_navigation():  # the page opens again, in the words of the school
        account.get_by_text("UK: bar, crotchet").click()
    expect(account.get_by_label("UK: bar, crotchet")).to_be_checked()
    desk.get_by_role("link", name="Music", exact=True).click()
    expect(desk.get_by_role("columnheader", name="Bars").first).to_be_visible()
    desk.get_by_role("link", name="Open").first.click()
    desk.locator(".tab-text").first.wait_for()
    desk.goto(desk.url.replace("/split", "/bench"))
    desk.locator(".steps .score svg").first.wait_for()
    choose(desk, "bar by bar", "Bar by bar")
    expect(desk.locator(".bench-head")).not_to_contain_text("measure")
    desk.get_by_role("link", name="People").click()
    with desk.expect_navigation():
        account.get_by_text("US: measure, quarter note").click()
    expect(account.get_by_label("US: measure, quarter note")).to_be_checked()
