"""Power cuts by the hundred: processes are killed while students hand in and files are read.

After each kind of fault everything that was answered must be there once, nothing twice, every level
equal to one worked out anew, and every job must have ended one way or the other.
"""

import asyncio
import os
import subprocess
import tempfile
import time
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random
from threading import Thread
from typing import Any
from uuid import UUID

STUDENTS = 24
API_TRIALS, DATABASE_TRIALS, WORKER_TRIALS, DISK_TRIALS = 120, 40, 40, 5
_SMALL_DISK_MB = 700


@dataclass
class Handing:
    """Students who hand in all the time; what was answered, and what was asked again."""

    answered: set[UUID] = field(default_factory=set)
    begun: set[UUID] = field(default_factory=set)
    troubles: Counter[str] = field(default_factory=Counter)
    stops: bool = False


async def _student(handing: Handing, port: int, token: str, item: UUID, start: datetime) -> None:
    from bench.ingest_bench import Line, body

    line, count = Line(port, token), 0
    while not handing.stops:
        count += 1
        data = body(item, start + timedelta(seconds=3 * count), clean=count % 4 != 0)
        one = UUID(data.split(b'"id": "')[1][:36].decode())
        handing.begun.add(one)
        while True:  # as the outbox of a device does: the same again, until it is answered
            try:
                status = await asyncio.wait_for(line.post(data), 15)
            except (OSError, EOFError, TimeoutError, asyncio.IncompleteReadError) as error:
                handing.troubles[type(error).__name__] += 1
                line.close()
                line = Line(port, token)
                await asyncio.sleep(0.1)
                continue
            if status == 200:
                handing.answered.add(one)
                break
            handing.troubles[str(status)] += 1
            if status not in (429, 502, 503, 507):
                break
            await asyncio.sleep(0.2)
        await asyncio.sleep(0.02)
    line.close()


@contextmanager
def _handing_in(port: int, school: Any, drill: int) -> Iterator[Handing]:  # noqa: ANN401
    handing = Handing()
    start = datetime.now(UTC) - timedelta(hours=20)

    async def all_of_them() -> None:
        await asyncio.gather(
            *(
                _student(handing, port, token, items[drill], start)
                for token, items in zip(school.tokens, school.items, strict=True)
            )
        )

    thread = Thread(target=lambda: asyncio.run(all_of_them()))
    thread.start()
    try:
        yield handing
    finally:
        handing.stops = True
        thread.join(120)


def _holds(name: str, trials: int, handing: Handing) -> list[str]:
    """What is wrong after a kind of fault, in words; nothing if all is well."""
    from sqlalchemy import func, select

    from crumb.jobs.recomputing import rebuild
    from crumb.store.session import new_session
    from crumb.store.tables import Evidence

    with new_session() as session:
        stored = Counter(session.scalars(select(Evidence.id)).all())
        total = session.scalar(select(func.count()).select_from(Evidence)) or 0
    differing = rebuild(new_session)
    lost = handing.answered - set(stored)
    doubled = total - len(stored)
    odd = {k: v for k, v in handing.troubles.items() if k.isdigit() and k not in ("503", "507")}
    print(
        f"{name}: {trials} times; {len(handing.begun)} handed in, {len(handing.answered)} answered,"
        f" {len(lost)} lost, {doubled} doubled, {len(differing)} levels and climbs differ;"
        f" asked again {dict(handing.troubles)}",
        flush=True,
    )
    bad = []
    if lost or doubled or differing or odd or not handing.answered:
        bad.append(f"{name}: lost {len(lost)}, doubled {doubled}, differing {differing}, odd {odd}")
    return bad


def _api(stage: Any, school: Any) -> list[str]:  # noqa: ANN401
    random = Random("api")  # noqa: S311 - no secret
    with _handing_in(stage.port, school, 0) as handing:
        for trial in range(API_TRIALS):
            time.sleep(random.uniform(0.2, 0.7))
            stage.kill(stage.servers.pop(0))
            stage.serve(1)
            if trial % 20 == 0:
                stage.wait()
    return _holds("API process killed", API_TRIALS, handing)


def _database(stage: Any, school: Any) -> list[str]:  # noqa: ANN401
    random = Random("database")  # noqa: S311 - no secret
    with _handing_in(stage.port, school, 1) as handing:
        for _ in range(DATABASE_TRIALS):
            time.sleep(random.uniform(0.5, 1.5))
            kill_database(stage)
            time.sleep(0.3)
            start_database(stage)
            stage.wait()
    return _holds("PostgreSQL killed", DATABASE_TRIALS, handing)


def kill_database(stage: Any) -> None:  # noqa: ANN401
    """All of PostgreSQL at once, as a power cut would."""
    folder = stage.cluster.folder
    postmaster = int((folder / "postmaster.pid").read_text().split()[0])
    children = Path(f"/proc/{postmaster}/task/{postmaster}/children").read_text().split()
    for pid in [postmaster, *map(int, children)]:
        try:
            os.kill(pid, 9)
        except ProcessLookupError:
            continue


def start_database(stage: Any) -> None:  # noqa: ANN401
    """Let it come back, whatever the killed one left behind."""
    from postgres import CannotStart

    for _ in range(20):  # what a killed one leaves behind goes away within moments
        try:
            stage.cluster.start()
        except CannotStart:
            time.sleep(0.5)
        else:
            return
    raise TimeoutError("the database does not come back")


