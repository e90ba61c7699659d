"""Sending to a mixed class, with exceptions; changed and withdrawn later; sheets on paper."""

from datetime import UTC, datetime, timedelta
from io import BytesIO
from uuid import UUID

import pytest
from fastapi import FastAPI
from pypdf import PdfReader
from sqlalchemy import func, select
from sqlalchemy.orm import Session, sessionmaker

from crumb.formats.musicxml.reader import read_score
from crumb.store.tables import Assignment, Evidence, PiecePart, SectionMember, Sheet
from tests.api.school import (
    School,
    a_repetition,
    a_school,
    an_assignment,
    an_item,
    assigned,
    ok,
    play,
    with_music,
)


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session))


def with_section(school: School, name: str, *players: str) -> str:
    section = ok(school.director.post("/api/sections", json={"name": name}))["id"]
    ok(school.director.post(f"/api/sections/{section}/students", json={"names": list(players)}))
    return section


def preview(school: School, *items, **more):
    body = an_assignment(school, *items, **more)
    return ok(school.director.post("/api/assignments/preview", json=body))


def rows_of(made, section: str):
    return [s for s in made["students"] if s["section"] == section]


def test_a_mixed_class_gets_it_in_its_own_notation(school, new_session):
    sections = [
        school.ids["section"],
        with_section(school, "Flutes", "Ada F."),
        with_section(school, "Alto saxophones", "Bo A."),
        with_section(school, "Horns", "Cy H."),
        with_section(school, "Snare drums", "Di S."),
    ]
    made = preview(school, an_item(school, drill="pitches-only"), section_ids=sections)
    parts = {s["section"]: s["part"] for s in made["students"]}
    assert parts["Flutes"].startswith("Flute, from")
    (snare,) = rows_of(made, "Snare drums")
    assert snare["items"][0]["drill"] == "Count it"
    assert "in place of Pitches only" in snare["items"][0]["note"]
    body = an_assignment(school, an_item(school, drill="pitches-only"), section_ids=sections)
    sent = ok(school.director.post("/api/assignments", json=body))
    assert len({a["sending_id"] for a in sent}) == 1
    with new_session() as session:
        versions = session.scalars(
            select(PiecePart).where(PiecePart.version_of_id == school.ids["part"])
        ).all()
        heard = {}
        for row in versions:
            part = read_score(row.notation.encode()).parts[0]
            first = next(n for _, n in part.each_note() if n.is_attack)
            if first.pitch:
                heard[row.played_on] = part.transposition.sounding(first.pitch).midi % 12
        assert set(heard) == {"Flute", "Alto saxophone", "Horn"}
        assert len(set(heard.values())) == 1
    again = ok(school.director.post("/api/assignments", json=body))
    assert len({a["part_id"] for a in again}) == len(sections)  # versions are made once


def test_a_player_in_two_of_the_sections_gets_it_once(school, new_session):
    me = school.ids["students"][0]
    second = with_section(school, "Flutes", "Ada F.")
    with new_session() as session:
        session.add(SectionMember(section_id=UUID(second), person_id=UUID(str(me))))
        session.commit()
    made = preview(school, an_item(school), section_ids=[school.ids["section"], second])
    mine = [s["section"] for s in made["students"] if s["student_id"] == str(me)]
    assert len(mine) == 1
    assert [s["name"] for s in rows_of(made, "Flutes")] == ["Ada F."]


def test_only_the_players_that_were_chosen_get_it(school):
    first, *others = school.ids["students"]
    made = preview(school, an_item(school), only=[str(first)])
    assert [s["student_id"] for s in made["students"]] == [str(first)]
    assert others


def test_exceptions_are_made_player_by_player(school):
    first, second, *_ = school.ids["students"]
    kinds = {str(first): "smaller", str(second): "injured"}
    made = preview(school, an_item(school, drill="alone"), exceptions=kinds)
    by_id = {s["student_id"]: s for s in made["students"]}
    small = by_id[str(first)]
    assert len(small["items"]) > 1
    assert {item["note"] for item in small["items"]} == {"Smaller"}
    hurt = by_id[str(second)]
    assert [item["drill"] for item in hurt["items"]] == ["Name it"]
    assert hurt["items"][0]["note"] == "Without the instrument"


