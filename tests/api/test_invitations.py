"""Invitations: listed while they are open, taken back, and ended with who made them."""

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from tests.api.school import School, a_school, ok

ACCOUNT = {"name": "P. Marsh", "email": "marsh@skerry.example", "password": "a longer password"}


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return a_school(app, new_session)


def invited(client, **said) -> str:
    return ok(client.post("/api/invitations", json={"role": "director", **said}))["token"]


def listed(school: School) -> list[dict]:
    return ok(school.director.get("/api/helping"))["invitations"]


def accepted(app: FastAPI, token: str, email: str) -> tuple[int, TestClient]:
    client = TestClient(app)
    answer = client.post(f"/api/invitations/{token}", json={**ACCOUNT, "email": email})
    return answer.status_code, client


def test_an_open_invitation_is_listed_with_whom_it_is_for_until_it_is_used(school, app):
    token = invited(school.director, role="assistant", section_ids=[school.ids["section"]])
    (one,) = listed(school)
    assert (one["role"], one["section_ids"]) == ("assistant", [school.ids["section"]])
    assert one["made_by"]
    assert token not in str(one)
    assert accepted(app, token, "a@invited.example")[0] == 201
    assert listed(school) == []


def test_an_invitation_that_was_taken_back_opens_nothing(school, app):
    token = invited(school.director)
    (one,) = listed(school)
    for status in (204, 404):
        assert school.director.delete(f"/api/invitations/{one['id']}").status_code == status
    assert listed(school) == []
    assert accepted(app, token, "b@invited.example")[0] == 404


def test_nobody_takes_back_an_invitation_of_another_school(school, app, new_session):
    invited(school.director)
    (one,) = listed(school)
    other = a_school(app, new_session)
    assert other.director.delete(f"/api/invitations/{one['id']}").status_code == 404
    assert school.students[0].delete(f"/api/invitations/{one['id']}").status_code == 403
    assert listed(school) == [one]


def test_somebody_who_was_dismissed_does_not_come_back_by_an_invitation_of_their_own(school, app):
    status, second = accepted(app, invited(school.director), "c@invited.example")
    assert status == 201
    back_door = invited(second)
    people = ok(school.director.get("/api/helping"))["people"]
    them = next(one["id"] for one in people if one["email"] == "c@invited.example")
    assert school.director.delete(f"/api/helping/{them}").status_code == 204
    assert listed(school) == []
    assert accepted(app, back_door, "d@invited.example")[0] == 404
