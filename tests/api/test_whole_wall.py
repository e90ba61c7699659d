"""The Wall of a piece, of a student and of a week, and one act for several cells."""

from datetime import UTC, date, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import School, a_repetition, a_school, assigned, ok, play, with_music


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return assigned(with_music(a_school(app, new_session, students=3)))


def in_a_week() -> str:
    return (datetime.now(UTC).date() + timedelta(days=7)).isoformat()


def cells(school: School, *wanted: tuple[int, int]) -> list[dict[str, str]]:
    """Cells by student and chunk."""
    return [
        {
            "student_id": school.ids["students"][student],
            "chunk_id": school.ids["chunks"][chunk]["id"],
        }
        for student, chunk in wanted
    ]


def send(school: School, chosen: list[dict[str, str]], **body: object) -> Any:
    wish = {"cells": chosen, "drill": "alone", "due_on": in_a_week(), "minutes_a_day": 15}
    path = f"/api/wall/{school.ids['part']}/cells/send"
    return school.director.post(path, json={**wish, **body})


def chunks_of(school: School, student: int) -> list[str]:
    return [line["chunk"] for line in ok(school.students[student].get("/api/me/today"))]


def test_each_student_is_sent_just_the_chunks_that_were_chosen_for_them(school: School):
    before = [chunks_of(school, student) for student in range(3)]
    sent = ok(send(school, cells(school, (0, 1), (0, 2), (1, 2), (1, 1), (2, 3))))
    labels = [chunk["label"] for chunk in school.ids["chunks"]]
    assert sorted((tuple(one["chunks"]), one["students"]) for one in sent) == sorted(
        [((labels[1], labels[2]), 2), ((labels[3],), 1)]
    )
    new = [set(chunks_of(school, student)) - set(before[student]) for student in range(3)]
    assert new == [set(labels[1:3]), set(labels[1:3]), {labels[3]}]


def test_a_drill_that_does_not_fit_is_told_for_its_chunks(school: School):
    (sent,) = ok(send(school, cells(school, (0, 1)), drill="nothing-of-the-kind"))
    assert sent["students"] == 0
    assert sent["why_not"]


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"cells": []}, 422),
        ({"due_on": "2020-01-01"}, 422),
        ({"minutes_a_day": 0}, 422),
    ],
)
def test_a_wish_nobody_can_have_sends_nothing(school: School, body: dict[str, Any], status: int):
    before = chunks_of(school, 0)
    assert send(school, cells(school, (0, 1)), **body).status_code == status
    assert chunks_of(school, 0) == before


def test_a_stranger_among_the_cells_sends_nothing(school: School):
    (here,) = cells(school, (0, 1))
    chosen = [here, {**here, "student_id": str(uuid4())}]
    before = chunks_of(school, 0)
    assert send(school, chosen).status_code == 404
    assert chunks_of(school, 0) == before


def test_what_was_heard_is_said_of_every_chosen_cell_once(school: School):
    path = f"/api/wall/{school.ids['part']}/cells/heard"
    body = {"cells": cells(school, (0, 1), (1, 1), (1, 2)), "words": "rushing"}
    assert ok(school.director.post(path, json=body)) == {"students": 2}
    ok(school.director.post(path, json=body))
    here = f"/api/wall/{school.ids['part']}/evidence/{school.ids['students'][1]}"
    for chunk in (1, 2):
        seen = ok(school.director.get(f"{here}/{school.ids['chunks'][chunk]['id']}"))
        assert len(seen["heard"]) == 1


def test_a_piece_shows_everybody_on_every_passage(school: School):
    wall = ok(school.director.get(f"/api/wall/pieces/{school.ids['piece']}"))
    assert wall["passages"]
    assert wall["standings"][0].endswith("3 at 0")
    for desk in wall["desks"]:
        assert len(desk["standings"]) == len(desk["chunk_ids"]) == len(wall["passages"])
        assert all(len(row["levels"]) == len(wall["passages"]) for row in desk["rows"])
    (desk,) = [d for d in wall["desks"] if d["part_id"] == school.ids["part"]]
    assert {row["student_id"] for row in desk["rows"]} == set(map(str, school.ids["students"]))


