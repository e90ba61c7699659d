"""Every hostile file through the real server, while others go on working: how long, how much.

Settled means done or told in words. Beside each, somebody else's import, the Stand and health are
asked for again and again.
"""

import json
import sys
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

_SETTLED, _MEMORY_MB, _OTHERS_MS = 10.0, 400.0, 300.0
_POLL = 0.1


@dataclass
class Others:
    """What the others waited meanwhile, in seconds, by what they asked for."""

    took: dict[str, list[float]] = field(default_factory=dict)
    failed: list[str] = field(default_factory=list)

    def worst(self) -> float:
        """Milliseconds, the 95th percentile of the slowest kind."""
        found = [sorted(times) for times in self.took.values() if times]
        return max((t[int(len(t) * 0.95)] for t in found), default=0) * 1000


class Caller:
    """A signed-in person."""

    def __init__(self, url: str, token: str) -> None:
        self._url, self._token = url, token

    def ask(self, method: str, path: str, data: bytes = b"", kind: str = "") -> tuple[int, Any]:
        """The status and the body of an answer."""
        request = urllib.request.Request(f"{self._url}{path}", data or None, method=method)  # noqa: S310
        request.add_header("Cookie", f"crumb_session={self._token}")
        if kind:
            request.add_header("Content-Type", kind)
        try:
            with urllib.request.urlopen(request, timeout=60) as answer:  # noqa: S310
                body = answer.read()
                return answer.status, json.loads(body) if body else None
        except urllib.error.HTTPError as error:
            return error.code, json.loads(error.read() or b"null")
        except (ConnectionError, urllib.error.URLError):
            # A body that is not going to be read is answered while it is still being sent.
            return 413, {"detail": "hung up on"}

    def bring_in(self, name: str, data: bytes) -> tuple[int, Any]:
        """Upload a file."""
        edge = "----crumb"
        head = (
            f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
            "Content-Type: application/octet-stream\r\n\r\n"
        )
        body = head.encode() + data + f"\r\n--{edge}--\r\n".encode()
        return self.ask("POST", "/api/imports", body, f"multipart/form-data; boundary={edge}")


def _boxes_mb(worker: int) -> float:
    """Megabytes that the processes under a worker have for themselves."""
    children: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                fields = (entry / "stat").read_text().rpartition(")")[2].split()
                children.setdefault(int(fields[1]), []).append(int(entry.name))
            except OSError:
                continue
    todo, used = list(children.get(worker, ())), 0
    while todo:
        pid = todo.pop()
        todo += children.get(pid, ())
        try:
            for line in Path(f"/proc/{pid}/smaps_rollup").read_text().splitlines():
                if line.startswith("Pss:"):
                    used += int(line.split()[1])
        except OSError:
            continue
    return used / 1024


def main() -> int:
    """Run all of it; 0 if every aim is met."""
    from bench.stage import Stage

    with Stage() as stage:
        return _measured(stage)


