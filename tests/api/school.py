"""A school for API tests: clients that are signed in, and music that is split."""

import json
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from functools import cache
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

import httpx
from fastapi import FastAPI
from sqlalchemy import create_engine, select, text, update
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.api import deps
from crumb.api.main import create_app
from crumb.core.vocabulary import Role
from crumb.demo.etude import TITLE, clarinet_etude
from crumb.demo.people import COMPOSER
from crumb.formats.musicxml.writer import write_part
from crumb.jobs.work import Work, carry_out
from crumb.services.access import Actor
from crumb.services.jobs import Try
from crumb.services.music import imports
from crumb.services.pages import reading_pages
from crumb.services.people.accounts import new_class_code
from crumb.services.people.hashing import hash_secret
from crumb.services.sheets import printing
from crumb.services.takes import takes
from crumb.store.files import FolderStore, Sounds
from crumb.store.queries import jobs
from crumb.store.tables import Assignment, Job, KinLink, Person, PiecePart, Program
from tests.api.copies import Snapshot, added, put, rows_of

PASSWORD = "a long enough password"
PIN = "1234"
_PASSWORD_HASH, _PIN_HASH = hash_secret(PASSWORD), hash_secret(PIN)
ETUDE = write_part(clarinet_etude(), title=TITLE, composer=COMPOSER).encode()


def app_on(new_session: sessionmaker[Session], files: Path) -> FastAPI:
    """The real application on a test's database and folder."""
    app = create_app(new_session)
    store = FolderStore(files)
    app.dependency_overrides[deps.get_files] = lambda: store
    sounds = Sounds(store.root / "takes")
    app.dependency_overrides[deps.get_sounds] = lambda: sounds
    return app


def work_off_all(
    new_session: sessionmaker[Session],
    files: FolderStore,
    each: Any = map,
    *,
    sounds: Sounds | None = None,
) -> None:
    """Everything that waits is done here and now, in the place of a worker."""
    while True:
        with new_session() as session:
            claim = jobs.claim(session)
            session.commit()
        if claim is None:
            return
        attempt = Try(claim.id, claim.tries, new_session)
        carry_out(attempt, claim.kind, work_of(attempt, claim.kind, files, each, sounds))


def work_of(
    attempt: Try, kind: str, files: FolderStore, each: Any = map, sounds: Sounds | None = None
) -> Work:
    """What a worker would do of a job, here and now."""
    if kind == "import":
        return lambda session: imports.bring_in(session, attempt, files, each)
    if kind == "pages":
        return lambda session: reading_pages.read_pages(session, attempt, files)
    if kind == "take":
        assert sounds is not None
        return lambda session: takes.make_playable(session, attempt, sounds)
    return lambda session: printing.print_job(session, attempt, files, "https://school.example")


@dataclass
class School:
    """A program with a director and some students, each with a client of their own."""

    app: FastAPI
    new_session: sessionmaker[Session]
    program_id: UUID
    class_code: str
    director: TestClient
    students: list[TestClient] = field(default_factory=list)
    ids: dict[str, Any] = field(default_factory=dict)

    def work_off(self) -> None:
        """Do what a worker would."""
        stores = (self.app.dependency_overrides[one]() for one in (deps.get_files, deps.get_sounds))
        files, sounds = stores
        work_off_all(self.new_session, files, sounds=sounds)


_CODE = "FIRSTSCHOOL"


@dataclass(frozen=True)
class FirstSchool:
    """A school that copies are made of, and its sessions: the director's, then the students'."""

    snapshot: Snapshot
    tokens: tuple[str, ...]


