"""What a director does on the bench."""

import re

from playwright.sync_api import Page, expect


def choose(page: Page, words: str, title: str) -> None:
    """Find a drill that fits by some words and take it."""
    page.get_by_label("Find a drill").fill(words)
    page.locator(".drill-list button").filter(has_text=re.compile(f"^{title}")).first.click()
    expect(page.get_by_role("heading", name=re.compile(f"^{title} on"))).to_be_visible()
    page.locator(".worked:not(.stale) .steps .score svg").first.wait_for()
    page.get_by_label("Find a drill").fill("")


def look_at_all(page: Page) -> None:
    """Every drill by family, those that do not fit among them."""
    page.get_by_label("Drills to show").get_by_text("All", exact=True).click()
