"""Plans as a director makes them and as students live in them."""

import os
import subprocess
import sys
from datetime import UTC, datetime, timedelta
from uuid import UUID

import pytest
from fastapi import FastAPI
from icalendar import Calendar
from sqlalchemy import select, text
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.services.evidence.rebuilding import rebuild
from crumb.services.planning.days import lay_ahead
from crumb.store.queries.mastery import parts_of_old_rules
from crumb.store.queries.planning import not_laid_out
from crumb.store.tables import Assignment, PlanDay, PlanRow
from tests.api.school import (
    ETUDE,
    School,
    a_plan,
    a_repetition,
    a_school,
    an_item,
    assigned,
    brought_in,
    hand_in,
    ok,
    with_music,
)
from tests.conftest import ROOT


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session, students=3))


def preview(school, **more):
    return ok(school.director.post("/api/plans/preview", json=a_plan(school, **more)))


def sent(school, **more):
    return ok(school.director.post("/api/plans", json=a_plan(school, **more)))["id"]


def my_plan(client):
    (plan,) = ok(client.get("/api/me/plan"))
    return plan


def minutes(days):
    return [sum(item["minutes"] for item in day["items"]) for day in days]


def test_a_part_and_a_date_become_weeks_in_one_act(school):
    found = preview(school, weekdays_off=[6])
    days = found["days"]
    assert len({day["day"] for day in days}) == len(days) >= 20
    assert all(datetime.fromisoformat(day["day"]).weekday() != 6 for day in days)
    assert max(minutes(days)) <= 20
    first = days[0]["items"]
    assert first[0]["category"] == "warm-up"
    assert all(item["why"].endswith(".") for day in days for item in day["items"])
    labels = {chunk["label"] for chunk in found["chunks"]}
    assert {item["place"] for item in first if item["category"] == "focus"} <= labels
    assert [one["name"] for one in found["students"]] == ["Player 0", "Player 1", "Player 2"]


def test_a_part_that_is_not_split_is_split_for_it(app: FastAPI, new_session):
    school = a_school(app, new_session)
    piece = brought_in(school, ETUDE)
    school.ids["part"] = piece["parts"][0]["id"]
    found = preview(school)
    assert found["why_split"].startswith("Split by load")
    assert len(found["chunks"]) > 2
    assert preview(school)["why_split"] == ""


@pytest.mark.parametrize(
    ("more", "said"),
    [
        ({"days": 0}, "ahead"),
        ({"days": 500}, "year"),
        ({"minutes_a_day": 3}, "between 5 and 120"),
        ({"weekdays_off": list(range(7))}, "left to practice"),
        ({"sessions_a_day": 9}, "one to three"),
    ],
)
def test_what_cannot_be_is_said(school, more, said):
    answer = school.director.post("/api/plans/preview", json=a_plan(school, **more))
    assert answer.status_code == 422
    assert said in answer.json()["detail"]


def test_with_few_days_it_says_so_and_a_later_date_that_it_offers_does(school):
    found = preview(school, days=4, minutes_a_day=20)
    assert not found["shown"]["feasible"]
    assert found["short_by_minutes"] > 0
    assert found["shown"]["bottleneck"]
    offer = next(o for o in found["offers"] if o["kind"] == "date")
    later = ok(
        school.director.post("/api/plans/preview", json={**a_plan(school), "on": offer["value"]})
    )
    assert later["shown"]["feasible"]
    for offer in found["offers"]:
        assert not any(chunk["id"] in offer["say"] for chunk in found["chunks"])


def test_todays_items_can_be_practised_and_stay_as_they_are(school):
    sent(school)
    student = school.students[0]
    today = my_plan(student)
    assert today["items"]
    assert sum(item["minutes"] for item in today["items"]) <= 20
    again = my_plan(student)
    assert [i["item"]["item_id"] for i in again["items"]] == [
        i["item"]["item_id"] for i in today["items"]
    ]
    for planned in today["items"]:
        stand = ok(student.get(f"/api/me/stand/{planned['item']['item_id']}"))
        assert stand["worked"]["steps"]
    # It is the plan's, not something sent by hand.
    assert ok(student.get("/api/me/today")) == []
    assert ok(school.director.get("/api/assignments")) == []


def test_only_ten_minutes_and_not_today_lay_the_day_out_anew(school):
    plan = sent(school)
    student, other = school.students[:2]
    before = my_plan(student)
    path = f"/api/me/plan/{plan}/minutes"
    ok(student.put(path, json={"minutes": 10}))
    short = my_plan(student)
    assert 0 < sum(i["minutes"] for i in short["items"]) <= 10
    ok(student.put(path, json={"minutes": 0}))
    assert my_plan(student)["items"] == []
    ok(student.put(path, json={"minutes": None}))
    assert len(my_plan(student)["items"]) == len(before["items"])
    assert my_plan(other)["minutes_today"] is None


