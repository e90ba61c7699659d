from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi import FastAPI
from sqlalchemy import select, update
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.store.tables import Person, SignedIn, SignInGate
from tests.api.school import PASSWORD, School, ok

FIRST = {
    "program": "Tern Island",
    "name": "A. Quill",
    "email": "quill@test.example",
    "password": "lantern and tide",
}


def test_an_empty_server_leads_to_its_first_director_once(app: FastAPI, new_session):
    with new_session() as session:
        if session.scalar(select(Person.id)):
            pytest.skip("another test of this module came first")
    client = TestClient(app)
    assert ok(client.get("/api/setup")) == {"is_empty": True}
    short = client.post("/api/setup", json={**FIRST, "password": "short"})
    assert short.status_code == 422
    assert "10 characters" in short.json()["detail"]
    assert ok(client.post("/api/setup", json=FIRST))["role"] == "director"
    assert ok(client.get("/api/session"))["name"] == "A. Quill"
    assert ok(TestClient(app).get("/api/setup")) == {"is_empty": False}
    again = TestClient(app).post("/api/setup", json={**FIRST, "email": "other@test.example"})
    assert again.status_code == 403


def test_the_session_cookie_is_out_of_reach_of_scripts_and_other_sites(
    school: School, app: FastAPI
):
    body = {"email": f"{school.class_code}@test.example", "password": PASSWORD}
    cookie = TestClient(app).post("/api/session/director", json=body).headers["set-cookie"]
    assert "HttpOnly" in cookie
    assert "SameSite=strict" in cookie


def test_passwords_and_pins_are_stored_as_argon2_only(school: School, new_session):
    with new_session() as session:
        hashes = session.scalars(
            select(Person.secret_hash).where(Person.program_id == school.program_id)
        ).all()
    assert len(hashes) == 3
    assert all(h.startswith("$argon2id$") for h in hashes)


def test_a_name_is_found_however_it_is_typed(school: School, app: FastAPI):
    made = ok(
        school.director.post(
            f"/api/sections/{school.ids['section']}/students", json={"names": ["Mina  Berg"]}
        )
    )
    body = {"class_code": school.class_code.lower(), "name": " mina berg ", "pin": made[0]["pin"]}
    assert ok(TestClient(app).post("/api/session/student", json=body))["name"] == "Mina Berg"


def test_guessing_a_pin_is_slowed_down_even_for_the_right_one(school: School, app: FastAPI):
    made = ok(
        school.director.post(
            f"/api/sections/{school.ids['section']}/students", json={"names": ["Otto"]}
        )
    )
    right = made[0]["pin"]
    wrong = "000000" if right != "000000" else "000001"
    body = {"class_code": school.class_code, "name": "Otto"}
    client = TestClient(app)
    answers = [client.post("/api/session/student", json={**body, "pin": wrong}) for _ in range(5)]
    assert {a.status_code for a in answers} == {401}
    blocked = client.post("/api/session/student", json={**body, "pin": right})
    assert blocked.status_code == 429
    assert "ten minutes" in blocked.json()["detail"]


def test_after_the_wait_the_right_pin_works_again(school: School, app: FastAPI, new_session):
    section = school.ids["section"]
    made = ok(school.director.post(f"/api/sections/{section}/students", json={"names": ["Pia"]}))
    body = {"class_code": school.class_code, "name": "Pia", "pin": made[0]["pin"]}
    client = TestClient(app)
    for _ in range(6):
        client.post("/api/session/student", json={**body, "pin": "x"})
    with new_session() as session:
        session.execute(update(SignInGate).values(since=datetime.now(UTC) - timedelta(minutes=11)))
        session.commit()
    assert client.post("/api/session/student", json=body).status_code == 200


def test_an_unknown_name_and_a_wrong_pin_are_answered_alike(school: School, app: FastAPI):
    client = TestClient(app)
    unknown = {"class_code": school.class_code, "name": "Nobody Here", "pin": "1"}
    wrong = {"class_code": school.class_code, "name": "Player 0", "pin": "not it"}
    one = client.post("/api/session/student", json=unknown)
    other = client.post("/api/session/student", json=wrong)
    assert (one.status_code, one.json()) == (other.status_code, other.json())


def test_signing_out_ends_the_session_on_the_server(school: School, app: FastAPI):
    client = school.students[0]
    token = client.cookies["crumb_session"]
    assert client.delete("/api/session").status_code == 204
    assert TestClient(app, cookies={"crumb_session": token}).get("/api/session").status_code == 401


def test_a_session_runs_out(school: School, new_session: sessionmaker[Session]):
    with new_session() as session:
        person = session.scalar(select(Person).where(Person.id == school.ids["students"][1]))
        assert person is not None
        session.execute(
            update(SignedIn)
            .where(SignedIn.person_id == person.id)
            .values(expires_at=datetime.now(UTC) - timedelta(seconds=1))
        )
        session.commit()
    assert school.students[1].get("/api/session").status_code == 401
    assert school.students[0].get("/api/session").status_code == 200


def test_a_new_pin_replaces_the_old_and_ends_its_sessions(school: School, app: FastAPI):
    student = school.ids["students"][0]
    made = ok(school.director.post(f"/api/students/{student}/pin"))
    assert school.students[0].get("/api/session").status_code == 401
    body = {"class_code": school.class_code, "name": made["name"], "pin": made["pin"]}
    assert TestClient(app).post("/api/session/student", json=body).status_code == 200


def test_two_students_cannot_share_a_name_they_sign_in_with(school: School):
    section = school.ids["section"]
    path = f"/api/sections/{section}/students"
    answer = school.director.post(path, json={"names": ["Ida", "ida", "Player 0"]})
    assert answer.status_code == 422
    assert "Ida" in answer.json()["detail"]
    shown = ok(school.director.get("/api/sections"))[0]["students"]
    assert [s["name"] for s in shown] == ["Player 0", "Player 1"]


def test_the_page_is_kept_to_itself(app: FastAPI):
    headers = TestClient(app).get("/api/health").headers
    assert "frame-ancestors 'none'" in headers["content-security-policy"]
    assert headers["x-content-type-options"] == "nosniff"
    assert headers["cache-control"] == "no-store"


def test_only_files_of_the_page_are_served(tmp_path: Path, monkeypatch: pytest.MonkeyPatch):
    from crumb.api.main import create_app
    from crumb.settings import get_settings

    (tmp_path / "web" / "assets").mkdir(parents=True)
    (tmp_path / "web" / "index.html").write_text("the page")
    (tmp_path / "secret.txt").write_text("secret")
    monkeypatch.setenv("CRUMB_WEB_DIR", str(tmp_path / "web"))
    get_settings.cache_clear()
    client = TestClient(create_app())
    get_settings.cache_clear()
    assert client.get("/parts/any/split").text == "the page"
    assert "secret" not in client.get("/..%2fsecret.txt").text
    assert client.get("/api/nowhere").status_code == 404
