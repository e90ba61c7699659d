"""The director's pages ask for few rows: none of them reads through all evidence."""

from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy import event, text
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import School, a_repetition, a_school, assigned, ok, play, with_music

Asked = list[tuple[str, Any]]


@pytest.fixture(scope="module")
def busy(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    school = assigned(with_music(a_school(app, new_session)))
    for student in school.students:
        play(student, a_repetition(school.ids["items"][0]))
    return school


def asked(school: School, act: Any) -> Asked:
    """What is asked of the database meanwhile."""
    with school.new_session() as session:
        engine = session.get_bind()
    heard: Asked = []

    def note(_c: Any, _cursor: Any, statement: str, parameters: Any, *_: Any) -> None:
        heard.append((statement, parameters))

    event.listen(engine, "before_cursor_execute", note)
    try:
        act()
    finally:
        event.remove(engine, "before_cursor_execute", note)
    return heard


def plans(school: School, found: Asked) -> list[str]:
    """How the database would go about what mentions evidence, if it can do without a scan."""
    told = []
    with school.new_session() as session:
        session.execute(text("set local enable_seqscan = off"))
        raw = session.connection().connection.cursor()
        for statement, parameters in found:
            if "evidence" in statement and statement.lstrip().lower().startswith(
                ("select", "with")
            ):
                raw.execute(f"explain {statement}", parameters)
                told.append("\n".join(row[0] for row in raw.fetchall()))
        session.rollback()
    return told


PAGES = ("desk", "score", "wall", "piece wall", "student", "week", "rehearsal", "hearing")


@pytest.mark.parametrize("page", PAGES)
def test_no_page_of_the_director_scans_all_evidence(busy: School, page: str):
    part, section, piece = busy.ids["part"], busy.ids["section"], busy.ids["piece"]
    chunk = busy.ids["chunks"][0]["id"]
    acts = {
        "desk": lambda: ok(busy.director.get("/api/desk")),
        "score": lambda: ok(busy.director.get(f"/api/pieces/{piece}/score")),
        "wall": lambda: ok(busy.director.get(f"/api/wall/{part}/{section}")),
        "piece wall": lambda: ok(busy.director.get(f"/api/wall/pieces/{piece}")),
        "student": lambda: ok(busy.director.get(f"/api/wall/students/{busy.ids['students'][0]}")),
        "week": lambda: ok(busy.director.get("/api/wall/week")),
        "rehearsal": lambda: ok(
            busy.director.post("/api/rehearsals/preview", json={"piece_id": piece, "minutes": 20})
        ),
        "hearing": lambda: ok(busy.director.get(f"/api/hearing/{part}/{section}/{chunk}")),
    }
    found = asked(busy, acts[page])
    assert found
    told = plans(busy, found)
    assert told or page != "desk"  # the Desk does ask for the last days
    for plan in told:
        assert "Seq Scan on evidence" not in plan


def test_the_desk_asks_as_much_of_a_large_section_as_of_a_small_one(
    app: FastAPI, new_session: sessionmaker[Session], busy: School
):
    larger = assigned(with_music(a_school(app, new_session, students=12)))
    for student in larger.students:
        play(student, a_repetition(larger.ids["items"][0]))
    path = "/api/desk"
    few = asked(busy, lambda: ok(busy.director.get(path)))
    many = asked(larger, lambda: ok(larger.director.get(path)))
    assert len(many) == len(few)