def test_what_was_begun_stays_when_the_day_gets_shorter(school):
    plan = sent(school)
    student = school.students[0]
    focus = next(i for i in my_plan(student)["items"] if i["category"] == "focus")
    item = focus["item"]["item_id"]
    hand_in(student, a_repetition(item, tempo=focus["item"]["tempo"]))
    ok(student.put(f"/api/me/plan/{plan}/minutes", json={"minutes": 10}))
    after = my_plan(student)["items"]
    kept = next(i for i in after if i["item"]["item_id"] == item)
    assert (kept["category"], kept["why"]) == ("focus", focus["why"])
    assert sum(i["minutes"] for i in after) <= max(10, focus["minutes"])
    # What the director changes meanwhile takes neither it nor the ten minutes away.
    ok(school.director.put(f"/api/plans/{plan}", json=a_plan(school, sessions_a_day=2)))
    again = my_plan(student)
    assert again["minutes_today"] == 10
    assert item in {i["item"]["item_id"] for i in again["items"]}


def test_one_warms_up_on_what_is_worked_on_first(school):
    sent(school)
    warm, first = my_plan(school.students[0])["items"][:2]
    assert warm["category"] == "warm-up"
    assert warm["item"]["chunk"] == first["item"]["chunk"]


def test_after_half_an_hour_five_minutes_are_taken_off(school):
    sent(school, minutes_a_day=60)
    items = my_plan(school.students[0])["items"]
    rests = [i["is_break_after"] for i in items]
    before = sum(i["minutes"] for i in items[: rests.index(True) + 1]) if True in rests else 0
    assert (before >= 25) == (sum(i["minutes"] for i in items) > 25)


def moved_back(school, days):
    """Everything that was played and planned so far happened some days earlier."""
    with school.new_session() as session:
        session.execute(text("alter table evidence disable trigger user"))
        session.execute(
            text(
                f"update evidence set played_at = played_at - interval '{days} days',"
                f" local_day = local_day - {days}"
            )
        )
        session.execute(text("alter table evidence enable trigger user"))
        session.execute(text(f"update plan set starts_on = starts_on - {days}"))
        for by in (1000, -1000 + days):  # not onto each other
            session.execute(text(f"update plan_day set day = day - ({by})"))
        session.execute(
            text(
                f"update assignment set due_on = due_on - {days},"
                f" sent_at = sent_at - interval '{days} days' where plan_id is not null"
            )
        )
        session.commit()
        rebuild(session)


def practise(school, student, *, clean):
    """A day's focus items, a dozen passes each up the ladder; clean, or every other one slipped."""
    my_plan(student)
    with school.new_session() as session:  # an hour ago it had been there for a while
        session.execute(text("update assignment set sent_at = sent_at - interval '3 hours'"))
        session.commit()
    second = 0
    for planned in my_plan(student)["items"]:
        if planned["category"] != "focus":
            continue
        item = planned["item"]["item_id"]
        stand = ok(student.get(f"/api/me/stand/{item}"))
        step = len(stand["worked"]["steps"]) - 1
        tempo = planned["item"]["tempo"]
        for n in range(12):
            second += 60
            is_clean = clean or n % 2 == 0
            row = a_repetition(item, clean=is_clean, tempo=tempo, second=second, step=step)
            hand_in(student, row)
            if clean and n % 3 == 2:
                tempo = min(round(tempo * 1.08), planned["item"]["goal_bpm"])


def test_after_days_of_practice_the_strong_and_the_stuck_go_different_ways(school):
    sent(school)
    strong, stuck = school.students[:2]
    for _ in range(3):
        practise(school, strong, clean=True)
        practise(school, stuck, clean=False)
        moved_back(school, 1)
    mine = [my_plan(student)["items"] for student in (strong, stuck)]
    tempos = [{i["item"]["chunk"]: i["item"]["tempo"] for i in items} for items in mine]
    both = tempos[0].keys() & tempos[1].keys()
    assert tempos[0] != tempos[1]
    assert all(tempos[0][chunk] >= tempos[1][chunk] for chunk in both)
    found = ok(school.director.get(f"/api/plans/{ok(school.director.get('/api/plans'))[0]['id']}"))
    chances = {one["name"]: one["chance"] for one in found["students"]}
    assert chances["Player 0"] > chances["Player 1"]
    shown = next(one for one in found["students"] if one["name"] == "Player 1")
    assert shown["bottleneck"]