class Firsts:
    """What was built once in this process, in databases of its own."""

    def __init__(self, server: str) -> None:
        self._server = server
        self._schools: dict[int, FirstSchool] = {}
        self._music: Snapshot | None = None
        self._names: tuple[str, str, str] = ("", "", "")
        self.files = Path(tempfile.mkdtemp(prefix="crumb-first-school-"))

    def school(self, students: int) -> FirstSchool:
        """One with so many students."""
        if students not in self._schools:
            with self._database() as makes:
                self._schools[students] = self._built(makes, students)[0]
        return self._schools[students]

    def music(self) -> Snapshot:
        """The etude on top of a school."""
        if self._music is None:
            with self._database() as makes:
                _, school = self._built(makes, 1)
                with makes() as session:
                    director = session.scalars(
                        select(Person.id).where(Person.role == "director")
                    ).one()
                names = (school.program_id, director, school.ids["section"])
                self._names = (str(names[0]), str(names[1]), str(names[2]))
                before, had = rows_of(makes.kw["bind"]), set(school.ids)
                build_music(school)
                ids = {name: one for name, one in school.ids.items() if name not in had}
                rows = added(before, rows_of(makes.kw["bind"]))
                assert school.ids["students"][0] not in json.dumps(rows)  # it is of no student
                self._music = Snapshot(rows, json.dumps(ids))
        return self._music

    def known(self, program: UUID, director: UUID, section: str) -> dict[str, str]:
        """What stands in the music of the first school for what is another's."""
        self.music()
        return dict(zip(self._names, map(str, (program, director, section)), strict=True))

    def _built(self, makes: sessionmaker[Session], students: int) -> tuple[FirstSchool, School]:
        school = build_school(app_on(makes, self.files), makes, students=students, code=_CODE)
        clients = (school.director, *school.students)
        tokens = tuple(client.cookies[deps.COOKIE] for client in clients)
        more = json.dumps([str(school.program_id), school.ids])
        return FirstSchool(Snapshot(rows_of(makes.kw["bind"]), more), tokens), school

    @contextmanager
    def _database(self) -> Iterator[sessionmaker[Session]]:
        name = f"first_{uuid4().hex}"
        server = create_engine(f"{self._server}/postgres", isolation_level="AUTOCOMMIT")
        with server.connect() as connection:
            connection.execute(text(f"create database {name} template crumb"))
        engine = create_engine(f"{self._server}/{name}")
        try:
            yield sessionmaker(engine, expire_on_commit=False)
        finally:
            engine.dispose()
            with server.connect() as connection:
                connection.execute(text(f"drop database {name} with (force)"))
            server.dispose()


@cache
def _firsts_on(server: str) -> Firsts:
    return Firsts(server)


def _firsts(new_session: sessionmaker[Session]) -> Firsts:
    url = new_session.kw["bind"].url.render_as_string(hide_password=False)
    return _firsts_on(url.rpartition("/")[0])


def build_school(
    app: FastAPI, new_session: sessionmaker[Session], *, students: int = 2, code: str = ""
) -> School:
    """A program with people in a section called Clarinets, made as a director makes it."""
    code, program_id = code or new_class_code(), uuid4()
    with new_session() as session:
        session.add(Program(id=program_id, name=f"School {code}", class_code=code))
        session.flush()
        session.add(
            Person(
                id=uuid4(),
                program_id=program_id,
                role="director",
                name="Director",
                name_key="director",
                email=f"{code}@test.example",
                email_key=f"{code}@test.example".casefold(),
                secret_hash=_PASSWORD_HASH,
            )
        )
        session.commit()
    director = TestClient(app)
    body = {"email": f"{code}@test.example", "password": PASSWORD}
    ok(director.post("/api/session/director", json=body))
    school = School(app, new_session, program_id, code, director)
    section = ok(director.post("/api/sections", json={"name": "Clarinets"}))
    school.ids["section"] = section["id"]
    names = [f"Player {i}" for i in range(students)]
    made = ok(director.post(f"/api/sections/{section['id']}/students", json={"names": names}))
    school.ids["students"] = [row["student_id"] for row in made]
    for row in made:
        client = TestClient(app)
        sign_in = {"class_code": code, "name": row["name"], "pin": row["pin"]}
        ok(client.post("/api/session/student", json=sign_in))
        school.students.append(client)
    return school