def test_an_absent_player_has_a_week_more_and_own_order_goes_front_to_back(school):
    first, second, *_ = school.ids["students"]
    items = [an_item(school, chunk=6), an_item(school, chunk=2)]
    kinds = {str(first): "absent", str(second): "own order"}
    made = preview(school, *items, exceptions=kinds)
    by_id = {s["student_id"]: s for s in made["students"]}
    usual = preview(school, *items)["students"][0]
    assert [i["chunk"] for i in by_id[str(second)]["items"]] == [
        i["chunk"] for i in reversed(usual["items"])
    ]
    gap = datetime.fromisoformat(by_id[str(first)]["due_on"]) - datetime.fromisoformat(
        usual["due_on"]
    )
    assert gap == timedelta(days=7)


def test_who_is_ahead_gets_only_what_is_open(school):
    assigned(school, an_item(school, chunk=2, start=106))
    student, me = school.students[0], school.ids["students"][0]
    for second in range(3):
        play(student, a_repetition(school.ids["items"][0], tempo=106, second=second * 20))
    items = [an_item(school, chunk=2), an_item(school, chunk=4)]
    made = preview(school, *items, exceptions={str(me): "ahead"})
    mine = next(s for s in made["students"] if s["student_id"] == str(me))
    assert len(mine["items"]) == 1
    done = preview(school, an_item(school, chunk=2), exceptions={str(me): "ahead"})
    mine = next(s for s in done["students"] if s["student_id"] == str(me))
    assert "at tempo already" in mine["why_nothing"]


def test_a_change_keeps_every_repetition(school, new_session):
    assigned(school, an_item(school, chunk=2), an_item(school, chunk=4, drill="backward"))
    student = school.students[0]
    gone, kept = school.ids["items"]
    play(student, a_repetition(gone))
    director = school.director
    changed = ok(
        director.patch(f"/api/assignments/{school.ids['assignment']}", json={"minutes_a_day": 35})
    )
    assert changed[0]["minutes_a_day"] == 35
    ok(director.post(f"/api/assignments/items/{gone}/remove"))
    assert [i["item_id"] for i in ok(student.get("/api/me/today"))] == [kept]
    # A repetition that waited on a device without network is taken all the same.
    play(student, a_repetition(gone, second=40))
    with new_session() as session:
        count = session.scalar(
            select(func.count()).where(Evidence.item_id == gone).select_from(Evidence)
        )
    assert count == 2
    refused = director.post(f"/api/assignments/items/{kept}/remove")
    assert "last drill" in refused.json()["detail"]
    ok(director.post(f"/api/assignments/items/{gone}/restore"))
    assert len(ok(student.get("/api/me/today"))) == 2


def test_one_more_drill_and_a_later_date_reach_everybody(school):
    assigned(school, an_item(school))
    item = {**an_item(school, chunk=6), "role": "upkeep"}
    ok(school.director.post(f"/api/assignments/{school.ids['assignment']}/items", json=item))
    for student in school.students:
        lines = ok(student.get("/api/me/today"))
        assert [line["role"] for line in lines] == ["focus", "upkeep"]
    past = {"due_on": "2020-01-01"}
    answer = school.director.patch(f"/api/assignments/{school.ids['assignment']}", json=past)
    assert "passed already" in answer.json()["detail"]


def test_what_left_the_lists_of_students_is_listed_apart_and_can_be_brought_back(
    school, new_session
):
    assigned(school)
    director, here, today = school.director, school.ids["assignment"], datetime.now(UTC).date()
    listed = "/api/assignments", "/api/assignments/older"

    def ids() -> list[list[str]]:
        return [[one["id"] for one in ok(director.get(path))] for path in listed]

    assert ids() == [[here], []]
    for days, current, older in ((14, [here], []), (15, [], [here])):
        with new_session() as session:
            session.get_one(Assignment, UUID(here)).due_on = today - timedelta(days=days)
            session.commit()
        assert ids() == [current, older]
        assert [i["due_on"] for i in ok(school.students[0].get("/api/me/today"))] == [
            str(today - timedelta(days=days))
        ] * len(current)
    ok(director.patch(f"/api/assignments/{here}", json={"due_on": str(today)}))
    assert ids() == [[here], []]


