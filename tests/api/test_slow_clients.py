"""Whoever sends or reads slowly waits alone: a real server, with sockets that do nothing."""

import asyncio
import socket
import statistics
import threading
import time
from collections.abc import Iterator
from contextlib import ExitStack
from uuid import UUID

import httpx
import pytest
import uvicorn
from argon2 import PasswordHasher
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from crumb.api import connections
from crumb.api.middleware import bodies, patience
from crumb.api.serve import config_of
from crumb.services.people import hashing
from crumb.store.tables import Person
from postgres import free_port
from tests.api.school import School, a_school, ok, with_music

MANY = 60
AT_MOST = 1.5
"""Seconds beside other tests. A request takes 0.02 alone; a blocked one was refused after six."""


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session))


@pytest.fixture
def port(app: FastAPI) -> Iterator[int]:
    """The application on a socket, as it is served."""
    port = free_port()
    config = config_of(lambda: app, port=port)
    config.lifespan = "off"  # its lines to the database are of a server's own
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run)
    thread.start()
    while not server.started:
        assert thread.is_alive()
        time.sleep(0.02)
    yield port
    server.should_exit = True
    thread.join(20)
    assert not thread.is_alive()


def opened(port: int, said: str, read: int | None = None) -> socket.socket:
    made = socket.socket()
    if read is not None:
        made.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, read)
    made.connect(("127.0.0.1", port))
    made.sendall(said.encode())
    return made


def cookie_of(school: School) -> str:
    return "; ".join(f"{name}={value}" for name, value in school.director.cookies.items())


def seconds_of_others(school: School, port: int) -> list[float]:
    """What everybody else waits meanwhile."""
    found = []
    headers = {"Cookie": cookie_of(school)}
    with httpx.Client(base_url=f"http://127.0.0.1:{port}", headers=headers) as own:
        own.get("/api/pieces")  # the first one warms up
        for _ in range(20):
            begun = time.monotonic()
            assert own.get("/api/pieces").status_code == 200
            found.append(time.monotonic() - begun)
    return found


def is_ended(client: socket.socket, within: float) -> bool:
    """Whether the server ends a connection, whatever it says before."""
    client.settimeout(within)
    try:
        while client.recv(65_536):
            pass
    except ConnectionError:
        return True
    except TimeoutError:
        return False
    return True


def test_bodies_that_never_come_hold_up_nobody_and_are_given_up(school, port, monkeypatch):
    monkeypatch.setattr(bodies, "IDLE_SECONDS", 1.5)
    said = (
        "POST /api/session/student HTTP/1.1\r\nHost: x\r\nContent-Type: application/json\r\n"
        "Content-Length: 100\r\n\r\n{"
    )
    with ExitStack() as stack:
        idle = [stack.enter_context(opened(port, said)) for _ in range(MANY)]
        took = seconds_of_others(school, port)
        assert statistics.quantiles(took, n=20)[18] < AT_MOST, took
        idle[0].settimeout(10)
        answer = idle[0].recv(4000).decode()
        assert answer.startswith("HTTP/1.1 408 ")
        assert "Nothing was changed: send it again." in answer
        assert all(is_ended(one, 10) for one in idle)


def test_answers_that_nobody_reads_hold_up_nobody(school, port):
    path = f"/api/parts/{school.ids['part']}/engraving"
    said = f"GET {path} HTTP/1.1\r\nHost: x\r\nCookie: {cookie_of(school)}\r\n\r\n"
    with ExitStack() as stack:
        for _ in range(MANY):
            stack.enter_context(opened(port, said * 4, read=4096))
        time.sleep(2)
        took = seconds_of_others(school, port)
        assert statistics.quantiles(took, n=20)[18] < AT_MOST, took
        end = time.monotonic() + 30  # until all is worked out, though nobody has read it
        while httpx.get(f"http://127.0.0.1:{port}/api/health").json()["room"] != "ok":
            assert time.monotonic() < end, "places are held for those who do not read"
            time.sleep(0.2)


def test_a_connection_on_which_nothing_is_read_is_ended(monkeypatch):
    monkeypatch.setattr(patience, "UNREAD_SECONDS", 0.05)
    ended: list[str] = []

    async def inside(scope, receive, send):
        await send({"type": "http.response.start", "status": 200, "headers": []})

    async def never(message):
        await asyncio.sleep(60)

    scope = {"type": "http", patience.ABORT: lambda: ended.append("aborted")}
    asyncio.run(patience.Patience(inside)(scope, None, never))
    assert ended == ["aborted"]