def a_school(app: FastAPI, new_session: sessionmaker[Session], *, students: int = 2) -> School:
    """A program with people in a section called Clarinets."""
    first = _firsts(new_session).school(students)
    code = new_class_code()
    with new_session() as session:
        more, tokens = put(
            session,
            first.snapshot,
            {_CODE: code, _CODE.casefold(): code.casefold()},
            first.tokens,
        )
        session.commit()
    program_id, ids = json.loads(more)
    clients = [_client(app, tokens[token]) for token in first.tokens]
    director, *others = clients
    return School(app, new_session, UUID(program_id), code, director, others, ids)


def _client(app: FastAPI, token: str) -> TestClient:
    client = TestClient(app)
    client.cookies.set(deps.COOKIE, token, domain="testserver.local", path="/")
    return client


def ok(response: httpx.Response) -> Any:
    """The body of an answer that must be good."""
    assert response.is_success, response.text
    return response.json() if response.content else None


def with_music(school: School) -> School:
    """The etude, brought in and split every two measures; for a school where nothing else is."""
    first = _firsts(school.new_session)
    with school.new_session() as session:
        mine = Person.program_id == school.program_id, Person.role == "director"
        director = session.scalars(select(Person.id).where(*mine)).one()
        known = first.known(school.program_id, director, school.ids["section"])
        more, _ = put(session, first.music(), known)
        session.commit()
    school.ids |= json.loads(more)
    folder = school.app.dependency_overrides[deps.get_files]().root
    shutil.copytree(first.files, folder, dirs_exist_ok=True)
    return school


def build_music(school: School) -> School:
    """The same, made as a director makes it."""
    piece = brought_in(school, ETUDE)
    part_id = piece["parts"][0]["id"]
    school.ids["part"] = part_id
    school.ids["piece"] = piece["id"]
    view = edit(school, op="by-measures", measures=2, version=0)
    school.ids["chunks"] = view["chunks"]
    return school


def brought_in(
    school: School, data: bytes, name: str = "etude.musicxml", **form: str
) -> dict[str, Any]:
    """The piece that an upload becomes."""
    sent = school.director.post("/api/imports", files={"file": (name, data)}, data=form)
    school.ids["import"] = ok(sent)["id"]
    school.work_off()
    job = ok(school.director.get(f"/api/imports/{school.ids['import']}"))
    assert job["state"] == "done", job["message"]
    return job["piece"]


def edit(school: School, **body: Any) -> Any:
    """One edit of the chunk map."""
    return ok(school.director.post(f"/api/parts/{school.ids['part']}/chunks", json=body))


def an_assignment(school: School, *items: dict[str, Any], **more: Any) -> dict[str, Any]:
    """The body of an assignment to the school's section."""
    today = datetime.now().astimezone().date()
    return {
        "part_id": school.ids["part"],
        "section_ids": [school.ids["section"]],
        "due_on": str(today + timedelta(days=9)),
        "minutes_a_day": 20,
        "items": list(items) or [an_item(school)],
        **more,
    }


def a_plan(school: School, *, days: int = 28, **more: Any) -> dict[str, Any]:
    """The body of a plan for the school's section and part."""
    today = datetime.now().astimezone().date()
    return {
        "part_id": school.ids["part"],
        "section_id": school.ids["section"],
        "on": str(today + timedelta(days=days)),
        "minutes_a_day": 20,
        **more,
    }


def an_item(
    school: School, chunk: int = 4, drill: str = "alone", *, start: int = 82, **settings: Any
) -> dict[str, Any]:
    """A drill on one of the school's chunks, 82 (or another tempo) to 106 by 4."""
    return {
        "chunk_id": school.ids["chunks"][chunk]["id"],
        "drill": drill,
        "settings": settings,
        "ladder": {"start_bpm": start, "goal_bpm": 106, "step_bpm": 4},
    }


