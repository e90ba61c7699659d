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

from crumb.jobs.days_ahead import lay_days_ahead
from crumb.jobs.recomputing import rebuild
from crumb.store.queries.mastery import waiting
from crumb.store.queries.planning import not_laid_out
from crumb.store.tables import Assignment, PlanDay, PlanRow
from tests.api.school import (
    ETUDE,
    School,
    a_plan,
    a_repetition,
    a_school,
    an_assignment,
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


def plans_of(client):
    """What the page does: a day that is not laid out yet is laid out first."""
    for plan in ok(client.get("/api/me/plan")):
        if not plan["is_laid_out"]:
            ok(client.post(f"/api/me/plan/{plan['plan_id']}/day"))
    return ok(client.get("/api/me/plan"))


def my_plan(client):
    (plan,) = plans_of(client)
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


def test_after_half_an_hour_five_minutes_are_taken_off(school):
    sent(school, minutes_a_day=60)
    items = my_plan(school.students[0])["items"]
    assert sum(i["minutes"] for i in items) > 30
    stretches = [0]
    for item in items:
        stretches[-1] += item["minutes"]
        if item["is_break_after"]:
            stretches.append(0)
    assert min(stretches) > 0
    assert max(stretches) <= 30


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
    rebuild(school.new_session)


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


@pytest.mark.full
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


@pytest.mark.full
def test_days_are_there_before_anybody_looks(school):
    plan = sent(school)
    assert lay_days_ahead(school.new_session, 2) == 2
    assert lay_days_ahead(school.new_session, 50) >= 1
    with school.new_session() as session:
        assert not_laid_out(session, 50) == []
        laid = {
            d.student_id: d.items
            for d in session.scalars(select(PlanDay).where(PlanDay.plan_id == UUID(plan)))
        }
    assert len(laid) == 3
    shown = [i["item"]["item_id"] for i in my_plan(school.students[0])["items"]]
    assert shown == [i["item"] for i in laid[UUID(school.ids["students"][0])]]


@pytest.mark.full
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
        assert waiting(session) == []


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


def test_a_class_has_weeks_with_their_focus_and_one_due_day(school):
    found = preview(school, days=35, due_weekday=4)
    weeks = found["weeks"]
    assert all(datetime.fromisoformat(week["due"]).weekday() == 4 for week in weeks[:-1])
    assert weeks[1]["upkeep"] == weeks[0]["focus"] != []
    later = {name for week in weeks[1:] for name in week["focus"]}
    this_week = [d for d in found["days"] if d["day"] <= weeks[0]["due"]]
    met = {i["place"].replace("→", "") for d in this_week for i in d["items"] if i["chunk_id"]}
    assert met
    assert not met & later
    sent(school, days=35, due_weekday=4)
    mine = my_plan(school.students[0])["week"]
    assert (mine["due"], mine["focus"]) == (weeks[0]["due"], weeks[0]["focus"])


def a_passage(school, words):
    path = f"/api/parts/{school.ids['part']}/passages"
    return ok(school.director.post(path, json={"words": words}))["id"]


def test_a_plan_for_two_passages_leaves_the_rest_alone_and_each_has_its_tempo(school):
    passages = [
        {"chunk_id": a_passage(school, "9-12"), "goal": 90},
        {"chunk_id": a_passage(school, "33-36")},
    ]
    plan_id = sent(school, passages=passages)
    found = ok(school.director.get(f"/api/plans/{plan_id}"))
    assert [one["goal"] for one in found["passages"]] == [90, None]
    items = [item for day in found["days"] for item in day["items"]]
    places = {i["place"].replace("→", "") for i in items if i["chunk_id"]}
    assert places == {"9–10", "11–12", "33–34", "35–36"}
    assert max(i["to_bpm"] for i in items if i["place"].startswith(("9–", "11–"))) <= 90
    joined = {i["place"] for i in items if i["category"] == "link"}
    assert not any(place.startswith("11") and "33" in place for place in joined)
    today = my_plan(school.students[0])
    assert not today["is_whole"]
    assert {one["item"]["chunk"].replace("→", "") for one in today["items"]} <= places | {"9–12"}


@pytest.mark.full
def test_minutes_that_plans_share_are_dealt_out_by_what_each_still_takes(school):
    whole = sent(school, shares=True)
    alone = my_plan(school.students[0])["minutes_a_day"]
    piece = brought_in(school, ETUDE, title="Another")
    first, school.ids["part"] = school.ids["part"], piece["parts"][0]["id"]
    short = {"chunk_id": a_passage(school, "5-8")}
    preview(school)  # which splits it
    sent(school, shares=True, passages=[short])
    plans = plans_of(school.students[0])
    by_id = {plan["plan_id"]: plan["minutes_a_day"] for plan in plans}
    assert alone == sum(by_id.values()) == 20
    assert by_id[whole] > 20 - by_id[whole] > 0
    # Each by itself, if they do not share.
    school.ids["part"] = first
    ok(school.director.put(f"/api/plans/{whole}", json=a_plan(school, shares=False)))
    plans = plans_of(school.students[0])
    assert [plan["minutes_a_day"] for plan in plans] == [20, 20]


def test_a_floor_and_a_festival_tempo_have_chances_of_their_own(school):
    path = f"/api/parts/{school.ids['part']}/range"
    ok(school.director.put(path, json={"floor_bpm": 70, "festival_bpm": 160}))
    found = preview(school, days=60, minutes_a_day=30)
    assert [one["name"] for one in found["goals"]] == ["floor", "goal", "festival"]
    floor, goal, festival = (one["chance"] for one in found["goals"])
    assert floor > goal >= festival
    towards = preview(school, days=60, minutes_a_day=30, goal=160)
    assert towards["shown"]["chance"] == pytest.approx(festival, abs=0.01)
    refused = school.director.put(path, json={"floor_bpm": 200})
    assert (refused.status_code, "under the goal" in refused.json()["detail"]) == (422, True)
    # A goal that passes them leaves nothing behind that is not so.
    goal_path = f"/api/parts/{school.ids['part']}/goal"
    part = ok(school.director.put(goal_path, json={"goal_bpm": 165}))["part"]
    assert (part["floor_bpm"], part["festival_bpm"]) == (70, None)


def test_the_outlook_counts_everybody_once_and_says_what_holds_most_up(school):
    plan_id = sent(school, days=6)
    found = ok(school.director.get("/api/plans/outlook"))
    (line,) = found["plans"]
    assert (found["students"], found["likely"]) == (3, 0)
    assert (line["id"], line["students"], line["likely"]) == (plan_id, 3, 0)
    assert line["bottleneck"] in {c["label"] for c in school.ids["chunks"]}
    ok(school.director.post(f"/api/plans/{plan_id}/withdraw"))
    assert ok(school.director.get("/api/plans/outlook"))["plans"] == []


def test_one_warms_up_for_the_techniques_of_the_coming_days(school):
    sent(school)
    plan = my_plan(school.students[0])
    first = plan["items"][0]
    assert first["category"] == "warm-up"
    assert first["why"].startswith("For what the coming days ask for: ")
    worked_on = {i["item"]["chunk"] for i in plan["items"][1:]}
    worked_on |= {i["place"] for day in plan["ahead"] for i in day["items"]}
    assert first["item"]["chunk"] in worked_on
    chunk = next(c for c in school.ids["chunks"] if c["label"] == first["item"]["chunk"])
    tags = ok(school.director.get(f"/api/parts/{school.ids['part']}/chunks/{chunk['id']}/tags"))
    said = first["why"].removeprefix("For what the coming days ask for: ").rstrip(".")
    assert set(said.split(", ")) <= {tag["name"].lower() for tag in tags["tags"]}


def test_a_drill_for_every_second_session_rests_until_there_was_another(school):
    often = {**an_item(school, chunk=2), "every": 2}
    assigned(school, often, an_item(school, chunk=4))
    client = school.students[0]
    spaced, daily = school.ids["items"]

    def waits():
        return {i["item_id"]: i["waits"] for i in ok(client.get("/api/me/today"))}[spaced]

    assert not waits()
    hand_in(client, a_repetition(spaced))
    assert not waits()  # begun today, it stays there
    moved_back(school, 1)
    assert waits()
    hand_in(client, a_repetition(daily))
    assert waits()
    moved_back(school, 1)
    assert not waits()
    often = {**often, "every": 9}
    refused = school.director.post("/api/assignments", json=an_assignment(school, often))
    assert refused.status_code == 422


def test_a_day_is_laid_out_while_others_hand_in(school):
    """Who hands in shares the part and then waits for the student: nobody waits in a ring."""
    plan_id = sent(school)
    my_plan(school.students[0])
    with school.new_session() as session:
        session.execute(text("update plan_day set is_laid_out = false"))
        session.commit()
    with school.new_session() as handing_in:
        shared = "select pg_advisory_xact_lock_shared(hashtextextended(root_id::text, 1)) from part"
        handing_in.execute(text(f"{shared} where id = :id"), {"id": school.ids["part"]})
        assert my_plan(school.students[0])["plan_id"] == plan_id
        handing_in.rollback()


def test_a_part_is_divided_while_a_day_is_laid_out(school, new_session):
    """What is being sent points at the part, and keeps nobody from changing it."""
    with new_session() as laying_out:
        laying_out.execute(
            text("select 1 from part where id = :id for key share"), {"id": school.ids["part"]}
        )
        assert a_passage(school, "9-12")
        laying_out.rollback()


def test_a_day_is_laid_out_by_the_levels_of_before_while_they_wait(school):
    """After a change of the rules of levels, no student begins from the start."""
    known = assigned(school, an_item(school, start=106))
    student = known.students[0]
    for second in range(0, 48, 12):
        hand_in(student, a_repetition(known.ids["items"][0], tempo=106, second=second))
    with school.new_session() as session:
        mine = {"student": school.ids["students"][0]}
        session.execute(text("update mastery set rules = 1 where student_id = :student"), mine)
        session.commit()
    sent(school, passages=[{"chunk_id": school.ids["chunks"][4]["id"], "goal": 120}])
    (plan,) = plans_of(student)
    assert plan["items"]
    assert not [item["why"] for item in plan["items"] if item["why"].startswith("New")]
