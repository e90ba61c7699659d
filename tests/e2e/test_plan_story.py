"""A piece is planned, two players practise for three days, and their plans part ways."""

import re
from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from playwright.sync_api import APIRequestContext, Browser, Page, expect
from sqlalchemy import Engine, create_engine, select, text
from sqlalchemy.orm import Session, sessionmaker

from crumb.demo import people
from crumb.demo.etude import TITLE
from crumb.jobs.recomputing import rebuild
from crumb.store.tables import Piece, PiecePart
from tests.e2e.people import direct, pick, study

TROMBONES = people.roster()["Trombones"]


def test_a_director_plans_the_etude_from_nothing_and_sends_it(desk: Page, demo_url: str):
    direct(desk, demo_url)
    desk.get_by_role("link", name=TITLE).or_(desk.get_by_role("link", name="Open")).first.click()
    desk.get_by_role("link", name="Plan", exact=True).click()
    pick(desk, "Section", "Trombones")
    expect(desk.locator(".plan-students tbody tr")).to_have_count(5)
    expect(desk.locator(".verdict")).to_contain_text("0 of 5 in Trombones")
    # An offer is taken, and undone; then more days.
    offers = desk.get_by_role("list", name="How to be ready in time")
    offers.get_by_role("button", name="Do this").last.click()
    expect(desk.locator(".verdict")).to_contain_text("Everybody in Trombones")
    item = desk.locator(".plan-day").first.get_by_role("button", name=re.compile("Name it")).first
    item.click()
    expect(desk.locator(".plan-about")).to_contain_text("names and counts")
    desk.keyboard.press("Escape")
    desk.get_by_role("button", name="Send it to Trombones").click()
    expect(desk.get_by_role("heading", name="Plans")).to_be_visible()
    expect(desk.get_by_role("row", name=re.compile("Trombones"))).to_contain_text(TITLE)


@pytest.mark.full
def test_a_student_finds_the_day_with_reasons_and_less_time_at_a_tap(phone: Page, demo_url: str):
    study(phone, demo_url, TROMBONES[0])
    plan = phone.get_by_role("region", name=f"Plan for {TITLE}")
    expect(plan.locator("ol.today li").first).to_contain_text("Warm-up")
    expect(plan).to_contain_text("New: names and counts before the first note")
    before = plan.locator("ol.today li").count()
    plan.get_by_role("button", name="I have only 10 minutes").tap()
    expect(plan.get_by_role("button", name="As usual: 20 minutes")).to_be_visible()
    assert plan.locator("ol.today li").count() < before
    plan.get_by_role("button", name="Not today").tap()
    expect(plan).to_contain_text("comes another day")
    plan.get_by_role("button", name="As usual: 20 minutes").tap()
    expect(plan.locator("ol.today li")).to_have_count(before)
    plan.get_by_text("The next days").tap()
    expect(plan.locator(".ahead li").first).to_be_visible()
    phone.get_by_role("button", name="Start with the warm-up").tap()
    expect(phone.locator(".stand-music svg").first).to_be_visible()


def practised(asked: APIRequestContext, url: str, *, is_strong: bool) -> None:
    """A day's planned chunks, a dozen passes each: up the ladder, or slipping every other time."""
    (plan,) = asked.get(f"{url}/api/me/plan").json()
    if not plan["is_laid_out"]:  # as the page does
        assert asked.post(f"{url}/api/me/plan/{plan['plan_id']}/day").ok
        (plan,) = asked.get(f"{url}/api/me/plan").json()
    second = 0
    for planned in plan["items"]:
        if planned["category"] != "focus":
            continue
        item = planned["item"]
        stand = asked.get(f"{url}/api/me/stand/{item['item_id']}").json()
        tempo = item["tempo"]
        for n in range(12):
            second += 45
            row = {
                "id": str(uuid4()),
                "item_id": item["item_id"],
                "step": len(stand["worked"]["steps"]) - 1,
                "tempo_bpm": tempo,
                "is_clean": is_strong or n % 2 == 0,
                "played_at": str(datetime.now(UTC) - timedelta(hours=1, seconds=-second)),
            }
            answer = asked.post(f"{url}/api/me/repetitions", data={"repetitions": [row]})
            assert answer.ok, answer.text()
            if is_strong and n % 3 == 2:
                tempo = min(round(tempo * 1.07), item["goal_bpm"])


def a_day_goes_by(engine: Engine) -> None:
    """What was played and laid out today was yesterday."""
    with engine.begin() as connection:
        for statement in (
            "alter table evidence disable trigger user",
            "update evidence set played_at = played_at - interval '1 day',"
            " local_day = local_day - 1",
            "alter table evidence enable trigger user",
            "update plan set starts_on = starts_on - 1",
            "update plan_day set day = day - 1000",
            "update plan_day set day = day + 999",
            "update assignment set due_on = due_on - 1, sent_at = sent_at - interval '1 day'"
            " where plan_id is not null",
        ):
            connection.execute(text(statement))
    with Session(engine) as session:
        title = Piece.title == TITLE
        parts = session.scalars(select(PiecePart.id).join(Piece).where(title)).all()
    rebuild(sessionmaker(engine), parts)


@pytest.mark.full
def test_after_three_days_the_strong_and_the_stuck_go_different_ways(
    desk: Page, browser: Browser, demo_url: str, demo_database: str
):
    screens = []
    for name in TROMBONES[:2]:
        page = browser.new_context(viewport={"width": 390, "height": 844}).new_page()
        study(page, demo_url, name)
        expect(page.locator(".my-plan ol.today li").first).to_be_visible()
        screens.append(page)
    engine = create_engine(demo_database)
    for _ in range(3):
        with engine.begin() as connection:  # it had been there for a while when it was played
            sent = "update assignment set sent_at = sent_at - interval '3 hours'"
            connection.execute(text(f"{sent} where plan_id is not null"))
        practised(screens[0].context.request, demo_url, is_strong=True)
        practised(screens[1].context.request, demo_url, is_strong=False)
        a_day_goes_by(engine)
    engine.dispose()
    said = []
    for page in screens:
        page.reload()
        page.wait_for_load_state("networkidle")  # what was kept stands there first
        expect(page.locator(".my-plan ol.today li").first).to_be_visible()
        said.append(page.locator(".my-plan ol.today").first.inner_text())
        page.context.close()
    assert said[0] != said[1]
    assert "secure at" in said[0]
    direct(desk, demo_url)
    desk.get_by_role("link", name="Plans", exact=True).click()
    desk.get_by_role("link", name="Trombones").click()
    held_up = [
        desk.get_by_role("row", name=re.compile(f"^{re.escape(name)}")).inner_text()
        for name in TROMBONES[:2]
    ]
    assert held_up[0].split("\t")[1:] != held_up[1].split("\t")[1:]
    desk.get_by_role("button", name=TROMBONES[1]).click()
    expect(desk.locator(".verdict")).to_contain_text(f"For {TROMBONES[1]}")
    desk.locator(".plan-item.focus").first.click()
    expect(desk.locator(".plan-about p").first).to_contain_text(re.compile("secure at|New: "))
