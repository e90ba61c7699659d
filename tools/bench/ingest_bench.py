"""A school handing in: how quickly, how much, whether anything is lost, and what history costs.

The load runs on the same machine as the server and its database, so the figures are of all three.
"""

import asyncio
import json
import os
import statistics
import subprocess
import sys
import time
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any
from uuid import uuid4

from bench.sizes import size

ROUND_SECONDS = float(os.environ.get("CRUMB_BENCH_SECONDS", size("120", "4")))
STUDENTS_IN_SCHOOL, STUDENTS_AT_ONCE, EVERY_SECONDS = 400, 300, 3.0
HISTORY_ROWS = size(100_000, 1_000)
SUSTAINED_SECONDS, SUSTAINED_CONNECTIONS = 15.0, 24
_AIMS = {"p95": 150.0, "p99": 400.0, "share": 0.3, "rate": 300.0}


@dataclass
class Tally:
    """What came of many requests."""

    took: list[float] = field(default_factory=list)
    failed: dict[str, int] = field(default_factory=dict)
    sent: int = 0

    def quantile(self, share: float) -> float:
        """Milliseconds that so many of them took at most."""
        found = sorted(self.took)
        return found[min(int(len(found) * share), len(found) - 1)] * 1000


class Line:
    """One connection that is kept open."""

    def __init__(self, port: int, token: str) -> None:
        self._port = port
        self._head = (
            f"POST /api/me/repetitions HTTP/1.1\r\nHost: 127.0.0.1\r\n"
            f"Cookie: crumb_session={token}\r\nContent-Type: application/json\r\n"
        )
        self._reader: asyncio.StreamReader | None = None
        self._writer: asyncio.StreamWriter | None = None

    async def post(self, body: bytes) -> int:
        """Send one body; the status of the answer."""
        if self._writer is None or self._reader is None:
            self._reader, self._writer = await asyncio.open_connection("127.0.0.1", self._port)
        self._writer.write(f"{self._head}Content-Length: {len(body)}\r\n\r\n".encode() + body)
        head = await self._reader.readuntil(b"\r\n\r\n")
        length = int(head.lower().split(b"content-length:")[1].split(b"\r\n")[0])
        await self._reader.readexactly(length)
        return int(head[9:12])

    def close(self) -> None:
        """Hang up."""
        if self._writer is not None:
            self._writer.close()


def body(item: object, at: datetime, *, clean: bool) -> bytes:
    """One repetition as a device sends it."""
    one = {
        "id": str(uuid4()),
        "item_id": str(item),
        "step": 0,
        "tempo_bpm": 106,
        "is_clean": clean,
        "played_at": at.isoformat(),
    }
    return json.dumps({"repetitions": [one]}).encode()


async def steady(port: int, school: Any, seconds: float) -> Tally:  # noqa: ANN401
    """Students who each hand in a repetition every three seconds, whatever the server does."""
    tally, random = Tally(), Random("steady")  # noqa: S311 - no secret
    until = time.monotonic() + seconds

    async def student(place: int) -> None:
        line = Line(port, school.tokens[place])
        mine = random.random()
        await asyncio.sleep(mine * EVERY_SECONDS)
        item = school.items[place][0]
        due = time.monotonic()
        while due < until:
            begun = time.monotonic()
            tally.sent += 1
            try:
                status = await line.post(body(item, datetime.now(UTC), clean=random.random() < 0.7))
            except (OSError, EOFError, asyncio.IncompleteReadError) as error:
                status = 0
                tally.failed[type(error).__name__] = tally.failed.get(type(error).__name__, 0) + 1
                line = Line(port, school.tokens[place])
            if status == 200:
                tally.took.append(time.monotonic() - begun)
            elif status:
                tally.failed[str(status)] = tally.failed.get(str(status), 0) + 1
            due += EVERY_SECONDS
            await asyncio.sleep(max(due - time.monotonic(), 0))
        line.close()

    await asyncio.gather(*(student(place) for place in range(STUDENTS_AT_ONCE)))
    return tally


