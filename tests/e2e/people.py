"""Signing in and choosing, as people do it."""

import re
from datetime import UTC, datetime, timedelta

from playwright.sync_api import Page, Response, expect

from crumb.demo import people


def direct(page: Page, url: str) -> None:
    """The demo's director is signed in, and looks at the music."""
    _, email, password = people.DIRECTOR
    body = {"email": email, "password": password}
    assert page.request.post(f"{url}/api/session/director", data=body).ok
    page.goto(f"{url}/music")
    expect(page.get_by_role("heading", name="Music")).to_be_visible()


def study(page: Page, url: str, name: str, pin: str = people.PIN) -> None:
    """A student of the demo is signed in, and looks at the day."""
    body = {"class_code": people.CLASS_CODE, "name": name, "pin": pin}
    assert page.request.post(f"{url}/api/session/student", data=body).ok
    page.goto(url)
    expect(page.get_by_role("heading", name="Today")).to_be_visible()


def type_sign_in(page: Page, url: str, name: str, pin: str = people.PIN) -> None:
    """A student of the demo signs in at the door."""
    page.goto(url)
    page.get_by_label("Class code").fill(people.CLASS_CODE)
    page.get_by_label("Your name").fill(name)
    page.get_by_label("PIN").fill(pin)
    page.get_by_role("button", name="To my music").click()
    expect(page.get_by_role("heading", name="Today")).to_be_visible()


def pick(page: Page, label: str, text: str) -> None:
    """Take something from a list, as people do: look for it if the list can be searched."""
    field = page.get_by_role("combobox", name=re.compile(rf"^\W*{re.escape(label)}\W*$"))
    field.click()
    options = page.locator(".ant-select-item-option:visible")
    if field.is_editable():
        field.fill(text)
        # Until the list is drawn anew, whatever is under the pointer may be gone.
        others = options.filter(has_not_text=re.compile(re.escape(text), re.IGNORECASE))
        expect(others).to_have_count(0)
    option = options.filter(has_text=re.compile(rf"^\W*{re.escape(text)}")).first
    # What the pointer comes to lie on is drawn anew, too: a press before that goes nowhere.
    option.hover()
    expect(option).to_have_class(re.compile("option-active"))
    option.click()


def taken_in(answer: Response) -> bool:
    """Whether it is the school's answer to something that was handed in."""
    return answer.request.method == "POST" and answer.ok


def with_time(page: Page) -> None:
    """From here on the device's clock can be moved on; it begins behind, as far as clocks may be.

    Who plays takes as long as the music is: taps that follow each other at once are doubted.
    """
    page.clock.install(time=datetime.now(UTC) - timedelta(seconds=100))


def play_on(page: Page) -> None:
    """The chunk is played once more."""
    page.clock.fast_forward(6_300)
