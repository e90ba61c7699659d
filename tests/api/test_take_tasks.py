"""What a section is asked to hand in, either-or, and the style of a passage."""

from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import School, a_school, assigned, ok, with_music
from tests.api.test_takes import a_take, a_tone


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    made = assigned(with_music(a_school(app, new_session)))
    ok(made.director.put("/api/takes/rules", json={"is_on": True, "weeks": 6}))
    return made


def passage(school: School, chunk: int | None, least: int | None = 3) -> dict[str, Any]:
    which = None if chunk is None else school.ids["chunks"][chunk]["id"]
    return {"part_id": school.ids["part"], "chunk_id": which, "least_seconds": least}


def asked_for(school: School, *wanted: list[dict[str, Any]], **said: Any) -> str:
    due_on = (datetime.now(UTC).date() + timedelta(days=3)).isoformat()
    body = {"section_id": school.ids["section"], "due_on": due_on, "wanted": list(wanted)}
    return str(ok(school.director.post("/api/takes/tasks", json={**body, **said}))["id"])


def owed(school: School, student: int = 0) -> list[Any]:
    return ok(school.students[student].get("/api/me/takes"))["asked"]


def states(school: School, student: int = 0) -> list[list[str]]:
    return [[thing["state"] for thing in task["things"]] for task in owed(school, student)]


def test_either_of_two_closes_a_thing_and_the_director_sees_who_lacks_what(school: School):
    asked_for(school, [passage(school, 2), passage(school, 4)], [passage(school, None, 5)])
    assert states(school) == [["open", "open"]]
    a_take(school, sound=a_tone(4))  # of the fifth chunk, one of the two
    assert states(school) == [["done", "open"]]
    (task,) = ok(school.director.get("/api/takes/tasks"))
    assert [one["label"] for one in task["wanted"][1]["either"]] == ["run-through"]
    chunks = school.ids["chunks"]
    assert [one["chunk_id"] for one in task["wanted"][0]["either"]] == [
        chunks[2]["id"],
        chunks[4]["id"],
    ]
    assert [one["handed_in"] for one in task["wanted"]] == [1, 0]
    actor = {one["student_id"]: one["states"] for one in task["students"]}
    first, second = (str(student) for student in school.ids["students"])
    assert actor == {first: ["done", "open"], second: ["open", "open"]}
    a_take(school, chunk_id=task["wanted"][1]["either"][0]["chunk_id"], sound=a_tone(6))
    assert owed(school)[0]["is_closed"]


def test_a_short_take_is_told_and_not_refused(school: School):
    asked_for(school, [passage(school, 4, 60)])
    a_take(school, sound=a_tone(2))
    assert states(school) == [["short"]]


def test_as_long_as_the_passage_takes_if_nothing_else_is_said(school: School):
    asked_for(school, [passage(school, 4, None)])
    (thing,) = owed(school)[0]["things"]
    where = f"{school.ids['part']}/{school.ids['chunks'][4]['id']}"
    needs = ok(school.students[0].get(f"/api/me/takes/ask/{where}"))
    assert thing["either"][0]["least_seconds"] == needs["least_seconds"]


def test_what_was_handed_in_before_it_was_asked_for_does_not_count(school: School):
    a_take(school, sound=a_tone(4))
    asked_for(school, [passage(school, 4)])
    assert states(school) == [["open"]]


def test_what_is_asked_for_no_more_is_gone_and_comes_back(school: School):
    task = asked_for(school, [passage(school, 4)])
    ok(school.director.delete(f"/api/takes/tasks/{task}"))
    assert (owed(school), ok(school.director.get("/api/takes/tasks"))) == ([], [])
    ok(school.director.post(f"/api/takes/tasks/{task}/back"))
    assert states(school) == [["open"]]


def test_only_those_with_the_music_owe_it(school: School):
    students = f"/api/sections/{school.ids['section']}/students"
    ok(school.director.post(students, json={"names": ["New one"]}))
    asked_for(school, [passage(school, 4)])
    (task,) = ok(school.director.get("/api/takes/tasks"))
    assert {one["student_id"] for one in task["students"]} == {
        str(student) for student in school.ids["students"]
    }