async def sustained(port: int, school: Any, seconds: float, first: int) -> Tally:  # noqa: ANN401
    """As many repetitions as go through, over a few lines that never wait."""
    tally = Tally()
    until = time.monotonic() + seconds
    clock = datetime.now(UTC) - timedelta(hours=20)

    async def line_of(place: int) -> None:
        line = Line(port, school.tokens[place])
        item, count = school.items[place][1], 0
        while time.monotonic() < until:
            begun = time.monotonic()
            count += 1
            tally.sent += 1
            at = clock + timedelta(seconds=3 * (count + place * 17))
            status = await line.post(body(item, at, clean=count % 4 != 0))
            if status == 200:
                tally.took.append(time.monotonic() - begun)
            else:
                tally.failed[str(status)] = tally.failed.get(str(status), 0) + 1
        line.close()

    await asyncio.gather(*(line_of(first + place) for place in range(SUSTAINED_CONNECTIONS)))
    return tally


def bare_inserts(url: str, seconds: float) -> float:
    """Rows a second: the same rows put into a table like that of evidence, one a transaction."""
    import psycopg

    with psycopg.connect(url.replace("+psycopg", "")) as connection:
        connection.execute("create table bare (like evidence including defaults including indexes)")
        rows = connection.execute(
            "select to_jsonb(e) from evidence e order by id desc limit 20000"
        ).fetchall()
        names = list(rows[0][0])
        connection.commit()
        columns = ", ".join(names)
        marks = ", ".join(f"%({name})s" for name in names)
        statement = f"insert into bare ({columns}) values ({marks})"  # noqa: S608 - our columns
        begun, count = time.monotonic(), 0
        while time.monotonic() - begun < seconds:
            row = dict(rows[count % len(rows)][0])
            row["id"] = str(uuid4())
            connection.execute(statement, row)
            connection.commit()
            count += 1
        rate = count / (time.monotonic() - begun)
        connection.execute("drop table bare")
        connection.commit()
    return rate


def cost_by_history() -> dict[int, float]:
    """Milliseconds of one hand-in by how many repetitions came before it, on the same chunk."""
    import tempfile
    from fractions import Fraction
    from pathlib import Path

    from bench.school import add_history, large_school
    from crumb.core.intake.facts import AssignedRepetition
    from crumb.core.vocabulary import Role
    from crumb.jobs.recomputing import rebuild
    from crumb.services.access import Actor
    from crumb.services.evidence.record_evidence import hand_in
    from crumb.store.session import new_session

    found: dict[int, float] = {}
    folder = Path(tempfile.mkdtemp())
    with new_session() as session:
        school = large_school(session, folder, students=1, drills=1)
        actor = Actor(school.students[0], school.actor.program_id, Role.STUDENT)
        have = 0
        for wanted in (100, 1_000, 10_000):
            add_history(session, school, rows=wanted - have)
            have = wanted
            rebuild(new_session)
            clock = datetime.now(UTC) - timedelta(hours=10 - wanted / 2_000)
            times = []
            for place in range(60):
                one = AssignedRepetition(
                    id=uuid4(),
                    item_id=school.items[0][0],
                    step=0,
                    tempo=Fraction(106),
                    is_clean=place % 3 != 0,
                    at=clock + timedelta(seconds=4 * place),
                )
                begun = time.perf_counter()
                hand_in(session, actor, [one])
                session.commit()
                times.append(time.perf_counter() - begun)
            found[wanted] = statistics.median(times[10:]) * 1000
    return found


def _settle(url: str) -> None:
    """What PostgreSQL does by itself within a minute of so many rows coming in."""
    import psycopg

    with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute("vacuum analyze")


def _counts(session: Any) -> tuple[int, int]:  # noqa: ANN401
    from sqlalchemy import func, select

    from crumb.store.tables import Evidence

    total = session.scalar(select(func.count()).select_from(Evidence)) or 0
    distinct = session.scalar(select(func.count(Evidence.id.distinct()))) or 0
    return total, distinct


def main() -> int:
    """Run all of it; 0 if every aim is met."""
    from bench.stage import ROOT, Stage

    with Stage() as stage:
        return _measured(stage, str(ROOT))


