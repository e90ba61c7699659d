"""Assistants and helpers: invited, given other sections, dismissed."""

from typing import Any
from uuid import uuid4

import pytest
from starlette.testclient import TestClient

from tests.api.school import PASSWORD, School, invited, ok


def assistants(school: School) -> list[Any]:
    people = ok(school.director.get("/api/helping"))["people"]
    return [one for one in people if one["role"] == "assistant"]


def test_an_assistant_has_the_sections_they_were_invited_for(school: School):
    client, _ = invited(school, role="assistant", section_ids=[school.ids["section"]])
    me = ok(client.get("/api/session"))
    assert (me["role"], me["program"]) == (
        "assistant",
        ok(school.director.get("/api/session"))["program"],
    )
    assert set(me["rights"]) == {"read_music", "see_players", "hear", "keep_account"}
    assert [one["id"] for one in ok(client.get("/api/sections"))] == [school.ids["section"]]
    (listed,) = assistants(school)
    assert listed["section_ids"] == [school.ids["section"]]


def test_other_sections_hold_from_the_next_click_on(school: School):
    other = ok(school.director.post("/api/sections", json={"name": "Oboes"}))
    client, _ = invited(school, role="assistant", section_ids=[school.ids["section"]])
    student = school.ids["students"][0]
    assert client.get(f"/api/wall/students/{student}").status_code == 200
    (listed,) = assistants(school)
    wish = {"section_ids": [other["id"]]}
    ok(school.director.put(f"/api/helping/{listed['id']}", json=wish))
    assert client.get(f"/api/wall/students/{student}").status_code == 404
    assert [one["id"] for one in ok(client.get("/api/sections"))] == [other["id"]]


def test_whoever_is_dismissed_is_out_at_once_and_for_good(school: School):
    client, account = invited(school, role="assistant", section_ids=[school.ids["section"]])
    (listed,) = assistants(school)
    ok(school.director.delete(f"/api/helping/{listed['id']}"))
    assert client.get("/api/sections").status_code == 401
    again = {"email": account["email"], "password": PASSWORD}
    assert TestClient(school.app).post("/api/session/director", json=again).status_code == 401
    assert assistants(school) == []
    # The address is free: they may be invited again.
    token = ok(school.director.post("/api/invitations", json={"role": "director"}))["token"]
    ok(TestClient(school.app).post(f"/api/invitations/{token}", json=account))


def test_a_director_cannot_dismiss_themselves(school: School):
    (me,) = ok(school.director.get("/api/helping"))["people"]
    assert me["is_me"]
    assert school.director.delete(f"/api/helping/{me['id']}").status_code == 422


@pytest.mark.parametrize(
    "how",
    [
        {"role": "assistant"},
        {"role": "helper"},
        {"role": "student"},
        {"role": "assistant", "section_ids": [str(uuid4())]},
        {"role": "helper", "student_id": str(uuid4())},
    ],
)
def test_nobody_is_invited_to_look_after_nobody(school: School, how: dict[str, Any]):
    assert school.director.post("/api/invitations", json=how).status_code in (404, 422)


def test_a_student_or_assistant_invites_nobody(school: School):
    client, _ = invited(school, role="assistant", section_ids=[school.ids["section"]])
    for one in (client, school.students[0]):
        assert one.post("/api/invitations", json={"role": "director"}).status_code == 403


def test_the_table_of_rights_is_that_of_the_server(school: School):
    rights = ok(school.director.get("/api/helping"))["rights"]
    by = {one["say"]: set(one["roles"]) for one in rights}
    assert by["judge hearings, and say what you heard"] == {"director", "assistant"}
    assert by["practice your own assignments"] == {"student"}
    assert by["manage sections, students and helpers"] == {"director"}
