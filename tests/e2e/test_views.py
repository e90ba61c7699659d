"""Every main view, light and dark, by the rules of accessible pages."""

import re
from collections.abc import Collection

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from checks.sizes import Size
from crumb.demo import people
from tests.e2e.people import direct, pick, study
from tests.sizes import SIZE

RULES = {"runOnly": {"type": "tag", "values": ["wcag2a", "wcag2aa", "wcag21aa", "wcag22aa"]}}


def assert_accessible(page: Page, name: str, *, without: Collection[str] = ()) -> None:
    """Nothing that axe-core calls a violation of WCAG 2.2 AA (axe-core's own rules).

    Args:
        page: the view.
        name: of it, for who reads the failure.
        without: rules that cannot hold there.
    """
    page.wait_for_load_state("networkidle")
    page.wait_for_function(
        "() => document.getAnimations().every((one) => one.playState !== 'running')"
    )
    found = Axe().run(page, options=RULES).response["violations"]
    told = [
        (v["id"], [n["html"][:120] for n in v["nodes"][:3]])
        for v in found
        if v["id"] not in without
    ]
    assert told == [], name


def assert_accessible_both_ways(page: Page, name: str) -> None:
    """As it is now, and in ``./check full`` on the other paper, too."""
    assert_accessible(page, name)
    if SIZE is not Size.FULL:
        return
    page.get_by_role(
        "button", name=re.compile("^(Dark screen, for dim rooms|Light screen)$")
    ).click()
    assert_accessible(page, f"{name}, on the other paper")


def theme(page: Page, way: str) -> None:
    page.add_init_script(
        f"localStorage.setItem('crumb.dark', '{'yes' if way == 'dark' else 'no'}')"
    )


@pytest.mark.full
def test_the_directors_views(desk: Page, demo_url: str):
    direct(desk, demo_url)
    assert_accessible_both_ways(desk, "music")
    desk.get_by_role("link", name="Open").first.click()
    expect(desk.locator(".brackets .tab").first).to_be_visible()
    assert_accessible_both_ways(desk, "splitter")
    desk.get_by_role("link", name="Drill bench").click()
    expect(desk.locator(".steps .score svg").first).to_be_visible()
    assert_accessible_both_ways(desk, "bench")
    desk.get_by_role("button", name="Add to assignment").click()
    desk.get_by_role("link", name=re.compile("^Assign")).last.click()
    expect(desk.get_by_role("table")).to_be_visible()
    expect(desk.locator(".ant-message-notice")).to_have_count(0)  # it hides what is under it
    assert_accessible_both_ways(desk, "assign")
    desk.get_by_role("link", name="Plans", exact=True).click()
    desk.get_by_role("link", name="Clarinets").first.click()
    expect(desk.locator(".plan-day").first).to_be_visible()
    assert_accessible_both_ways(desk, "plan")
    for link, mark in (
        ("Desk", ".desk-lines li"),
        ("Hearing", ".judged svg"),
        ("Rehearse", ".rehearsal"),
        ("Assignments", "li.piece"),
        ("Wall", ".wall-row"),
        ("People", ".roster"),
    ):
        desk.get_by_role("link", name=link, exact=True).click()
        expect(desk.locator(mark).first).to_be_visible()
        assert_accessible_both_ways(desk, link)


@pytest.mark.full
def test_what_unfolds_in_the_directors_views(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("button", name="Parts and players").first.click()
    assert_accessible_both_ways(desk, "parts and players")
    desk.get_by_role("button", name="Reading report").first.click()
    assert_accessible_both_ways(desk, "what was read")
    desk.get_by_role("link", name="Open").first.click()
    expect(desk.locator(".brackets .tab").first).to_be_visible()
    for tab in ("Kin", "Order", "Marks"):
        desk.get_by_role("tab", name=re.compile(f"^{tab}")).click()
        assert_accessible_both_ways(desk, f"splitter, {tab}")
    walls = {"piece": ".wall-row", "student": ".my-sheet g.measure", "slips": ".slips-map"}
    for by, mark in {**walls, "week": ".week"}.items():
        desk.goto(f"{demo_url}/wall?by={by}")
        expect(desk.locator(mark).first).to_be_visible()
        assert_accessible_both_ways(desk, f"the Wall by {by}")


@pytest.mark.full
def test_the_whole_score(desk: Page, demo_url: str):
    direct(desk, demo_url)
    march = desk.locator("li.piece").filter(has_text="Saltgrass March")
    march.get_by_role("link", name="The whole score").click()
    expect(desk.locator("table.passages")).to_be_visible()
    desk.get_by_role("button", name="Q 17–32").click()
    expect(desk.get_by_role("button", name="Send", exact=True)).to_be_visible()
    assert_accessible_both_ways(desk, "the whole score")


@pytest.mark.parametrize("way", ["light", pytest.param("dark", marks=pytest.mark.full)])
def test_the_students_views(phone: Page, demo_url: str, way: str):
    theme(phone, way)
    phone.goto(demo_url)
    expect(phone.get_by_label("Class code")).to_be_visible()
    assert_accessible(phone, "sign-in")
    study(phone, demo_url, people.roster()["Clarinets"][3])
    assert_accessible(phone, "today")
    phone.get_by_role("link", name="My music").tap()
    expect(phone.locator(".my-chunks").first).to_be_visible()
    assert_accessible(phone, "my music")
    phone.get_by_role("link", name="Look and mark").first.tap()
    expect(phone.locator(".my-sheet g.measure").first).to_be_visible()
    assert_accessible(phone, "my score")
    phone.go_back()
    phone.get_by_role("link", name="Today").tap()
    phone.locator(".big-start").tap()
    expect(phone.locator(".stand-music svg").first).to_be_visible()
    assert_accessible(phone, "stand")
    phone.keyboard.press("?")
    expect(phone.get_by_text("pedal forward")).to_be_visible()
    expect(phone.get_by_text("a clinician decides")).to_be_visible()


def test_the_demo_school_is_whole(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name="People").click()
    expect(desk.locator(".roster")).to_have_count(13)
    counts = [int(t) for t in desk.locator(".roster h2 .muted").all_inner_texts()]
    assert sum(counts) == 48 + 34
    desk.get_by_role("link", name="Wall", exact=True).click()
    expect(desk.get_by_role("heading", name="Wall")).to_be_visible()  # People asks for one too
    pick(desk, "Section", "Clarinets")
    expect(desk.locator(".wall-row")).to_have_count(12)
    shown = {text[-1:] for text in desk.locator(".wall-row [data-cell]").all_inner_texts()}
    assert {"3", "4", "5"} <= shown


def test_pages_need_nothing_from_outside(desk: Page, demo_url: str):
    asked: list[str] = []
    desk.on("request", lambda request: asked.append(request.url))
    direct(desk, demo_url)
    desk.get_by_role("link", name="Open").first.click()
    expect(desk.locator(".brackets .tab").first).to_be_visible()
    assert all(url.startswith((demo_url, "data:", "blob:")) for url in asked)
