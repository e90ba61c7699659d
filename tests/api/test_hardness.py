"""What nobody should send: refused in plain words, before it costs anything, and never a fault."""

from pathlib import Path

import pytest
from fastapi import FastAPI
from sqlalchemy.exc import OperationalError
from starlette.testclient import TestClient

from crumb.api.main import create_app
from tests.api.school import ETUDE, School, an_assignment, ok


@pytest.mark.parametrize("bad", ["A\x00B", "A\x1bB", "A\x7fB", "\ud800"])
def test_signs_that_nobody_can_see_are_refused_everywhere(music_school: School, app, bad: str):
    import json

    school = music_school
    raw = {"content": None, "headers": {"Content-Type": "application/json"}}
    for method, path, body in (
        ("POST", "/api/sections", {"name": bad}),
        ("POST", f"/api/sections/{school.ids['section']}/students", {"names": [bad]}),
        ("POST", "/api/session/student", {"class_code": bad, "name": "x", "pin": "1"}),
        ("POST", "/api/session/student", {"class_code": "x", "name": bad, "pin": "1"}),
        ("POST", "/api/session/director", {"email": bad, "password": "x"}),
        ("POST", "/api/recipes", {"name": bad, "items": []}),
        (
            "POST",
            "/api/recipes/file",
            {"format": "x", "version": 1, "name": "x", "items": [{bad: bad}]},
        ),
        (
            "PUT",
            f"/api/pieces/{school.ids['piece']}/parts",
            {"parts": [{"part_id": school.ids["part"], "played_on": bad}]},
        ),
        (
            "POST",
            f"/api/parts/{school.ids['part']}/marks",
            {"kind": "words", "text": bad, "at": {"index": 1, "at": "0"}},
        ),
    ):
        content = json.dumps(body).encode()
        answer = school.director.request(method, path, **{**raw, "content": content})
        assert answer.status_code in (401, 422), (path, answer.text)
        assert answer.headers["content-type"] == "application/problem+json"


@pytest.mark.parametrize("path", ["/%00", "/api/sheets/%00", "/api/pieces?x=%00", "/a%1bb"])
def test_an_address_with_a_control_character_leads_nowhere(school: School, path: str):
    assert school.director.get(path).status_code == 422


@pytest.mark.parametrize("path", ["x" * 5000, "a/" * 3000, "%2e%2e/" * 400 + "etc/passwd"])
def test_an_address_of_any_length_leads_to_the_page_or_nowhere(path: str, tmp_path, monkeypatch):
    from crumb.api import main

    (tmp_path / "assets").mkdir()
    (tmp_path / "index.html").write_text("the page")
    bare = FastAPI()
    main._serve_page(bare, tmp_path)
    answer = TestClient(bare).get(f"/{path}")
    assert (answer.status_code, answer.text) == (200, "the page")


@pytest.mark.parametrize("day", ["0001-01-01", "9999-12-31", "1969-12-31", "+12026-01-01"])
def test_days_at_the_ends_of_time_are_refused(music_school: School, day: str):
    body = {**an_assignment(music_school), "due_on": day}
    assert music_school.director.post("/api/assignments", json=body).status_code == 422


def test_numbers_beyond_all_bounds_are_refused(music_school: School):
    huge = 10**30
    path = f"/api/parts/{music_school.ids['part']}/chunks"
    for body in (
        {"op": "merge", "version": huge, "place": 0},
        {"op": "merge", "version": 1, "place": huge},
        {"op": "by-measures", "version": 1, "measures": huge},
        {"op": "split", "version": 1, "at": {"index": huge, "at": "0"}},
        {"op": "split", "version": 1, "at": {"index": 1, "at": "9" * 40}},
        {"op": "split", "version": 1, "at": {"index": 1, "at": "٣"}},
    ):
        answer = music_school.director.post(path, json=body)
        assert answer.status_code in (409, 422), (body, answer.text)


def test_nobody_sends_a_large_file_before_being_told_to_sign_in(app: FastAPI, school: School):
    read = 0

    def endless():
        nonlocal read
        for _ in range(300):
            read += 1_000_000
            yield b"x" * 1_000_000

    headers = {"Content-Type": "multipart/form-data; boundary=x"}
    answer = TestClient(app).post("/api/imports", content=endless(), headers=headers)
    assert answer.status_code == 401
    student = school.students[0].post("/api/imports", content=b"x" * 50_000, headers=headers)
    assert student.status_code == 403


def test_a_body_that_is_too_large_is_told_its_bound(app: FastAPI, school: School):
    answer = school.director.post("/api/sections", content=b'{"name": "' + b"x" * 2_000_000 + b'"}')
    assert (answer.status_code, "1 MB" in answer.json()["detail"]) == (413, True)
    # Also where its length was not announced.
    pieces = (b"x" * 100_000 for _ in range(30))
    answer = school.director.post("/api/sections", content=pieces)
    assert answer.status_code == 413


def test_deep_json_is_refused(school: School):
    deep = "[" * 500 + "]" * 500
    body = f'{{"format": "x", "version": 1, "name": "x", "items": [{{"a": {deep}}}]}}'
    answer = school.director.post(
        "/api/recipes/file", content=body, headers={"Content-Type": "application/json"}
    )
    assert answer.status_code in (400, 422)