def _worker(stage: Any, school: Any, director: str) -> list[str]:  # noqa: ANN401
    """Kill the worker again and again while files are read and sheets are made."""
    from bench.hostile_bench import Caller
    from crumb.demo.etude import clarinet_etude
    from crumb.formats.musicxml.writer import write_part

    caller = Caller(stage.url, director)
    etude = write_part(clarinet_etude()).encode()
    random = Random("worker")  # noqa: S311 - no secret
    taken: dict[str, str] = {}
    with _handing_in(stage.port, school, 2) as handing:
        for trial in range(WORKER_TRIALS):
            status, job = caller.bring_in(f"etude {trial}.musicxml", etude)
            if status == 202:
                taken[f"etude {trial}.musicxml"] = job["id"]
            time.sleep(random.uniform(0.05, 1.2))
            stage.kill(stage.workers.pop())
            stage.work()
    bad = _holds("worker killed", WORKER_TRIALS, handing)
    ended, pieces = _all_ended(WORKER_TRIALS, taken)
    twice = [name for name, count in pieces.items() if count > 1]
    missing = [n for n, job in taken.items() if ended.get(job) == "done" and not pieces[n]]
    print(
        f"  imports taken in {len(taken)}: {dict(Counter(ended.values()))},"
        f" pieces twice {len(twice)}, done without a piece {len(missing)}",
        flush=True,
    )
    unended = len(taken) - len(ended)
    if unended or twice or missing:
        bad.append(f"worker killed: not ended {unended}, twice {twice}, missing {missing}")
    return bad


def _all_ended(most_seconds: float, taken: dict[str, str]) -> tuple[dict[str, str], Counter[str]]:
    from sqlalchemy import select

    from crumb.store.session import new_session
    from crumb.store.tables import Job, Piece

    until = time.monotonic() + most_seconds * 3
    ended: dict[str, str] = {}
    while time.monotonic() < until and len(ended) < len(taken):
        with new_session() as session:
            rows = session.execute(select(Job.id, Job.state).where(Job.ended_at.is_not(None)))
            ended = {str(id): state for id, state in rows if str(id) in taken.values()}
        time.sleep(0.5)
    with new_session() as session:
        pieces = Counter(session.scalars(select(Piece.file_name)))
    return ended, pieces


def _disk(stage: Any, school: Any, director: str) -> list[str]:  # noqa: ANN401
    """Fill the disk that everything is on, and empty it again."""
    from bench.hostile_bench import Caller
    from crumb.demo.etude import clarinet_etude
    from crumb.formats.musicxml.writer import write_part

    caller = Caller(stage.url, director)
    etude = write_part(clarinet_etude()).encode()
    said: Counter[int] = Counter()
    with _handing_in(stage.port, school, 3) as handing:
        for _ in range(DISK_TRIALS):
            time.sleep(1)
            ballast = stage.folder / "ballast"
            _fill(ballast)
            time.sleep(2)
            # Other bytes each time, since a file that is there already wants no room.
            data = etude.replace(
                b"</score-partwise>",
                b"<!--" + os.urandom(30_000).hex().encode() + b"--></score-partwise>",
            )
            status, _ = caller.bring_in("full.musicxml", data)
            said[status] += 1
            time.sleep(1)
            ballast.unlink()
            if not stage.cluster.is_running:
                start_database(stage)
            stage.wait()
    bad = _holds("disk full", DISK_TRIALS, handing)
    print(f"  uploads meanwhile were answered {dict(said)}", flush=True)
    if set(said) - {202, 503, 507}:
        bad.append(f"disk full: uploads answered {dict(said)}")
    return bad


def _fill(path: Path) -> None:
    with path.open("wb", buffering=0) as ballast:
        for size in (1 << 20, 1 << 12, 1):
            try:
                while True:
                    ballast.write(b"\0" * size)
            except OSError:
                continue


def main() -> int:
    """Run all of it; 0 if nothing was lost, doubled or left hanging."""
    from bench.stage import Stage

    small = _small_disk()
    try:
        with Stage(small) as stage:
            return _tried(stage, small is not None)
    finally:
        if small is not None:
            subprocess.run(["umount", "-l", str(small)], check=False)
            small.rmdir()


def _small_disk() -> Path | None:
    """A disk of its own that can be filled without harm, where this machine lets us have one."""
    folder = Path(tempfile.mkdtemp(prefix="crumb-disk-"))
    folder.chmod(0o755)
    size = f"size={_SMALL_DISK_MB}m"
    done = subprocess.run(
        ["mount", "-t", "tmpfs", "-o", size, "none", str(folder)], capture_output=True, check=False
    )
    folder.chmod(0o755)
    return folder if done.returncode == 0 else None


def _tried(stage: Any, disk_is_small: bool) -> int:  # noqa: ANN401
    from bench.school import large_school
    from crumb.services.people import signing_in
    from crumb.services.people.throttle import SignInOrigin
    from crumb.store.session import new_session
    from crumb.store.tables import Person

    with new_session() as session:
        school = large_school(session, stage.folder / "files", students=STUDENTS)
        person = session.get_one(Person, school.actor.person_id)
        director = signing_in.begin_session(session, person, SignInOrigin("127.0.0.1"))
        session.commit()
    stage.work()
    stage.serve(2)
    faults: list[tuple[str, Callable[[], list[str]]]] = [
        ("api", lambda: _api(stage, school)),
        ("database", lambda: _database(stage, school)),
        ("worker", lambda: _worker(stage, school, director)),
    ]
    if disk_is_small:
        faults.append(("disk", lambda: _disk(stage, school, director)))
    else:
        print("disk full: not tried, this machine gives us no small disk")
    bad = [one for _, fault in faults for one in fault()]
    for one in bad:
        print("FAULT", one)
    return 1 if bad else 0