def assigned(school: School, *items: dict[str, Any], **more: Any) -> School:
    """Send it; the first student's items are kept in ``ids``."""
    body = an_assignment(school, *items, **more)
    sent = ok(school.director.post("/api/assignments", json=body))
    school.ids["assignment"] = sent[0]["id"]
    sent_long_ago(school)
    school.ids["items"] = [i["item_id"] for i in ok(school.students[0].get("/api/me/today"))]
    return school


def sent_long_ago(school: School) -> None:
    """As if it had been sent a month ago: there was time to play it."""
    with school.new_session() as session:
        session.execute(
            update(Assignment)
            .where(Assignment.program_id == school.program_id)
            .values(sent_at=datetime.now(UTC) - timedelta(days=30))
        )
        session.commit()


def a_repetition(
    item_id: str,
    *,
    clean: bool = True,
    tempo: float | None = 82,
    step: int = 0,
    second: float = 0,
) -> dict[str, Any]:
    """One repetition as a device hands it in."""
    at = datetime.now(UTC) - timedelta(hours=1) + timedelta(seconds=second)
    return {
        "id": str(uuid4()),
        "item_id": item_id,
        "step": step,
        "tempo_bpm": tempo,
        "is_clean": clean,
        "played_at": at.isoformat(),
    }


def play(client: TestClient, *repetitions: dict[str, Any]) -> Any:
    """Hand repetitions in; the ladders that moved."""
    return hand_in(client, *repetitions)["items"]


def hand_in(client: TestClient, *repetitions: dict[str, Any], **more: Any) -> Any:
    """Hand repetitions in; all that changed."""
    body = {"repetitions": list(repetitions), **more}
    return ok(client.post("/api/me/repetitions", json=body))


def level(school: School, chunk: int = 4, student: int = 0) -> int:
    """The level on a cell of the Wall."""
    wall = ok(school.director.get(f"/api/wall/{school.ids['part']}/{school.ids['section']}"))
    found: int = wall["rows"][student]["levels"][chunk]
    return found


class Desk:
    """Uploads of one director, worked off in a way that the test says."""

    def __init__(self, school: School, makes: sessionmaker[Session], folder: Path) -> None:
        self.makes, self.files = makes, FolderStore(folder)
        with makes() as session:
            mine = Person.program_id == school.program_id
            director = session.scalars(select(Person).where(mine, Person.role == "director")).one()
            self.actor = Actor(director.id, school.program_id, Role.DIRECTOR)

    def bring_in(self, data: bytes, each: Any = map) -> Job:
        with self.makes() as session:
            job = imports.begin(
                session, self.files, self.actor, file_name="march.musicxml", data=data
            )
            import_id = job.id
            session.commit()
        work_off_all(self.makes, self.files, each)
        with self.makes() as session:
            return session.get_one(Job, import_id)

    def kept(self, job: Job) -> list[tuple[Any, ...]]:
        """All that was kept of the parts, in score order."""
        with self.makes() as session:
            rows = session.scalars(
                select(PiecePart)
                .where(PiecePart.piece_id == job.piece_id)
                .order_by(PiecePart.place)
            ).all()
            return [(r.name, r.notation, r.facts, r.goal_bpm, r.played_on, r.survey) for r in rows]

    def kin(self, job: Job) -> list[tuple[Any, ...]]:
        with self.makes() as session:
            rows = session.scalars(
                select(KinLink).where(KinLink.piece_id == job.piece_id).order_by(KinLink.place)
            ).all()
            return [
                (k.a_first, k.a_last, k.b_first, k.b_last, k.relation, k.interval, k.scale)
                for k in rows
            ]


def invited(school: School, **how: object) -> tuple[TestClient, dict[str, str]]:
    """Somebody who was invited to help, with the account they made."""
    token = ok(school.director.post("/api/invitations", json=how))["token"]
    account = {"name": "Helping", "email": f"{uuid4().hex[:8]}@help.example", "password": PASSWORD}
    client = TestClient(school.app)
    ok(client.post(f"/api/invitations/{token}", json=account))
    return client, account
