"""People who help: invited by the director, each sees what is theirs and nothing else."""

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e.people import direct, pick
from tests.e2e.test_views import assert_accessible

PASSWORD = "a long enough password"


def invited(desk: Page, url: str, whom: str, field: str, choice: str) -> str:
    """The link of an invitation."""
    direct(desk, url)
    desk.get_by_role("link", name="People", exact=True).click()
    pick(desk, "Who to invite", whom)
    pick(desk, field, choice)
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="Make a link").click()
    return desk.get_by_text("It works once").locator(".code").inner_text()


def comes(browser: Browser, link: str, name: str) -> Page:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    page.set_default_timeout(60_000)
    page.goto(link)
    page.get_by_label("Your name").fill(name)
    page.get_by_label("Email").fill(f"{name.lower()}@tern.example")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Make the account").click()
    return page


@pytest.mark.full
def test_an_assistant_hears_and_sees_their_section_alone(
    desk: Page, browser: Browser, demo_url: str
):
    link = invited(desk, demo_url, "An assistant", "For which sections", "Flutes")
    page = comes(browser, link, "Perrin")
    expect(page.get_by_role("heading", name="Hearing")).to_be_visible()
    main = page.get_by_role("navigation", name="Main")
    expect(main.get_by_role("link")).to_have_text(["Hearing", "Wall", "Account"])
    page.get_by_role("link", name="Wall", exact=True).click()
    expect(page.locator(".wall-row").first).to_be_visible()
    page.get_by_label("Section", exact=True).click()
    expect(page.locator(".ant-select-item-option:visible")).to_have_text(["Flutes"])
    page.keyboard.press("Escape")
    page.locator('[data-cell="0 0"]').click(modifiers=["ControlOrMeta"])
    expect(page.get_by_role("button", name="Hear them")).to_be_visible()
    expect(page.get_by_role("button", name="Send a drill")).to_have_count(0)
    assert_accessible(page, "an assistant's Wall")
    page.goto(f"{demo_url}/people")
    expect(page.get_by_role("heading", name="Hearing")).to_be_visible()
    page.context.close()


@pytest.mark.full
def test_a_helper_sees_the_sheets_of_one_student(desk: Page, browser: Browser, demo_url: str):
    link = invited(desk, demo_url, "A helper", "For which student", "Sage L.")
    page = comes(browser, link, "Morrow")
    expect(page.get_by_role("heading", name="Sage L.")).to_be_visible()
    assert_accessible(page, "a helper's page")
    page.context.close()


@pytest.mark.full
def test_the_director_sees_who_may_do_what_and_dismisses(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="People", exact=True).click()
    desk.get_by_text("Who may do what").click()
    row = desk.locator("table.rights tr", has_text="judge hearings")
    expect(row.locator("td")).to_have_text(["yes", "yes", "no", "no"])
    person = desk.locator(".names li", has_text="Perrin")
    person.get_by_role("button", name="Remove").click()
    person.get_by_role("button", name="Remove for good").click()
    expect(person).to_have_count(0)
