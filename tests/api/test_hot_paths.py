"""The director's pages ask for few rows: none of them reads through all evidence."""

from collections.abc import Callable
from functools import partial
from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy import event, text
from sqlalchemy.orm import Session, sessionmaker

from crumb.store.tables import AssignmentItem
from tests.api.school import (
    School,
    a_plan,
    a_repetition,
    a_school,
    an_assignment,
    an_item,
    assigned,
    ok,
    play,
    with_music,
)

Asked = list[tuple[str, Any]]


def at_work(app: FastAPI, new_session: sessionmaker[Session], *, students: int) -> School:
    """A school in the middle of its work: things sent, played, planned, and due to be tried cold.

    Of a larger one, everybody has more chunks, too.
    """
    school = with_music(a_school(app, new_session, students=students))
    items = [an_item(school, chunk, start=106) for chunk in range(4, 4 + students)]
    assigned(school, *items)
    for student in school.students:
        item_ids = [line["item_id"] for line in ok(student.get("/api/me/today"))]
        reps = [
            a_repetition(item_id, tempo=106, second=12 * i - 120 * place)
            for place, item_id in enumerate(item_ids)
            for i in range(3)
        ]
        play(student, *reps)
    with school.new_session() as session:
        session.execute(
            text(
                "update mastery set due_on = current_date - 1 where due_on is not null"
                " and student_id in (select id from person where program_id = :program)"
            ),
            {"program": school.program_id},
        )
        session.commit()
    school.ids["plan"] = ok(school.director.post("/api/plans", json=a_plan(school)))["id"]
    return school


@pytest.fixture(scope="module")
def busy(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return at_work(app, new_session, students=2)


@pytest.fixture(scope="module")
def larger(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return at_work(app, new_session, students=7)


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


def looks(school: School) -> dict[str, Callable[[], Any]]:
    """A look at each page of the director's."""
    part, section, piece = school.ids["part"], school.ids["section"], school.ids["piece"]
    student, chunk = school.ids["students"][0], school.ids["chunks"][4]["id"]
    paths = {
        "desk": "desk",
        "score": f"pieces/{piece}/score",
        "slips": f"pieces/{piece}/slips",
        "wall": f"wall/{part}/{section}",
        "piece wall": f"wall/pieces/{piece}",
        "student": f"wall/students/{student}",
        "week": "wall/week",
        "evidence": f"wall/{part}/evidence/{student}/{chunk}",
        "hearing": f"hearing/{part}/{section}/{chunk}",
        "takes": "takes/tasks",
        "plans": "plans",
        "outlook": "plans/outlook",
        "plan": f"plans/{school.ids['plan']}",
        "sent": "assignments",
        "people": "sections",
    }
    wish = {"piece_id": piece, "minutes": 20}
    posts = {
        "rehearsal": ("rehearsals/preview", wish),
        "to send": ("assignments/preview", an_assignment(school)),
        "to plan": ("plans/preview", a_plan(school)),
    }
    director = school.director
    return {
        **{page: partial(director.get, f"/api/{path}") for page, path in paths.items()},
        **{page: partial(director.post, f"/api/{p}", json=b) for page, (p, b) in posts.items()},
    }


PAGES = (
    "desk",
    "score",
    "slips",
    "wall",
    "piece wall",
    "student",
    "week",
    "evidence",
    "hearing",
    "takes",
    "plans",
    "outlook",
    "plan",
    "sent",
    "people",
    "rehearsal",
    "to send",
    "to plan",
)


@pytest.mark.parametrize("page", PAGES)
def test_no_page_of_the_director_scans_all_evidence(busy: School, page: str):
    found = asked(busy, lambda: ok(looks(busy)[page]()))
    assert found
    told = plans(busy, found)
    assert told or page != "desk"  # the Desk does ask for the last days
    for plan in told:
        assert "Seq Scan on evidence" not in plan


@pytest.mark.parametrize("page", PAGES)
def test_a_page_asks_as_much_of_a_large_section_as_of_a_small_one(
    busy: School, larger: School, page: str
):
    counts = []
    for school in (busy, larger):
        look = looks(school)[page]
        ok(look())  # what is worked out once, is
        counts.append(len(asked(school, lambda look=look: ok(look()))))
    assert counts[1] <= counts[0]


def test_the_list_of_plans_asks_as_much_of_two_as_of_one(
    app: FastAPI, new_session: sessionmaker[Session]
):
    school = at_work(app, new_session, students=2)
    look = looks(school)["plans"]
    assert len(ok(look())) == 1
    few = asked(school, look)
    second = ok(school.director.post("/api/sections", json={"name": "Clarinets 2"}))["id"]
    path = f"/api/sections/{second}/students"
    ok(school.director.post(path, json={"names": ["Another Player"]}))
    ok(school.director.post("/api/plans", json=a_plan(school, section_id=second)))
    assert {one["section"] for one in ok(look())} == {"Clarinets", "Clarinets 2"}
    assert len(asked(school, look)) == len(few)


def test_the_list_of_what_was_sent_reads_nothing_that_plans_asked_for(busy: School):
    for student in busy.students:
        ok(student.post(f"/api/me/plan/{busy.ids['plan']}/day"))
        assert ok(student.get("/api/me/plan"))[0]["items"]
    read: list[AssignmentItem] = []
    listen = ("load", lambda item, _: read.append(item))
    event.listen(AssignmentItem, *listen)
    try:
        told = ok(looks(busy)["sent"]())
    finally:
        event.remove(AssignmentItem, *listen)
    assert [len(one["items"]) for one in told] == [len(read)]