def _measured(stage: Any) -> int:  # noqa: ANN401
    from uuid import uuid4

    from bench.hostile_files import files
    from bench.school import large_school
    from crumb.core.vocabulary import Role
    from crumb.demo.etude import clarinet_etude
    from crumb.formats.musicxml.writer import write_part
    from crumb.services.people import accounts, signing_in
    from crumb.services.people.throttle import SignInOrigin
    from crumb.store.session import new_session
    from crumb.store.tables import Person, Program

    with new_session() as session:
        school = large_school(session, stage.folder / "files", students=4)
        home = signing_in.begin_session(
            session, session.get_one(Person, school.actor.person_id), SignInOrigin("127.0.0.1")
        )
        away_program = Program(id=uuid4(), name="Away", class_code="AWAY22")
        session.add(away_program)
        session.flush()
        person = accounts.new_account(
            session,
            away_program.id,
            Role.DIRECTOR,
            ("A", "away@bench.example", "a long enough password"),
        )
        session.commit()
        away = signing_in.begin_session(session, person, SignInOrigin("127.0.0.1"))
        session.commit()
    worker = stage.work()
    stage.serve(2)
    hostile, other = Caller(stage.url, home), Caller(stage.url, away)
    student = Caller(stage.url, school.tokens[0])
    etude = write_part(clarinet_etude()).encode()
    item = school.items[0][0]
    only = sys.argv[2:] if len(sys.argv) > 2 else []
    bad: list[str] = []
    others = Others()
    stop = threading.Event()
    watcher = threading.Thread(target=_go_on, args=(others, stop, student, item, other, etude))
    watcher.start()
    kinds = 0
    slowest = largest = 0.0
    for name, data in files():
        if only and not any(word in name for word in only):
            continue
        kinds += 1
        took, most, told = _one(hostile, name, data, worker.pid)
        slowest, largest = max(slowest, took), max(largest, most)
        is_bad = took > _SETTLED or most > _MEMORY_MB or told.startswith("!")
        bad += [name] if is_bad else []
        print(f"{'BAD ' if is_bad else ''}{took:5.1f} s {most:5.0f} MB  {name}: {told}", flush=True)
    stop.set()
    watcher.join()
    print(
        f"{kinds} kinds; slowest {slowest:.1f} s (aim {_SETTLED:g}), most memory {largest:.0f} MB"
    )
    for what, times in others.took.items():
        found = sorted(times)
        print(
            f"meanwhile {what}: {len(found)} times, median {found[len(found) // 2] * 1000:.0f} ms,"
            f" 95th percentile {found[int(len(found) * 0.95)] * 1000:.0f} ms, longest"
            f" {found[-1] * 1000:.0f} ms"
        )
    print(f"failed meanwhile: {others.failed[:5] or 'nothing'}; not settled well: {bad or 'none'}")
    quick = {what: t for what, t in others.took.items() if what != "another import, whole"}
    late = max((sorted(t)[int(len(t) * 0.95)] for t in quick.values()), default=0) * 1000
    return 1 if bad or others.failed or late > _OTHERS_MS else 0


def _one(caller: Caller, name: str, data: bytes, worker: int) -> tuple[float, float, str]:
    """Seconds until a file was settled, the most memory meanwhile, and what was said."""
    begun, most = time.monotonic(), 0.0
    status, job = caller.bring_in(name, data)
    if status != 202:
        words = str((job or {}).get("detail", ""))
        return time.monotonic() - begun, 0.0, f"refused at once ({status}): {words[:90]}"
    while time.monotonic() - begun < 90:
        most = max(most, _boxes_mb(worker))
        status, now = caller.ask("GET", f"/api/imports/{job['id']}")
        if status == 200 and now["state"] in ("done", "failed"):
            took = time.monotonic() - begun
            if now["state"] == "failed":
                fault = "!" if "fault" in now["message"] else ""
                return took, most, f"{fault}{now['message'][:90]}"
            return took, most, _opened(caller, now["piece"])
        time.sleep(_POLL)
    return time.monotonic() - begun, most, "! never settled"


def _opened(caller: Caller, piece: dict[str, Any]) -> str:
    """What was brought in must open."""
    part = piece["parts"][0]["id"]
    for path in (f"/api/parts/{part}", f"/api/parts/{part}/engraving", f"/api/parts/{part}/survey"):
        begun = time.monotonic()
        status, body = caller.ask("GET", path)
        took = time.monotonic() - begun
        if status not in (200, 422) or took > _SETTLED:
            return f"! brought in, but {path} answers {status} after {took:.1f} s"
        if status == 422:
            return f"brought in; {path.rpartition('/')[2]}: {body['detail'][:70]}"
    return f"brought in, {len(piece['parts'])} parts, and opens"


def _go_on(
    others: Others,
    stop: threading.Event,
    student: Caller,
    item: object,
    other: Caller,
    etude: bytes,
) -> None:
    """What others do at the same time."""

    def timed(what: str, act: Callable[[], tuple[int, Any]], good: int) -> Any:  # noqa: ANN401
        begun = time.monotonic()
        status, body = act()
        others.took.setdefault(what, []).append(time.monotonic() - begun)
        if status != good:
            others.failed.append(f"{what}: {status}")
        return body

    turn = 0
    while not stop.is_set():
        timed("health", lambda: other.ask("GET", "/api/health"), 200)
        timed("the Stand", lambda: student.ask("GET", f"/api/me/stand/{item}"), 200)
        turn += 1
        if turn % 10 == 0:
            begun = time.monotonic()
            job = timed("another import, taken in", lambda: other.bring_in("e.xml", etude), 202)
            while not stop.is_set():
                now = other.ask("GET", f"/api/imports/{job['id']}")[1]
                if now["state"] in ("done", "failed"):
                    break
                time.sleep(0.05)
            others.took.setdefault("another import, whole", []).append(time.monotonic() - begun)
        time.sleep(0.2)
