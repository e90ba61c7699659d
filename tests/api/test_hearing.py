"""Hearings: what was judged sets the level, is kept once, taken back, and leads to its cure."""

from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from fastapi import FastAPI
from sqlalchemy import select, text
from sqlalchemy.orm import Session, sessionmaker

from crumb.store.tables import Evidence, Hearing
from tests.api.school import School, a_school, assigned, ok, with_music


@pytest.fixture
def heard(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return assigned(with_music(a_school(app, new_session, students=3)))


def judged(school: School, student: int = 0, **more: object) -> dict[str, Any]:
    return {
        "id": str(uuid4()),
        "student_id": school.ids["students"][student],
        "chunk_id": school.ids["chunks"][1]["id"],
        "level": 4,
        "missing": [],
        **more,
    }


def judge(school: School, body: dict[str, Any]) -> Any:
    return ok(school.director.post(f"/api/hearing/{school.ids['part']}", json=body))


def sheet(school: School) -> Any:
    part, section = school.ids["part"], school.ids["section"]
    chunk = school.ids["chunks"][1]["id"]
    return ok(school.director.get(f"/api/hearing/{part}/{section}/{chunk}"))


def level(school: School, student: int = 0) -> int:
    waiting = {one["student_id"]: one for one in sheet(school)["waiting"]}
    return waiting[school.ids["students"][student]]["level"]


def test_a_hearing_sets_the_level_and_is_kept_once(heard: School):
    body = judged(heard, level=4, went_well="Even sixteenths.", one_thing="The landing.")
    assert judge(heard, body) == {"id": body["id"], "level": 4, "before": 0, "why": ""}
    assert level(heard) == 4
    judge(heard, body)  # the same once more, as after an answer that was lost
    with heard.new_session() as session:
        rows = session.scalars(select(Hearing).where(Hearing.part_id == heard.ids["part"])).all()
        evidence = session.get_one(Evidence, rows[0].evidence_id)
    assert len(rows) == 1
    assert (evidence.source, evidence.level, evidence.by_id) == ("hearing", 4, rows[0].by_id)
    last = sheet(heard)["waiting"][-1]["last"] or next(
        one["last"] for one in sheet(heard)["waiting"] if one["last"]
    )
    assert (last["by"], last["went_well"]) == ("Director", "Even sixteenths.")


def test_kept_is_not_heard_while_a_seam_is_open_and_the_answer_says_which(heard: School):
    found = judge(heard, judged(heard, level=6))
    assert found["level"] == level(heard) == 5
    assert found["why"] == "Heard at level 6. Still open: the seam into and out of it."


def test_the_player_reads_what_went_well_and_then_one_thing(heard: School):
    def read(student: int) -> Any:
        (part,) = ok(heard.students[student].get("/api/me/map"))
        return part["heard"][1]

    assert read(0) is None
    later = judged(heard, went_well="Clear notes.", one_thing="The landing.", missing=["Balance"])
    judge(heard, later)
    said = read(0)
    assert (said["by"], said["went_well"], said["one_thing"], said["missing"]) == (
        "Director",
        "Clear notes.",
        "The landing.",
        ["Balance"],
    )
    assert read(1) is None  # nobody reads what was said of another
    ok(heard.director.delete(f"/api/hearing/taken/{later['id']}"))
    assert read(0) is None


def test_a_date_nobody_has_is_told_as_such(heard: School):
    for student in (0, 1):
        judge(heard, judged(heard, student, level=2, cure="pulse"))
    body = {
        "chunk_id": heard.ids["chunks"][1]["id"],
        "symptom": "pulse",
        "due_on": (datetime.now(UTC).date() - timedelta(days=1)).isoformat(),
    }
    answer = heard.director.post(f"/api/hearing/{heard.ids['part']}/cure", json=body)
    assert answer.status_code == 422
    assert "cure" not in answer.json()["detail"]


def test_down_it_goes_with_a_reason_only(heard: School):
    judge(heard, judged(heard, level=5))
    path = f"/api/hearing/{heard.ids['part']}"
    refused = heard.director.post(path, json=judged(heard, level=3))
    assert refused.status_code == 422
    assert "say why it goes down" in refused.json()["detail"]
    assert level(heard) == 5
    judge(heard, judged(heard, level=3, reason="The run is uneven."))
    assert level(heard) == 3


def test_a_hearing_that_is_taken_back_leaves_what_was_there(heard: School):
    judge(heard, judged(heard, level=4))
    later = judged(heard, level=6)
    judge(heard, later)
    ok(heard.director.delete(f"/api/hearing/taken/{later['id']}"))
    ok(heard.director.delete(f"/api/hearing/taken/{later['id']}"))
    assert level(heard) == 4
    with heard.new_session() as session:
        kept = session.scalars(select(Hearing).where(Hearing.part_id == heard.ids["part"])).all()
    assert len(kept) == 2  # nothing that was said is lost


def test_what_was_heard_leads_to_its_cure_for_all_who_have_it(heard: School):
    start = heard.ids["chunks"][1]["start"]
    slip = {"at": start, "what": "rhythm"}
    for student in (0, 1):
        judge(heard, judged(heard, student, level=2, slips=[slip]))
    judge(heard, judged(heard, 2, level=2, cure="pulse"))
    (fault,) = ok(heard.director.get(f"/api/hearing/{heard.ids['part']}/faults"))
    assert [one["name"] for one in fault["students"]] == ["Player 0", "Player 1"]
    assert fault["cure"]["key"] == "rhythm"
    body = {
        "chunk_id": fault["chunk"]["id"],
        "symptom": "rhythm",
        "due_on": (datetime.now(UTC).date() + timedelta(days=7)).isoformat(),
    }
    cured = ok(heard.director.post(f"/api/hearing/{heard.ids['part']}/cure", json=body))
    assert cured["students"] == 2
    today = [len(ok(student.get("/api/me/today"))) for student in heard.students]
    assert today[0] == today[1] == today[2] + 1
    nobody = heard.director.post(
        f"/api/hearing/{heard.ids['part']}/cure", json={**body, "symptom": "pulse"}
    )
    assert nobody.status_code == 422


@pytest.mark.parametrize(
    "more",
    [
        {"level": 7},
        {"missing": ["Charm"]},
        {"cure": "magic"},
        {"slips": [{"at": {"index": 60, "at": "0"}}]},
        {"went_well": "x" * 201},
    ],
)
def test_what_cannot_be_is_refused_and_nothing_is_kept(heard: School, more: dict[str, Any]):
    path = f"/api/hearing/{heard.ids['part']}"
    assert heard.director.post(path, json=judged(heard, **more)).status_code == 422
    with heard.new_session() as session:
        assert (
            session.scalars(select(Hearing).where(Hearing.part_id == heard.ids["part"])).all() == []
        )


def test_who_is_at_tempo_is_heard_first(heard: School):
    judge(heard, judged(heard, 2, level=5))
    assert [one["name"] for one in sheet(heard)["waiting"]] == ["Player 2", "Player 0", "Player 1"]


def test_a_hearing_is_never_changed(heard: School):
    judge(heard, judged(heard, level=4))
    with pytest.raises(Exception, match="append-only"), heard.new_session() as session:
        session.execute(text("update hearing set level = 6"))


def test_students_neither_judge_nor_see_the_sheet(heard: School):
    path = f"/api/hearing/{heard.ids['part']}"
    assert heard.students[0].post(path, json=judged(heard)).status_code == 403
    assert heard.students[0].get(f"{path}/faults").status_code == 403
