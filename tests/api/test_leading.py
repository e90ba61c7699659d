"""What a section lets its leader see: each player's own choice, counts and never names."""

from typing import Any
from uuid import uuid4

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import School, a_school, assigned, ok, with_music


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    """Five players; the first leads."""
    made = assigned(with_music(a_school(app, new_session, students=5)))
    lead(made, is_leader=True)
    return made


def lead(school: School, *, is_leader: bool) -> None:
    student = school.ids["students"][0]
    path = f"/api/sections/{school.ids['section']}/students/{student}/leader"
    ok(school.director.put(path, json={"is_leader": is_leader}))


def show(school: School, *players: int, shows: bool = True) -> None:
    for player in players:
        path = f"/api/me/leading/{school.ids['section']}"
        ok(school.students[player].put(path, json={"shows": shows}))


def leading(school: School, player: int = 0) -> Any:
    return ok(school.students[player].get("/api/me/leading"))


def judge(school: School, player: int, level: int) -> None:
    body = {
        "id": str(uuid4()),
        "student_id": str(school.ids["students"][player]),
        "chunk_id": school.ids["chunks"][4]["id"],
        "level": level,
        "missing": [],
    }
    ok(school.director.post(f"/api/hearing/{school.ids['part']}", json=body))


def test_nothing_is_shown_before_anybody_agreed(school: School):
    judge(school, 1, 5)
    assert leading(school)["shown"] == []
    (own,) = leading(school, 1)["sections"]
    assert (own["leaders"], own["is_led"], own["shows"]) == (["Player 0"], False, False)


def test_three_who_agree_are_counted_and_never_named(school: School):
    judge(school, 1, 5)
    judge(school, 4, 5)  # who did not agree is not counted
    show(school, 1, 2)
    assert leading(school)["shown"] == []  # of two one could guess who it is
    show(school, 3)
    answer = leading(school)
    (part,) = answer["shown"]
    assert part["of"] == 3
    assert [chunk["have"] for chunk in part["chunks"]][:6] == [0, 0, 0, 0, 1, 0]
    assert "Player 1" not in str(answer)


def test_it_is_taken_back_at_once(school: School):
    show(school, 1, 2, 3)
    assert leading(school)["shown"] != []
    show(school, 2, shows=False)
    assert leading(school)["shown"] == []


def test_who_leads_no_more_sees_no_more_and_no_other_player_ever_did(school: School):
    show(school, 1, 2, 3)
    assert leading(school, 1)["shown"] == []
    lead(school, is_leader=False)
    assert leading(school) == {"sections": [], "shown": []}


def test_one_shows_nothing_for_a_section_one_does_not_play_in(
    school: School, app: FastAPI, new_session: sessionmaker[Session]
):
    away = a_school(app, new_session)
    path = f"/api/me/leading/{school.ids['section']}"
    assert away.students[0].put(path, json={"shows": True}).status_code == 404