def _measured(stage: Any, root: str) -> int:  # noqa: ANN401
    from bench.school import add_history, large_school
    from crumb.jobs.recomputing import rebuild
    from crumb.store.session import get_engine, new_session

    with new_session() as session:
        school = large_school(session, stage.folder / "files", students=STUDENTS_IN_SCHOOL)
        add_history(session, school, rows=HISTORY_ROWS)
        rebuild(new_session)
        before, _ = _counts(session)
    print(f"a school of {STUDENTS_IN_SCHOOL} with {before} repetitions")
    _settle(stage.cluster.url)
    stage.work()
    stage.serve(2)
    bad = 0
    tally = asyncio.run(steady(stage.port, school, ROUND_SECONDS))
    p50, p95, p99 = (tally.quantile(share) for share in (0.5, 0.95, 0.99))
    print(
        f"{STUDENTS_AT_ONCE} students every {EVERY_SECONDS:g} s for {ROUND_SECONDS:g} s:"
        f" {len(tally.took)} of {tally.sent} answered, p50 {p50:.0f} ms, p95 {p95:.0f} ms"
        f" (aim {_AIMS['p95']:g}), p99 {p99:.0f} ms (aim {_AIMS['p99']:g}), failed {tally.failed}"
    )
    bad += p95 > _AIMS["p95"] or p99 > _AIMS["p99"] or bool(tally.failed)
    two = asyncio.run(sustained(stage.port, school, SUSTAINED_SECONDS, STUDENTS_AT_ONCE))
    stage.stop_servers()
    stage.serve(1)
    one = asyncio.run(
        sustained(stage.port, school, SUSTAINED_SECONDS, STUDENTS_AT_ONCE + SUSTAINED_CONNECTIONS)
    )
    stage.stop_servers()
    bare = bare_inserts(stage.cluster.url, 5)
    for words, done in (("one API process", one), ("two API processes", two)):
        rate = len(done.took) / SUSTAINED_SECONDS
        print(
            f"{words}: {rate:.0f} repetitions a second, {rate / bare:.2f} of bare inserts"
            f" ({bare:.0f} a second; aim {_AIMS['share']}), failed {done.failed}"
        )
    best = max(len(done.took) for done in (one, two)) / SUSTAINED_SECONDS
    bad += best < _AIMS["rate"] or best / bare < _AIMS["share"]
    with new_session() as session:
        total, distinct = _counts(session)
        sent = tally.sent + one.sent + two.sent
        differing = rebuild(new_session)
    print(
        f"sent {sent}, stored {total - before}, doubled {total - distinct},"
        f" levels and climbs that differ from a rebuild: {len(differing)}"
    )
    for one_difference in differing[:3]:
        print("  ", one_difference)
    bad += total - before != sent or bool(differing)
    get_engine().dispose()
    ran = subprocess.run(
        [sys.executable, "-c", _COST],
        cwd=root,
        env=_fresh(stage),
        check=True,
        capture_output=True,
        text=True,
    )
    costs = {int(k): v for k, v in json.loads(ran.stdout.splitlines()[-1]).items()}
    flat = costs[10_000] / costs[100]
    told = ", ".join(f"{v:.1f} ms at {k}" for k, v in costs.items())
    print(f"one hand-in by its history: {told}; the longest is {flat:.2f} of the shortest")
    bad += flat > 1.5
    return 1 if bad else 0


_COST = """
import sys, json
sys.path[:0] = ['.', 'tools']
from bench.ingest_bench import cost_by_history
print(json.dumps(cost_by_history()))
"""


def _fresh(stage: Any) -> dict[str, str]:  # noqa: ANN401
    """The same server with an empty database of its own."""
    import psycopg

    url = stage.cluster.url
    with psycopg.connect(url.replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute("create database history")
    env = {**stage.env, "CRUMB_DATABASE_URL": url.rsplit("/", 1)[0] + "/history"}
    subprocess.run([sys.executable, "-m", "crumb.admin", "upgrade"], env=env, check=True)
    return env