def test_a_student_s_wall_is_what_the_student_sees(school: School):
    play(school.students[0], a_repetition(school.ids["items"][0]))
    student = school.ids["students"][0]
    seen = ok(school.director.get(f"/api/wall/students/{student}"))
    assert seen["parts"] == ok(school.students[0].get("/api/me/map"))


def test_a_week_tells_what_was_done_and_nothing_of_levels(school: School):
    play(school.students[0], a_repetition(school.ids["items"][0]))
    now = datetime.now(UTC)
    said = [
        {"kind": "minutes", "category": "focus", "seconds": 780},
        {"kind": "journal", "what": "the run", "hard": "the leap"},
    ]
    lines = [{"id": str(uuid4()), "at": now.isoformat(), **line} for line in said]
    ok(school.students[0].post("/api/me/repetitions", json={"lines": lines}))
    week = ok(school.director.get("/api/wall/week"))
    assert date.fromisoformat(week["first"]).weekday() == 0
    rows = {row["student_id"]: row for row in week["rows"]}
    mine = rows[str(school.ids["students"][0])]
    told = (mine["days"], mine["minutes"], mine["repetitions"], mine["has_log"])
    assert told == (1, 13, 1, True)
    others = rows[str(school.ids["students"][1])]
    assert (others["days"], others["minutes"], others["has_log"]) == (0, 0, False)
    before = ok(school.director.get("/api/wall/week", params={"day": "2026-01-14"}))
    assert (before["first"], before["last"]) == ("2026-01-12", "2026-01-18")
    assert {row["days"] for row in before["rows"]} == {0}


def test_the_wall_opens_where_most_was_begun_and_is_open(school: School):
    assert ok(school.director.get("/api/wall/opening")) == {"part_id": None, "section_id": None}
    play(school.students[0], a_repetition(school.ids["items"][0]))
    seats = [
        {
            "part_id": school.ids["part"],
            "played_on": "Clarinet",
            "section_ids": [school.ids["section"]],
        }
    ]
    ok(school.director.put(f"/api/pieces/{school.ids['piece']}/parts", json={"parts": seats}))
    opens = ok(school.director.get("/api/wall/opening"))
    assert opens == {"part_id": school.ids["part"], "section_id": school.ids["section"]}


def test_slips_that_were_named_and_heard_lie_on_their_notes(school: School):
    slipped = a_repetition(school.ids["items"][0], clean=False)
    play(school.students[0], slipped)
    measure = school.ids["chunks"][4]["start"]["index"]
    place = {"index": measure, "at": "1"}
    said = {"id": str(uuid4()), "repetition_id": slipped["id"], "at": place, "what": "rhythm"}
    ok(school.students[0].post("/api/me/repetitions", json={"slips": [said]}))
    judged = {
        "id": str(uuid4()),
        "student_id": str(school.ids["students"][1]),
        "chunk_id": school.ids["chunks"][4]["id"],
        "level": 3,
        "missing": [],
        "slips": [{"at": place, "what": "pitch"}, {"at": place}],
    }
    ok(school.director.post(f"/api/hearing/{school.ids['part']}", json=judged))
    path = f"/api/wall/{school.ids['part']}/trouble"
    everybody = ok(school.director.get(path))
    assert (everybody["total"], everybody["stretches"][0]["count"]) == (3, 3)
    whole = ok(school.director.get(f"/api/pieces/{school.ids['piece']}/slips"))
    on = {one["name"]: [part["count"] for part in one["parts"]] for one in whole}
    assert {name: counts for name, counts in on.items() if counts} == {"P 9–16": [3]}
    one = ok(school.director.get(path, params={"student_id": school.ids["students"][0]}))
    assert [(note["at"], note["count"]) for note in one["notes"]] == [(place, 1)]
    assert one["stretches"] == []
    ok(school.director.delete(f"/api/hearing/taken/{judged['id']}"))
    section = {"section_id": school.ids["section"]}
    assert ok(school.director.get(path, params=section))["total"] == 1
