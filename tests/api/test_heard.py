"""What a director heard leads to its cure: in the ranking, in the plan, until it is mended."""

from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from crumb.core.plan.cures import CURES
from tests.api.school import (
    School,
    a_plan,
    a_repetition,
    a_school,
    an_item,
    assigned,
    hand_in,
    ok,
    with_music,
)


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session))


def say(school: School, words: str, chunk: int = 4, **whose: Any) -> Any:
    body = {"chunk_id": school.ids["chunks"][chunk]["id"], "words": words}
    whose = whose or {"student_id": str(school.ids["students"][0])}
    return school.director.post(f"/api/wall/{school.ids['part']}/heard", json={**body, **whose})


def evidence(school: School, student: int = 0, chunk: int = 4) -> dict[str, Any]:
    chunk_id = school.ids["chunks"][chunk]["id"]
    actor = school.ids["students"][student]
    return ok(school.director.get(f"/api/wall/{school.ids['part']}/evidence/{actor}/{chunk_id}"))


def best(school: School, chunk: int = 4) -> dict[str, Any]:
    chunk_id = school.ids["chunks"][chunk]["id"]
    path = f"/api/parts/{school.ids['part']}/ranking"
    found = ok(school.director.get(path, params={"chunk_id": chunk_id}))["drills"]
    return next(one for one in found if one["refused"] == "")


def focus_on(school: School, chunk: int = 4) -> list[dict[str, Any]]:
    actor = {"student_id": str(school.ids["students"][0])}
    plan = ok(school.director.post("/api/plans/preview", json=a_plan(school), params=actor))
    items = [item for day in plan["days"] for item in day["items"]]
    return [i for i in items if i["chunk_id"] == school.ids["chunks"][chunk]["id"]]


def begun(school: School) -> School:
    """The chunk is known, but slow: a cure has something to do."""
    assigned(school, an_item(school, start=70))
    rows = [a_repetition(school.ids["items"][0], tempo=70, second=40 * i) for i in range(4)]
    hand_in(school.students[0], *rows)
    return school


def test_the_list_says_what_can_be_heard_and_what_mends_it(school: School):
    cures = ok(school.director.get("/api/wall/cures"))
    assert [one["key"] for one in cures] == [cure.key for cure in CURES]
    pulse = next(one for one in cures if one["key"] == "pulse")
    assert pulse["drills"][0] == "Click on the off-beat"


def test_words_lead_to_the_cure_and_to_the_first_drill_on_the_bench(school: School):
    before = best(begun(school))["drill"]
    assert ok(say(school, "they keep rushing here"))
    heard = evidence(school)["heard"]
    assert [one["cure"]["key"] for one in heard] == ["pulse"]
    assert heard[0]["by"] == "Director"
    found = best(school)
    assert found["drill"] == "off-beat-click" != before
    assert found["reasons"][0] == "Heard: It rushes or drags."


def test_what_was_heard_of_one_student_moves_only_their_plan(school: School):
    begun(school)
    ok(say(school, "pulse"))
    first = focus_on(school)[0]
    assert first["drill"] == "off-beat-click"
    assert "rushes or drags" in first["why"]
    assert evidence(school, student=1)["heard"] == []


def test_what_was_heard_of_a_section_stands_for_all_of_it(school: School):
    ok(say(school, "accidental", section_id=str(school.ids["section"])))
    for student in (0, 1):
        (one,) = evidence(school, student)["heard"]
        assert (one["cure"]["key"], one["is_of_section"]) == ("accidental", True)


def test_said_twice_it_stands_once_and_ended_it_is_gone_and_can_come_back(school: School):
    once, twice = ok(say(school, "rush"))["id"], ok(say(school, "dragging"))["id"]
    assert once == twice
    path = f"/api/wall/heard/{once}/end"
    ok(school.director.post(path))
    assert evidence(school)["heard"] == []
    ok(school.director.post(path, params={"back": True}))
    assert len(evidence(school)["heard"]) == 1


def test_words_that_mean_nothing_known_or_nobody_are_refused(school: School):
    refused = say(school, "the trumpets look tired")
    assert (refused.status_code, "No cure is known" in refused.json()["detail"]) == (422, True)
    whose = {"student_id": None, "section_id": None}
    assert "Say whose it is" in say(school, "rush", **whose).json()["detail"]
    chunk = {"chunk_id": str(school.ids["part"]), "words": "rush"}
    whose = {"student_id": str(school.ids["students"][0])}
    missing = school.director.post(f"/api/wall/{school.ids['part']}/heard", json={**chunk, **whose})
    assert missing.status_code == 404
