"""Sign-in for a school: guessing is slow, nobody locks out anybody else, names in any script."""

import threading
from collections import Counter

import pytest
from fastapi import FastAPI
from starlette.testclient import TestClient

from crumb.api import addresses
from crumb.settings import get_settings
from tests.api.school import PASSWORD, School, ok

# One name each, in twenty scripts, as its owner may type it and as a director may have entered it.
NAMES = [
    ("Élodie Brún", "e\u0301lodie  BRÚN"),
    ("Øystein", "øYSTEIN"),
    ("Łukasz", "łukasz"),
    ("Straße", "STRASSE"),
    ("Ἀθηνᾶ", "ἀθηνᾶ"),
    ("Жанна", "жАННА"),
    ("Մարիամ", "մարիամ"),
    ("ნინო", "ნინო"),
    ("נועה", "נועה"),
    ("ليلى", "ليلى"),
    ("अनिता", "अनिता"),
    ("অনিতা", "অনিতা"),
    ("ਅਨੀਤਾ", "ਅਨੀਤਾ"),
    ("அனிதா", "அனிதா"),
    ("అనిత", "అనిత"),
    ("സൂര്യ", "സൂര്യ"),
    ("สุดา", "สุดา"),
    ("ሰላም", "ሰላም"),
    ("さくら", "さくら"),
    ("ｶﾅ", "カナ"),
    ("王小明", "王小明"),
    ("김민지", "\u1100\u1175\u11b7민지"),
    ("ᏌᎳᏂ", "ꮜꮃꮒ"),
]


def student(school: School, name: str) -> str:
    made = ok(
        school.director.post(
            f"/api/sections/{school.ids['section']}/students", json={"names": [name]}
        )
    )
    return made[0]["pin"]


def sign_in(client: TestClient, school: School, name: str, pin: str) -> int:
    body = {"class_code": school.class_code, "name": name, "pin": pin}
    return client.post("/api/session/student", json=body).status_code


@pytest.mark.parametrize(("entered", "typed"), NAMES)
def test_a_name_in_any_script_signs_in_and_stands_once(school: School, app, entered, typed):
    pin = student(school, entered)
    assert sign_in(TestClient(app), school, typed, pin) == 200
    path = f"/api/sections/{school.ids['section']}/students"
    assert school.director.post(path, json={"names": [typed]}).status_code == 422
    assert school.director.post("/api/sections", json={"name": entered}).status_code == 201
    twice = school.director.post("/api/sections", json={"name": typed})
    assert (twice.status_code, "already" in twice.json()["detail"]) == (422, True)


def test_names_stand_in_the_order_of_the_alphabet_not_of_the_bytes(school: School):
    for name in ("Zoe", "Élodie", "emil", "Øystein", "Adam"):
        student(school, name)
    shown = [s["name"] for s in ok(school.director.get("/api/sections"))[0]["students"]]
    mine = [name for name in shown if not name.startswith("Player")]
    assert mine == ["Adam", "Élodie", "emil", "Øystein", "Zoe"]