@pytest.mark.parametrize(
    "said",
    [
        {"wanted": []},
        {"wanted": [[]]},
        {"due_on": "2020-01-01"},
        {"due_on": "2999-01-01"},
        {"section_id": str(uuid4())},
    ],
    ids=["nothing", "nothing to choose", "past", "too far", "no such section"],
)
def test_what_cannot_be_asked_for_is_refused_and_nothing_is_kept(
    school: School, said: dict[str, Any]
):
    body = {
        "section_id": school.ids["section"],
        "due_on": (datetime.now(UTC).date() + timedelta(days=3)).isoformat(),
        "wanted": [[passage(school, 4)]],
        **said,
    }
    refused = school.director.post("/api/takes/tasks", json=body)
    assert refused.status_code in (404, 422)
    assert ok(school.director.get("/api/takes/tasks")) == []


def test_the_same_passage_twice_is_refused(school: School):
    body = {
        "section_id": school.ids["section"],
        "due_on": (datetime.now(UTC).date() + timedelta(days=3)).isoformat(),
        "wanted": [[passage(school, 4)], [passage(school, 4)]],
    }
    refused = school.director.post("/api/takes/tasks", json=body)
    assert (refused.status_code, "twice" in refused.json()["detail"]) == (422, True)


def test_nothing_is_asked_for_where_takes_are_off(school: School):
    ok(school.director.put("/api/takes/rules", json={"is_on": False, "weeks": 6}))
    body = {
        "section_id": school.ids["section"],
        "due_on": (datetime.now(UTC).date() + timedelta(days=3)).isoformat(),
        "wanted": [[passage(school, 4)]],
    }
    assert "off" in school.director.post("/api/takes/tasks", json=body).json()["detail"]


def test_nothing_is_owed_while_takes_are_off(school: School):
    asked_for(school, [passage(school, 4)])
    for is_on, owing in ((False, []), (True, [["open"]])):
        ok(school.director.put("/api/takes/rules", json={"is_on": is_on, "weeks": 6}))
        assert states(school) == owing


def test_the_desk_says_who_has_takes_to_hand_in_the_day_before(school: School):
    tomorrow = (datetime.now(UTC).date() + timedelta(days=1)).isoformat()
    asked_for(school, [passage(school, 4)], due_on=tomorrow)
    a_take(school)

    def said() -> list[str]:
        lines = ok(school.director.get("/api/desk"))["lines"]
        return [line["say"] for line in lines if line["kind"] == "owed"]

    assert said() == ["1 of 2 Clarinets have takes to hand in, due tomorrow"]
    a_take(school, 1)
    assert said() == []


def test_a_task_goes_with_its_piece(school: School):
    asked_for(school, [passage(school, 4)])
    ok(school.director.delete(f"/api/pieces/{school.ids['piece']}?evidence=keep"))
    assert (owed(school), ok(school.director.get("/api/takes/tasks"))) == ([], [])


def say(school: School, chunk: int, words: str) -> None:
    where = f"{school.ids['part']}/style/{school.ids['chunks'][chunk]['id']}"
    ok(school.director.put(f"/api/parts/{where}", json={"text": words}))


def heard_style(school: School, chunk: int) -> list[str]:
    where = f"{school.ids['part']}/{school.ids['chunks'][chunk]['id']}"
    return [
        one["text"] for one in ok(school.students[0].get(f"/api/me/takes/ask/{where}"))["style"]
    ]


def test_the_style_of_a_passage_is_read_before_a_take_of_it_and_on_the_judges_sheet(school: School):
    say(school, 4, "Short first note, then lean and lighten")
    assert heard_style(school, 4) == ["Short first note, then lean and lighten"]
    assert heard_style(school, 2) == []
    here = f"{school.ids['part']}/{school.ids['section']}/{school.ids['chunks'][4]['id']}"
    (said,) = ok(school.director.get(f"/api/hearing/{here}"))["style"]
    assert said["text"].startswith("Short first note")
    say(school, 4, "Lighter")
    assert heard_style(school, 4) == ["Lighter"]
    say(school, 4, "")
    assert heard_style(school, 4) == []


def test_style_is_judged_at_the_last_level_alone(school: School):
    def judged(level: int) -> int:
        body = {
            "id": str(uuid4()),
            "student_id": str(school.ids["students"][0]),
            "chunk_id": school.ids["chunks"][4]["id"],
            "level": level,
            "missing": ["Style"],
        }
        return school.director.post(f"/api/hearing/{school.ids['part']}", json=body).status_code

    assert [judged(level) for level in (3, 4, 6)] == [422, 422, 422]
    assert judged(5) == 201