def test_connections_that_say_nothing_are_closed(school, port, monkeypatch):
    monkeypatch.setattr(connections, "HEADER_SECONDS", 1.0)
    with ExitStack() as stack:
        silent = [
            stack.enter_context(opened(port, said))
            for said in ("", "\r\n", "GET /api/pieces HTTP/1.1\r\nHost:")
            for _ in range(MANY // 3)
        ]
        assert all(is_ended(one, 5) for one in silent)
        assert seconds_of_others(school, port)


def test_a_slow_upload_that_keeps_coming_arrives(school, port):
    body = b'{"name": "Horns"}'
    said = (
        f"POST /api/sections HTTP/1.1\r\nHost: x\r\nCookie: {cookie_of(school)}\r\n"
        f"Content-Type: application/json\r\nContent-Length: {len(body)}\r\n\r\n"
    )
    with opened(port, said) as slow:
        for place in range(0, len(body), 4):
            slow.sendall(body[place : place + 4])
            time.sleep(0.2)
        slow.settimeout(10)
        assert slow.recv(4000).startswith(b"HTTP/1.1 201 ")


def test_a_storm_of_sign_ins_holds_up_nobody_else(school, port, monkeypatch):
    # Real hashes, not the tests' cheap ones.
    monkeypatch.setattr(hashing, "_hasher", PasswordHasher(2, 19_456, 1))
    names = [f"Storm {n}" for n in range(30)]
    path = f"/api/sections/{school.ids['section']}/students"
    begun = time.monotonic()
    made = ok(school.director.post(path, json={"names": names}))
    assert time.monotonic() - begun < 10
    statuses: list[int] = []

    def sign_in(name: str, pin: str) -> None:
        body = {"class_code": school.class_code, "name": name, "pin": pin}
        url = f"http://127.0.0.1:{port}/api/session/student"
        statuses.append(httpx.post(url, json=body, timeout=60).status_code)

    # Everybody twice, as those do who are not sure.
    storm = [
        threading.Thread(target=sign_in, args=(one["name"], one["pin"])) for one in (*made, *made)
    ]
    for thread in storm:
        thread.start()
    took = seconds_of_others(school, port)
    for thread in storm:
        thread.join(60)
    assert statuses == [200] * 60
    assert statistics.median(took) < AT_MOST, took


def test_a_secret_that_was_hashed_by_older_settings_is_hashed_anew_at_sign_in(school, monkeypatch):
    old = PasswordHasher(1, 8, 1)
    monkeypatch.setattr(hashing, "_hasher", old)
    path = f"/api/sections/{school.ids['section']}/students"
    (made,) = ok(school.director.post(path, json={"names": ["Storm X"]}))
    monkeypatch.setattr(hashing, "_hasher", PasswordHasher(2, 16, 1))
    body = {"class_code": school.class_code, "name": "Storm X", "pin": made["pin"]}
    for _ in range(2):
        assert school.students[0].post("/api/session/student", json=body).status_code == 200
    with school.new_session() as session:
        person = session.get_one(Person, UUID(made["student_id"]))
        assert not hashing.is_outdated(person.secret_hash)


def test_one_address_sends_so_many_bodies_at_a_time(monkeypatch):
    monkeypatch.setattr(bodies, "OF_ONE_ADDRESS", 2)
    seen: list[int] = []

    async def inside(scope, receive, send):
        raise AssertionError("no body has come")

    async def never():
        await asyncio.sleep(60)

    async def one(guard: bodies.Bodies, address: str) -> None:
        async def send(message):
            if message["type"] == "http.response.start":
                seen.append(message["status"])

        scope = {
            "type": "http", "method": "POST", "path": "/x", "client": (address, 1),
            "headers": [(b"content-length", b"9")],
        }  # fmt: skip
        await guard(scope, never, send)

    async def all_of_them() -> None:
        guard = bodies.Bodies(inside, uploads={}, check=lambda *_: None, cookie="c")
        waiting = [asyncio.create_task(one(guard, "10.0.0.1")) for _ in range(2)]
        await asyncio.sleep(0.05)
        await one(guard, "10.0.0.1")
        assert seen == [408]
        waiting.append(asyncio.create_task(one(guard, "10.0.0.2")))
        await asyncio.sleep(0.05)
        assert seen == [408]
        for task in waiting:
            task.cancel()

    asyncio.run(all_of_them())


def test_health_says_what_is_full(school):
    from crumb.api.middleware.admission import Room

    room = Room(2, 10)
    assert room.told() == "ok"
    room.taken = 2
    assert room.told() == "2 of 2 places are taken, and 0 requests wait"
    assert school.director.get("/api/health").json()["room"] == "ok"