def test_of_thirty_guesses_at_once_five_are_looked_at(school: School, app: FastAPI):
    student(school, "Otto")
    answers: list[int] = []

    def guess() -> None:
        answers.append(sign_in(TestClient(app), school, "Otto", "no"))

    threads = [threading.Thread(target=guess) for _ in range(30)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert Counter(answers) == {401: 5, 429: 25}


def test_a_stranger_who_guesses_does_not_lock_the_director_out(school: School, app: FastAPI):
    body = {"email": f"{school.class_code}@test.example", "password": PASSWORD}
    known = TestClient(app)
    assert known.post("/api/session/director", json=body).status_code == 200
    stranger = TestClient(app)
    wrong = [
        stranger.post("/api/session/director", json={**body, "password": "guess"}).status_code
        for _ in range(60)
    ]
    assert wrong.count(401) == 5
    assert stranger.post("/api/session/director", json=body).status_code == 429
    assert known.post("/api/session/director", json=body).status_code == 200


def test_a_known_device_is_slowed_down_too(school: School, app: FastAPI):
    pin = student(school, "Pia")
    device = TestClient(app)
    assert sign_in(device, school, "Pia", pin) == 200
    assert [sign_in(device, school, "Pia", "no") for _ in range(11)] == [401] * 10 + [429]


@pytest.mark.full
def test_five_hundred_failures_behind_one_address_lock_nobody_else(school: School, app: FastAPI):
    pin = student(school, "Late Comer")
    stranger = TestClient(app)
    for number in range(300):
        sign_in(stranger, school, f"Nobody {number}", "1")
    assert sign_in(TestClient(app), school, "Late Comer", pin) == 200


@pytest.mark.parametrize("length", [10, 3_000, 60_000])
def test_a_made_up_forwarded_address_changes_nothing(school: School, app: FastAPI, length: int):
    student(school, "Rhea")
    body = {"class_code": school.class_code, "name": "Rhea", "pin": "no"}
    answers = [
        TestClient(app)
        .post(
            "/api/session/student",
            json=body,
            headers={"X-Forwarded-For": f"{number}." + "1" * length},
        )
        .status_code
        for number in range(7)
    ]
    assert answers == [401] * 5 + [429] * 2


@pytest.mark.parametrize(
    ("trusted", "peer", "said", "found"),
    [
        ("", "10.0.0.1", "203.0.113.9", "10.0.0.1"),
        ("10.0.0.0/8", "10.0.0.1", "203.0.113.9", "203.0.113.9"),
        ("10.0.0.0/8", "10.0.0.1", "198.51.100.7, 203.0.113.9, 10.0.0.2", "203.0.113.9"),
        ("10.0.0.0/8", "203.0.113.5", "198.51.100.7", "203.0.113.5"),
        ("10.0.0.0/8", "10.0.0.1", "not an address", "10.0.0.1"),
        ("::1", "::1", "2001:db8::9", "2001:db8::9"),
        ("10.0.0.0/8", "10.0.0.1", "", "10.0.0.1"),
    ],
)
def test_only_a_named_proxy_is_believed(monkeypatch, trusted, peer, said, found):
    from starlette.requests import Request

    monkeypatch.setattr(get_settings(), "trusted_proxies", trusted)
    scope = {
        "type": "http",
        "client": (peer, 1),
        "headers": [(b"x-forwarded-for", said.encode())],
    }
    assert addresses.place_of(Request(scope)) == found


def test_a_director_changes_the_password_and_is_signed_out_elsewhere(school: School, app: FastAPI):
    body = {"email": f"{school.class_code}@test.example", "password": PASSWORD}
    elsewhere = TestClient(app)
    ok(elsewhere.post("/api/session/director", json=body))
    wrong = {"old": "not this", "new": "another long one"}
    assert school.director.put("/api/account/password", json=wrong).status_code == 401
    short = {"old": PASSWORD, "new": "short"}
    assert school.director.put("/api/account/password", json=short).status_code == 422
    good = {"old": PASSWORD, "new": "another long one"}
    assert school.director.put("/api/account/password", json=good).status_code == 204
    assert elsewhere.get("/api/session").status_code == 401
    assert school.director.get("/api/session").status_code == 200
    assert elsewhere.post("/api/session/director", json=body).status_code == 401
    again = {**body, "password": "another long one"}
    assert elsewhere.post("/api/session/director", json=again).status_code == 200


def test_other_sessions_are_ended(school: School, app: FastAPI):
    body = {"email": f"{school.class_code}@test.example", "password": PASSWORD}
    others = [TestClient(app) for _ in range(2)]
    for other in others:
        ok(other.post("/api/session/director", json=body))
    assert ok(school.director.post("/api/session/others/end")) == {"ended": 2}
    assert {other.get("/api/session").status_code for other in others} == {401}


def test_a_second_director_comes_by_an_invitation_that_works_once(school: School, app: FastAPI):
    token = ok(school.director.post("/api/invitations"))["token"]
    guest = TestClient(app)
    assert ok(guest.get(f"/api/invitations/{token}"))["program"].startswith("School")
    body = {"name": "Second", "email": f"{school.class_code}2@test.example", "password": PASSWORD}
    taken = {**body, "email": f"{school.class_code.lower()}@test.example"}
    refused = guest.post(f"/api/invitations/{token}", json=taken)
    assert (refused.status_code, "already" in refused.json()["detail"]) == (422, True)
    assert ok(guest.post(f"/api/invitations/{token}", json=body))["role"] == "director"
    assert [s["name"] for s in ok(guest.get("/api/sections"))] == ["Clarinets"]
    assert TestClient(app).get(f"/api/invitations/{token}").status_code == 404
    assert TestClient(app).post(f"/api/invitations/{token}", json=body).status_code == 404


def test_guesses_at_the_old_password_count_like_guesses_at_the_door(school: School):
    """A session that was left open is no way to try a thousand passwords."""

    def change(old: str) -> int:
        body = {"old": old, "new": "another long password"}
        return school.director.put("/api/account/password", json=body).status_code

    guesses = [change(f"guess number {n}") for n in range(30)]
    assert set(guesses) == {401, 429}
    assert change(PASSWORD) == 429