def test_the_third_day_running_a_drill_rests_while_another_is_open(school, new_session):
    assigned(school, an_item(school, drill="alone"), an_item(school, drill="backward"))
    alone, backward = school.ids["items"]
    student = school.students[0]
    for days in (1, 2):
        played = a_repetition(alone)
        noon = datetime.now(UTC).replace(hour=12, minute=0)
        played["played_at"] = (noon - timedelta(days=days)).isoformat()
        play(student, played)
    lines = {line["item_id"]: line for line in ok(student.get("/api/me/today"))}
    assert lines[alone]["rests"]
    assert lines[alone]["minutes"] == 0
    assert not lines[backward]["rests"]
    assert lines[backward]["minutes"] > 0


# Paper ------------------------------------------------------------------------------------------


def printed(school: School) -> str:
    assigned(school, an_item(school, drill="long-short"), an_item(school, chunk=6))
    job = ok(school.director.post(f"/api/sheets/of/{school.ids['assignment']}"))
    school.work_off()
    job = ok(school.director.get(f"/api/sheets/jobs/{job['id']}"))
    assert job["state"] == "done"
    assert job["id"]
    return job["id"]


def code_of(new_session, school: School, place: int = 0) -> str:
    with new_session() as session:
        return session.scalars(
            select(Sheet.code)
            .join(Assignment, Assignment.id == Sheet.assignment_id)
            .where(
                Assignment.program_id == school.program_id,
                Sheet.student_id == school.ids["students"][place],
            )
        ).one()


def test_every_player_of_a_section_has_a_sheet_with_a_code_of_their_own(school, new_session):
    job = printed(school)
    pdf = school.director.get(f"/api/sheets/jobs/{job}/pdf")
    text = [page.extract_text() for page in PdfReader(BytesIO(pdf.content)).pages]
    codes = {code_of(new_session, school, i) for i in range(len(school.students))}
    assert len(codes) == len(school.students)
    for code in codes:
        assert any(code in page for page in text)
    again = ok(school.director.post(f"/api/sheets/of/{school.ids['assignment']}"))
    school.work_off()
    again = ok(school.director.get(f"/api/sheets/jobs/{again['id']}"))
    assert again["state"] == "done"
    assert {code_of(new_session, school, i) for i in range(len(school.students))} == codes


def test_ticks_become_evidence_once_and_lift_the_level(school, new_session):
    printed(school)
    code = code_of(new_session, school)
    sheet = ok(school.director.get(f"/api/sheets/{code.lower()}"))
    line = sheet["lines"][1]  # the chunk alone
    ticks = [{"item_id": line["item_id"], "tempo_bpm": rung} for rung in line["rungs"]]
    day = str(datetime.now().astimezone().date())
    body = {"played_on": day, "ticks": ticks}
    entered = ok(school.director.post(f"/api/sheets/{code}", json=body))
    assert entered["lines"][1]["ticked"] == line["rungs"]
    ok(school.director.post(f"/api/sheets/{code}", json=body))
    with new_session() as session:
        rows = session.scalars(select(Evidence).where(Evidence.item_id == line["item_id"])).all()
    assert len(rows) == 3 * len(line["rungs"])
    assert {row.source for row in rows} == {"paper"}
    today = {i["item_id"]: i for i in ok(school.students[0].get("/api/me/today"))}
    assert today[line["item_id"]]["is_finished"]
    assert today[line["item_id"]]["level"] == 5


@pytest.mark.parametrize(
    ("change", "words"),
    [
        ({"played_on": "2150-01-01"}, "still to come"),
        ({"played_on": "2001-01-01"}, "four months"),
        ({"ticks": [{"tempo_bpm": 83}]}, "not on the ladder"),
    ],
)
def test_what_cannot_be_on_a_sheet_is_refused(school, new_session, change, words):
    printed(school)
    code = code_of(new_session, school)
    line = ok(school.director.get(f"/api/sheets/{code}"))["lines"][0]
    ticks = change.get("ticks", [{"tempo_bpm": 82}])
    body = {
        "played_on": change.get("played_on", str(datetime.now().astimezone().date())),
        "ticks": [{"item_id": line["item_id"], **tick} for tick in ticks],
    }
    answer = school.director.post(f"/api/sheets/{code}", json=body)
    assert answer.status_code == 422
    assert words in answer.json()["detail"]


def test_a_student_finds_only_the_own_sheet(school, new_session):
    printed(school)
    mine, other = code_of(new_session, school, 0), code_of(new_session, school, 1)
    assert ok(school.students[0].get(f"/api/sheets/{mine}"))["code"] == mine
    assert school.students[0].get(f"/api/sheets/{other}").status_code == 404
    assert "no sheet" in school.director.get("/api/sheets/NOSUCH").json()["detail"]