def test_a_fault_of_ours_is_told_with_the_number_of_the_request_and_logs_no_name(
    school: School, monkeypatch: pytest.MonkeyPatch, caplog
):
    from crumb.api.routes import people
    from crumb.logs import JsonLines

    def fails(*_: object, **__: object) -> None:
        raise ZeroDivisionError("about Élodie Brún")

    monkeypatch.setattr(people.roster, "create_section", fails)
    client = TestClient(school.app, cookies=school.director.cookies, raise_server_exceptions=False)
    answer = client.post(
        "/api/sections", json={"name": "Élodie Brún"}, headers={"X-Request-Id": "abcdefgh-1"}
    )
    assert answer.status_code == 500
    assert answer.headers["content-type"] == "application/problem+json"
    assert answer.json()["request_id"] == answer.headers["x-request-id"] == "abcdefgh-1"
    told = [JsonLines().format(record) for record in caplog.records]
    assert any("ZeroDivisionError" in line for line in told)
    assert not any("Élodie" in line for line in told)


def test_a_database_that_is_away_is_a_503_that_says_when_to_come_again(
    school: School, monkeypatch: pytest.MonkeyPatch
):
    from crumb.api.routes import people

    def away(*_: object, **__: object) -> None:
        raise OperationalError("select", {}, Exception("connection refused"))

    monkeypatch.setattr(people.roster, "list_sections", away)
    answer = school.director.get("/api/sections")
    assert answer.status_code == 503
    assert answer.headers["retry-after"] == "3"
    assert "database" in answer.json()["detail"]


def test_a_full_disk_is_told(school: School, monkeypatch: pytest.MonkeyPatch):
    from crumb.store.files import FolderStore

    def full(*_: object) -> str:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(FolderStore, "save", full)
    answer = school.director.post("/api/imports", files={"file": ("x.musicxml", ETUDE)})
    assert (answer.status_code, "disk is full" in answer.json()["detail"]) == (507, True)


def test_health_says_what_is_wrong(new_session, monkeypatch: pytest.MonkeyPatch, tmp_path: Path):
    client = TestClient(create_app(new_session))
    told = ok(client.get("/api/health"))
    assert (told["status"], told["database"]) == ("degraded", "ok")
    assert "no worker" in told["worker"]

    def nowhere():
        raise OperationalError("select", {}, Exception("refused"))

    answer = TestClient(create_app(nowhere)).get("/api/health")
    assert (answer.status_code, answer.json()["database"]) == (503, "cannot be reached")


def test_who_comes_when_the_line_is_long_is_asked_to_come_again():
    import asyncio

    from crumb.api.middleware.admission import Admission, Room

    begun, release = 0, asyncio.Event()

    async def slow(scope, receive, send):
        nonlocal begun
        begun += 1
        await release.wait()
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b""})

    async def one(door, path: str) -> int:
        seen: list[int] = []

        async def send(message):
            if message["type"] == "http.response.start":
                seen.append(message["status"])

        await door({"type": "http", "path": path, "headers": []}, None, send)
        return seen[0]

    async def all_of_them() -> tuple[list[int], int, int]:
        door = Admission(slow, room=Room(at_once=2, waiting=3))
        tasks = [asyncio.create_task(one(door, "/api/pieces")) for _ in range(8)]
        await asyncio.sleep(0.05)
        inside = begun
        health = await asyncio.wait_for(asyncio.gather(_answers(door), return_exceptions=True), 1)
        release.set()
        return sorted(await asyncio.gather(*tasks)), inside, len(health)

    async def _answers(door) -> None:
        # Health is not kept waiting by a full house: it gets in at once.
        task = asyncio.create_task(one(door, "/api/health"))
        await asyncio.sleep(0.02)
        assert begun == 3
        task.cancel()

    statuses, inside, _ = asyncio.run(all_of_them())
    assert inside == 2
    assert statuses == [200] * 5 + [503] * 3


def test_a_storm_of_sign_ins_fills_no_line_but_its_own():
    import asyncio

    from crumb.api.middleware.admission import Admission, Room

    release = asyncio.Event()
    seen: dict[str, list[int]] = {}

    async def slow(scope, receive, send):
        if scope["path"] != "/api/pieces":
            await release.wait()
        await send({"type": "http.response.start", "status": 200, "headers": []})

    async def one(door, method: str, path: str) -> None:
        async def send(message):
            seen.setdefault(path, []).append(message.get("status", 0))

        await door({"type": "http", "method": method, "path": path, "headers": []}, None, send)

    async def all_of_them() -> None:
        door = Admission(slow, room=Room(at_once=4, waiting=3))
        storm = [asyncio.create_task(one(door, "POST", "/api/session/student")) for _ in range(9)]
        await asyncio.sleep(0.05)
        for _ in range(5):
            await asyncio.wait_for(one(door, "GET", "/api/pieces"), 1)
        release.set()
        await asyncio.gather(*storm)

    asyncio.run(all_of_them())
    assert seen["/api/pieces"] == [200] * 5
    assert 503 in seen["/api/session/student"]
    assert seen["/api/session/student"].count(200) >= 4
