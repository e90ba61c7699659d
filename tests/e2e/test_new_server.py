"""An empty server leads its first director to a class that can sign in."""

import pytest
from playwright.sync_api import Browser, Page, expect


@pytest.mark.full
def test_from_nothing_to_a_student_signed_in(desk: Page, browser: Browser, empty_url: str):
    desk.goto(empty_url)
    expect(desk.get_by_role("heading", name="Welcome to Crumb")).to_be_visible()
    desk.get_by_label("School or program").fill("Skerry School")
    desk.get_by_label("Your name").fill("R. Lode")
    desk.get_by_label("Email").fill("lode@skerry.example")
    desk.get_by_label("Password").fill("short")
    desk.get_by_role("button", name="Make the account").click()
    expect(desk.locator(".ant-form-item-explain-error")).to_have_text("At least ten characters.")
    desk.get_by_label("Password").fill("a longer password")
    desk.get_by_role("button", name="Make the account").click()
    expect(desk.get_by_role("heading", name="No music yet")).to_be_visible()
    desk.get_by_role("link", name="Wall").click()
    expect(desk.get_by_role("heading", name="The Wall is empty")).to_be_visible()
    desk.get_by_role("link", name="Assignments").click()
    expect(desk.get_by_role("heading", name="Nothing is sent yet")).to_be_visible()
    desk.get_by_text("Due more than two weeks ago").click()
    expect(desk.get_by_text("Nothing.", exact=True)).to_be_visible()
    desk.get_by_role("link", name="People").click()
    expect(desk.get_by_role("heading", name="No section yet")).to_be_visible()
    desk.get_by_label("Name of the new section").fill("Horns")
    desk.get_by_role("button", name="Add section").click()
    desk.get_by_label("New students in Horns, one name on each line").fill("Isa T.\nBo R.")
    desk.get_by_role("button", name="Add students").click()
    pins = desk.locator(".pins li")
    expect(pins).to_have_count(2)
    pin = pins.nth(0).locator(".code").inner_text()
    code = desk.locator(".lead .code").inner_text()

    student = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
    student.goto(empty_url)
    student.get_by_label("Class code").fill(code)
    student.get_by_label("Your name").fill("Isa T.")
    student.get_by_label("PIN").fill("nope")
    student.get_by_role("button", name="To my music").click()
    expect(student.get_by_role("alert")).to_contain_text("does not match")
    student.get_by_label("PIN").fill(pin)
    student.get_by_role("button", name="To my music").click()
    expect(student.get_by_text("Nothing open, Isa")).to_be_visible()
    student.context.close()