def test_what_the_director_changes_by_hand_holds_for_everybody(school):
    plan = sent(school)
    chunk = school.ids["chunks"][2]["id"]
    body = a_plan(school, changes=[{"kind": "pin", "chunk_id": chunk, "day": str(today())}])
    ok(school.director.put(f"/api/plans/{plan}", json=body))
    label = school.ids["chunks"][2]["label"]
    for student in school.students:
        assert label in {i["item"]["chunk"] for i in my_plan(student)["items"]}
    kept = ok(school.director.get(f"/api/plans/{plan}"))
    assert kept["wish"]["changes"][0]["chunk_id"] == chunk


def today():
    return datetime.now(UTC).date()


def test_one_plan_for_a_section_and_part_ends_the_one_before(school):
    first, second = sent(school), sent(school, minutes_a_day=30)
    listed = ok(school.director.get("/api/plans"))
    assert {row["id"]: row["is_withdrawn"] for row in listed} == {first: True, second: False}
    assert my_plan(school.students[0])["minutes_a_day"] == 30
    ok(school.director.post(f"/api/plans/{second}/withdraw"))
    assert ok(school.students[0].get("/api/me/plan")) == []
    ok(school.director.post(f"/api/plans/{second}/withdraw?back=true"))
    assert my_plan(school.students[0])["plan_id"] == second


def test_who_is_not_in_the_section_has_no_plan(school, app, new_session):
    plan = sent(school)
    other = a_school(app, new_session)
    assert ok(other.students[0].get("/api/me/plan")) == []
    answer = other.students[0].put(f"/api/me/plan/{plan}/minutes", json={"minutes": 10})
    assert answer.status_code == 404


def test_work_sent_by_hand_stands_beside_the_plan(school):
    sent(school)
    assigned(school, an_item(school, 4, "alone"))
    assert len(ok(school.students[0].get("/api/me/today"))) == 1
    assert my_plan(school.students[0])["items"]


def test_a_deleted_piece_takes_its_plans_along(school):
    sent(school)
    my_plan(school.students[0])
    ok(school.director.delete(f"/api/pieces/{school.ids['piece']}"))
    assert ok(school.students[0].get("/api/me/plan")) == []
    assert ok(school.director.get("/api/plans")) == []


def test_a_day_is_laid_out_once_however_often_it_is_asked_for(school):
    plan = UUID(sent(school))
    for _ in range(3):
        my_plan(school.students[0])
    with school.new_session() as session:
        assert session.get_one(PlanRow, plan).minutes_a_day == 20
        days = session.scalars(select(Assignment.due_on).where(Assignment.plan_id == plan)).all()
    assert len(days) == 1
    assert days[0] - today() < timedelta(days=2)


def test_days_are_there_before_anybody_looks(school):
    plan = sent(school)
    with school.new_session() as session:
        assert lay_ahead(session, 2) == 2
        assert lay_ahead(session, 50) >= 1
        assert not_laid_out(session, 50) == []
        laid = {
            d.student_id: d.items
            for d in session.scalars(select(PlanDay).where(PlanDay.plan_id == UUID(plan)))
        }
    assert len(laid) == 3
    shown = [i["item"]["item_id"] for i in my_plan(school.students[0])["items"]]
    assert shown == [i["item"] for i in laid[UUID(school.ids["students"][0])]]


def test_a_process_beside_the_worker_lays_days_out_and_makes_levels_anew(school, database_url):
    sent(school)
    with school.new_session() as session:
        session.execute(text("update mastery set rules = 1"))
        session.commit()
    env = {**os.environ, "CRUMB_DATABASE_URL": database_url}
    command = [sys.executable, "-m", "crumb.jobs.upkeep"]
    subprocess.run(command, env=env, cwd=ROOT, check=True, timeout=120)
    with school.new_session() as session:
        assert not_laid_out(session, 5) == []
        assert parts_of_old_rules(session) == []


def calendar_of(client):
    return ok(client.post("/api/calendar"))["path"]


def test_a_calendar_has_the_days_and_the_dates_and_can_be_taken_back(school, app):
    sent(school, days=10)
    assigned(school, an_item(school, 4, "alone"))
    nobody = TestClient(app)
    student = nobody.get(calendar_of(school.students[0]))
    assert student.headers["content-type"].startswith("text/calendar")
    found = Calendar.from_ical(student.content)
    titles = [str(event["summary"]) for event in found.walk("vevent")]
    assert sum("minutes" in title for title in titles) == 10
    assert sum("ready by today" in title for title in titles) == 1
    assert sum(title.endswith(": due") for title in titles) == 1
    director = nobody.get(calendar_of(school.director)).text
    assert "Clarinets" in director
    assert "minutes" not in director
    path = calendar_of(school.students[0])
    assert calendar_of(school.students[0]) == path  # the same until it is taken back
    ok(school.students[0].delete("/api/calendar"))
    assert nobody.get(path).status_code == 404
    assert calendar_of(school.students[0]) != path
