"""A school for API tests: clients that are signed in, and music that is split."""

from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import UUID, uuid4

import httpx
from crumb.jobs.app import get_queue
from fastapi import FastAPI
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.api import deps
from crumb.api.main import create_app
from crumb.demo.etude import COMPOSER, TITLE, clarinet_etude
from crumb.formats.musicxml.writer import write_part
from crumb.services.music import importing
from crumb.services.people.signing_in import hash_secret, new_class_code
from crumb.services.sheets import printing
from crumb.services.who import Who
from crumb.store.files import FolderStore
from crumb.store.tables import ImportJob, KinLink, Person, PiecePart, Program

PASSWORD = "a long enough password"
PIN = "1234"
_PASSWORD_HASH, _PIN_HASH = hash_secret(PASSWORD), hash_secret(PIN)
ETUDE = write_part(clarinet_etude(), title=TITLE, composer=COMPOSER).encode()


def app_on(new_session: sessionmaker[Session], files: Path) -> FastAPI:
    """The real application on a test's database and folder."""
    app = create_app()

    def session():
        with new_session() as opened:
            yield opened

    app.dependency_overrides[deps.get_session] = session
    store = FolderStore(files)
    app.dependency_overrides[deps.get_files] = lambda: store
    app.dependency_overrides[get_queue] = lambda: AtOnce(new_session, store)
    return app


@dataclass
class AtOnce:
    """A queue that works everything off at once, in the place of a worker."""

    new_session: sessionmaker[Session]
    files: FolderStore

    def put(self, import_id: UUID) -> None:
        importing.work_off(self.new_session, self.files, import_id)

    def put_sheets(self, job_id: UUID) -> None:
        printing.work_off(self.new_session, self.files, job_id, "https://school.example")


@dataclass
class School:
    """A program with a director and some students, each with a client of their own."""

    app: FastAPI
    program_id: UUID
    class_code: str
    director: TestClient
    students: list[TestClient] = field(default_factory=list)
    ids: dict[str, Any] = field(default_factory=dict)


def a_school(app: FastAPI, new_session: sessionmaker[Session], *, students: int = 2) -> School:
    """A program with people in a section called Clarinets."""
    code, program_id = new_class_code(), uuid4()
    with new_session() as session:
        session.add(Program(id=program_id, name=f"School {code}", class_code=code))
        session.flush()
        session.add(
            Person(
                id=uuid4(),
                program_id=program_id,
                role="director",
                name="Director",
                email=f"{code}@test.example",
                secret_hash=_PASSWORD_HASH,
            )
        )
        session.commit()
    director = TestClient(app)
    body = {"email": f"{code}@test.example", "password": PASSWORD}
    ok(director.post("/api/session/director", json=body))
    school = School(app, program_id, code, director)
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


def ok(response: httpx.Response) -> Any:
    """The body of an answer that must be good."""
    assert response.is_success, response.text
    return response.json() if response.content else None


def with_music(school: School) -> School:
    """The etude, brought in and split every two measures."""
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


def an_item(
    school: School, chunk: int = 4, drill: str = "alone", **settings: Any
) -> dict[str, Any]:
    """A drill on one of the school's chunks, 82 to 106 by 4."""
    return {
        "chunk_id": school.ids["chunks"][chunk]["id"],
        "drill": drill,
        "settings": settings,
        "ladder": {"start_bpm": 82, "goal_bpm": 106, "step_bpm": 4},
    }


def assigned(school: School, *items: dict[str, Any], **more: Any) -> School:
    """Send it; the first student's items are kept in ``ids``."""
    body = an_assignment(school, *items, **more)
    sent = ok(school.director.post("/api/assignments", json=body))
    school.ids["assignment"] = sent[0]["id"]
    school.ids["items"] = [i["item_id"] for i in ok(school.students[0].get("/api/me/today"))]
    return school


def a_repetition(
    item_id: str, *, clean: bool = True, tempo: float = 82, step: int = 0, second: float = 0
):
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
    """Hand repetitions in."""
    return ok(client.post("/api/me/repetitions", json={"repetitions": list(repetitions)}))


class Desk:
    """Uploads of one director, worked off in a way that the test says."""

    def __init__(self, school: School, makes: sessionmaker[Session], folder: Path) -> None:
        self.makes, self.files = makes, FolderStore(folder)
        with makes() as session:
            mine = Person.program_id == school.program_id
            director = session.scalars(select(Person).where(mine, Person.role == "director")).one()
            self.who = Who(director.id, school.program_id, "director", "", "", "")

    def put(self, import_id: UUID) -> None:
        """It is worked off later."""

    def bring_in(self, data: bytes, each: Any = map) -> ImportJob:
        with self.makes() as session:
            job = importing.begin(
                session, self.files, self, self.who, file_name="march.musicxml", data=data
            )
            import_id = job.id
        importing.work_off(self.makes, self.files, import_id, each)
        with self.makes() as session:
            return session.get_one(ImportJob, import_id)

    def kept(self, job: ImportJob) -> list[tuple[Any, ...]]:
        """All that was kept of the parts, in score order."""
        with self.makes() as session:
            rows = session.scalars(
                select(PiecePart)
                .where(PiecePart.piece_id == job.piece_id)
                .order_by(PiecePart.place)
            ).all()
            return [(r.name, r.notation, r.facts, r.goal_bpm, r.played_on, r.survey) for r in rows]

    def kin(self, job: ImportJob) -> list[tuple[Any, ...]]:
        with self.makes() as session:
            rows = session.scalars(
                select(KinLink).where(KinLink.piece_id == job.piece_id).order_by(KinLink.place)
            ).all()
            return [
                (k.a_first, k.a_last, k.b_first, k.b_last, k.relation, k.interval, k.scale)
                for k in rows
            ]
