"""The cells of the Wall: as they are kept, of everybody or of the first, by a plan that fits."""

from datetime import UTC, datetime, timedelta
from itertools import product
from uuid import UUID

import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from crumb.settings import get_settings
from crumb.store import session as sessions
from crumb.store.codecs.mastery import LEVEL_RULES
from crumb.store.queries.mastery import marks, marks_on
from crumb.store.tables import Mastery
from tests.api.school import School, a_school, assigned, ok, with_music

SEAMS = {(False, False): "", (True, False): "in", (False, True): "out", (True, True): "both"}
KINDS = list(product(range(7), SEAMS, (-1, 0, 1, None)))
"""Level, seams, and in how many days it is to be tried cold."""


@pytest.fixture(scope="module")
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    """Every kind of cell there is, one after the other, with gaps where nothing was played."""
    school = assigned(with_music(a_school(app, new_session, students=30)))
    today = datetime.now(UTC).date()
    with new_session() as session:
        for place, (level, seams, days) in enumerate(KINDS):
            student, chunk = _cell(school, place)
            session.add(
                Mastery(
                    student_id=UUID(school.ids["students"][student]),
                    chunk_id=UUID(school.ids["chunks"][chunk]["id"]),
                    level=level,
                    why="",
                    seam_in=seams[0],
                    seam_out=seams[1],
                    secure_bpm=60.5 + place,
                    is_enough=place % 3 == 0,
                    due_on=None if days is None else today + timedelta(days=days),
                    clean=0,
                    slips=0,
                    rules=LEVEL_RULES,
                )
            )
        session.commit()
    return school


def _cell(school: School, place: int) -> tuple[int, int]:
    """Student and chunk of a kind; the last chunk of each student was never played."""
    return divmod(place, len(school.ids["chunks"]) - 1)


def wall_of(school: School, **query: int) -> dict:
    return ok(
        school.director.get(f"/api/wall/{school.ids['part']}/{school.ids['section']}", params=query)
    )


def test_every_kind_of_cell_is_shown_as_it_is_kept(school: School):
    rows = {row["student_id"]: row for row in wall_of(school)["rows"]}
    for place, (level, seams, days) in enumerate(KINDS):
        student, chunk = _cell(school, place)
        row = rows[school.ids["students"][student]]
        assert (row["levels"][chunk], row["seams"][chunk]) == (level, SEAMS[seams])
        assert (chunk in row["due"]) == (days is not None and days <= 0)
    for row in rows.values():
        assert (row["levels"][-1], row["seams"][-1]) == (0, "")
        assert row["due"] == sorted(set(row["due"]))


def test_the_first_rows_are_those_of_the_whole_and_nothing_is_said_of_all(school: School):
    whole, some = wall_of(school), wall_of(school, first=7)
    assert some["rows"] == whole["rows"][:7]
    assert some["of"] == whole["of"] == len(whole["rows"]) == 30
    assert some["chunks"] == whole["chunks"]
    assert some["standings"] == []
    assert wall_of(school, first=30) == whole == wall_of(school, first=1000)


def test_so_many_rows_as_nobody_has_are_told(school: School):
    path = f"/api/wall/{school.ids['part']}/{school.ids['section']}"
    assert school.director.get(path, params={"first": 0}).status_code == 422


def test_what_is_secure_is_told_where_enough_was_played(school: School):
    with school.new_session() as session:
        ids = [UUID(chunk["id"]) for chunk in school.ids["chunks"]]
        students = [UUID(student) for student in school.ids["students"]]
        found = marks(session, students, ids)
    for place, _ in enumerate(KINDS):
        student, chunk = _cell(school, place)
        here = found[students[student]]
        secure = here.secure[here.places.index(chunk)]
        assert secure == (60.5 + place if place % 3 == 0 else None)


def test_however_often_it_is_asked_the_plan_is_made_for_those_who_are_asked_about(
    school: School, monkeypatch: pytest.MonkeyPatch
):
    """One plan for any number of students took four times as long for a whole school."""
    with school.new_session() as session:
        url = session.get_bind().url.render_as_string(hide_password=False)  # type: ignore[union-attr]
    monkeypatch.setenv("CRUMB_DATABASE_URL", url)
    for known in (get_settings, sessions.get_engine, sessions._maker):
        known.cache_clear()
    try:
        with sessions.new_session() as session:
            ids = [UUID(chunk["id"]) for chunk in school.ids["chunks"]]
            students = [UUID(student) for student in school.ids["students"]]
            for _ in range(20):
                marks_on(session, students, ids, datetime.now(UTC).date())
            query = "select sum(custom_plans), sum(generic_plans) from pg_prepared_statements"
            custom, generic = session.execute(text(query)).one()
        assert custom > 0
        assert generic == 0
        sessions.get_engine().dispose()
    finally:
        for known in (get_settings, sessions.get_engine, sessions._maker):
            known.cache_clear()
