"""Every route of the API, walked as nobody, as a student, and as people of another program."""

import re
from datetime import UTC, datetime, timedelta
from io import BytesIO
from typing import Any
from uuid import UUID, uuid4

import pytest
from fastapi import FastAPI
from PIL import Image
from sqlalchemy import select
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.store.tables import Sheet
from tests.api.school import (
    PASSWORD,
    School,
    a_plan,
    a_repetition,
    a_school,
    an_assignment,
    an_item,
    assigned,
    hand_in,
    invited,
    ok,
    play,
    with_music,
)

RULES = {"in_a_row": 3, "steady": 60, "linked": 75, "confirming": ["hearing", "measured"]}
OPEN = {
    "getHealth",
    "getSetup",
    "createFirstDirector",
    "signInDirector",
    "signInStudent",
    "signOut",
    "getInvitation",
    "acceptInvitation",
    "getCalendar",
}
"""What anyone may call; each does nothing for those it does not know."""
ANY_MEMBER = {"getMe", "getTakeRules", "endOtherSessions", "makeCalendar", "endCalendar"}
MARKS = {"listMarks", "addMark", "removeMark", "restoreMark"}
"""For directors and students, each with their own."""
BOTH = {"getReference", "getSheet", "enterTicks", "getTakeSound", "removeTake", "getHelped"}
"""For any member of the program; a sheet only for its own student, or a director."""
STUDENTS = {
    "getToday",
    "getStand",
    "getWays",
    "rateWay",
    "recordRepetitions",
    "getMyMap",
    "getMyScore",
    "getMyPlan",
    "haveMinutes",
    "layOutMyDay",
    "takeInstead",
    "getMyDiary",
    "listMyTakes",
    "listMySectionals",
    "getLeading",
    "showLeader",
    "askTake",
    "handTakeIn",
}
OWN_LISTS = {
    "listPieces",
    "listSections",
    "listAssignments",
    "listOlderAssignments",
    "listDrills",
    "createSection",
    "startImport",
    "addOnPaper",
    "bringPagesIn",
    "listPageSets",
    "listInstruments",
    "listRecipes",
    "saveRecipe",
    "readRecipe",
    "listDeletedPieces",
    "listTags",
    "searchTag",
    "changePassword",
    "changeProgram",
    "invite",
    "listHelping",
    "listPlans",
    "getRules",
    "previewRules",
    "changeRules",
    "getOutlook",
    "listCures",
    "listNews",
    "listRehearsals",
    "getDesk",
    "getWeek",
    "getWallOpening",
    "putOff",
    "changeTakeRules",
    "listTakeTasks",
}
"""Routes that name nothing: a director of another program sees or makes only what is their own."""


@pytest.fixture(scope="module")
def schools(app: FastAPI, new_session: sessionmaker[Session]) -> tuple[School, School]:
    home = assigned(with_music(a_school(app, new_session)))
    repetition = a_repetition(home.ids["items"][0])
    play(home.students[0], repetition)
    home.ids["repetition"] = repetition["id"]
    home.ids["kin"] = ok(home.director.get(f"/api/parts/{home.ids['part']}/kin"))[0]["id"]
    mark = {"kind": "warning", "at": {"index": 1, "at": "0"}}
    home.ids["mark"] = ok(home.director.post(f"/api/parts/{home.ids['part']}/marks", json=mark))[
        "id"
    ]
    recipe = {"name": "Home", "items": [{"stage": "prove", "drill": "alone"}]}
    saved = ok(home.director.post("/api/recipes", json=recipe))
    home.ids["recipe"] = next(r["id"] for r in saved if r["name"] == "Home")
    home.ids["job"] = ok(home.director.post(f"/api/sheets/of/{home.ids['assignment']}"))["id"]
    home.work_off()
    home.ids["token"] = ok(home.director.post("/api/invitations"))["token"]
    home.ids["invitation"] = ok(home.director.get("/api/helping"))["invitations"][0]["id"]
    home.ids["code"] = a_code(new_session, home)
    home.ids["plan"] = ok(home.director.post("/api/plans", json=a_plan(home)))["id"]
    said = body_for("sayHeard", home)
    home.ids["heard"] = ok(home.director.post(f"/api/wall/{home.ids['part']}/heard", **said))["id"]
    wish = body_for("keepRehearsal", home)
    judged = body_for("judge", home)
    home.ids["hearing"] = ok(home.director.post(f"/api/hearing/{home.ids['part']}", **judged))["id"]
    home.ids["rehearsal"] = ok(home.director.post("/api/rehearsals", **wish))["id"]
    home.ids["take"] = str(uuid4())
    ok(home.director.put("/api/takes/rules", json={"is_on": True, "weeks": 6}))
    handed = body_for("handTakeIn", home)
    handed["data"]["id"] = home.ids["take"]
    ok(home.students[1].post("/api/me/takes", **handed))
    task = body_for("askForTakes", home)
    home.ids["set"] = str(uuid4())
    pages = body_for("bringPagesIn", home)
    pages["data"]["id"] = home.ids["set"]
    ok(home.director.post("/api/page-sets", **pages))
    home.work_off()
    home.ids["page"] = ok(home.director.get(f"/api/page-sets/{home.ids['set']}"))["pages"][0]["id"]
    home.ids["task"] = ok(home.director.post("/api/takes/tasks", **task))["id"]
    away = assigned(with_music(a_school(app, new_session)))
    ok(away.director.put("/api/takes/rules", json={"is_on": True, "weeks": 6}))
    return home, away


def a_code(new_session: sessionmaker[Session], school: School) -> str:
    with new_session() as session:
        return session.scalars(
            select(Sheet.code).where(
                Sheet.assignment_id == UUID(school.ids["assignment"]),
                Sheet.student_id == UUID(str(school.ids["students"][1])),
            )
        ).one()


def operations(app: FastAPI) -> list[tuple[str, str, str]]:
    found = []
    for path, methods in app.openapi()["paths"].items():
        for method, operation in methods.items():
            found.append((operation["operationId"], method.upper(), path))
    return sorted(found)


def filled(path: str, school: School) -> str:
    ids = {
        "part_id": school.ids["part"],
        "section_id": school.ids["section"],
        "student_id": school.ids["students"][0],
        "chunk_id": school.ids["chunks"][0]["id"],
        "assignment_id": school.ids["assignment"],
        "item_id": school.ids["items"][0],
        "piece_id": school.ids["piece"],
        "import_id": school.ids["import"],
        "kin_id": school.ids["kin"],
        "mark_id": school.ids["mark"],
        "recipe_id": school.ids["recipe"],
        "job_id": school.ids["job"],
        "plan_id": school.ids["plan"],
        "heard_id": school.ids["heard"],
        "rehearsal_id": school.ids["rehearsal"],
        "hearing_id": school.ids["hearing"],
        "take_id": school.ids["take"],
        "task_id": school.ids["task"],
        "person_id": uuid4(),
        "tag": "vibrato",
        "key": "nobody",
        "code": school.ids["code"],
        "token": school.ids["token"],
        "invitation_id": school.ids["invitation"],
        "set_id": school.ids["set"],
        "page_id": school.ids["page"],
    }
    return re.sub(r"\{(\w+)\}", lambda match: str(ids[match[1]]), path)


def a_white_page() -> bytes:
    data = BytesIO()
    Image.new("L", (400, 500), 255).save(data, "PNG")
    return data.getvalue()


def soon() -> str:
    return (datetime.now(UTC).date() + timedelta(days=5)).isoformat()


def some_cells(school: School) -> dict[str, Any]:
    student, chunk = school.ids["students"][0], school.ids["chunks"][0]["id"]
    return {"cells": [{"student_id": str(student), "chunk_id": chunk}]}


def body_for(operation: str, school: School) -> dict[str, Any]:
    bodies: dict[str, dict[str, Any]] = {
        "createSection": {"json": {"name": f"Section {uuid4().hex[:6]}"}},
        "addStudents": {"json": {"names": ["A new name"]}},
        "startImport": {"files": {"file": ("x.musicxml", b"nothing")}},
        "bringPagesIn": {
            "files": {"files": ("x.png", a_white_page())},
            "data": {"id": str(uuid4())},
        },
        "arrangePages": {"json": {"pages": [{"id": school.ids.get("page", str(uuid4()))}]}},
        "makePieceOfPages": {"json": {"title": "Of pages"}},
        "mendPage": {"json": {"op": "undo"}},
        "putParts": {"json": {"parts": [{"part_id": school.ids["part"], "played_on": "Oboe"}]}},
        "findPlace": {"params": {"say": "3"}},
        "judgeKin": {"json": {"verdict": "confirmed"}},
        "chunkOfDifference": {"json": {"version": 1}},
        "addMark": {"json": {"kind": "warning", "at": {"index": 1, "at": "0"}}},
        "showLeader": {"json": {"shows": True}},
        "setLeader": {"json": {"is_leader": True}},
        "keepPassage": {"json": {}},
        "makeOctave": {"json": {"way": "up"}},
        "setRange": {"json": {"festival_bpm": 130}},
        "sayHeard": {
            "json": {
                "chunk_id": school.ids["chunks"][0]["id"],
                "student_id": str(school.ids["students"][0]),
                "words": "pulse",
            }
        },
        "setGoal": {"json": {"goal_bpm": 110}},
        "setPieceGoal": {"json": {"goal_bpm": 110}},
        "setObjectives": {"json": {"objectives": ["Even notes"]}},
        "setPageMap": {"json": {"lines": "5"}},
        "claimKin": {"json": {"text": "2 is 1"}},
        "rateWay": {"json": {"id": str(uuid4()), "way": 0, "intonation": 4, "tone": 3}},
        "sayTag": {"json": {"on": True}},
        "editChunks": {"json": {"op": "merge", "version": 1, "place": 0}},
        "workOutDrill": {"json": an_item(school)},
        "previewAssignment": {"json": an_assignment(school)},
        "sendAssignment": {"json": an_assignment(school)},
        "rankDrills": {"params": {"chunk_id": school.ids["chunks"][0]["id"]}},
        "exportDrill": {"params": {"chunk_id": school.ids["chunks"][0]["id"]}},
        "fitRecipe": {
            "json": {
                "chunk_id": school.ids["chunks"][0]["id"],
                "items": [{"stage": "prove", "drill": "alone"}],
            }
        },
        "saveRecipe": {
            "json": {"name": "R", "items": [{"stage": "prove", "drill": "alone"}]},
        },
        "readRecipe": {
            "json": {
                "format": "crumb-recipe",
                "version": 1,
                "name": "R",
                "items": [{"stage": "prove", "drill": "alone"}],
            },
        },
        "changePassword": {"json": {"old": PASSWORD, "new": PASSWORD}},
        "changeProgram": {"json": {"time_zone": "Europe/Lisbon"}},
        "previewRules": {"json": RULES},
        "changeRules": {"json": RULES},
        "previewPlan": {"json": a_plan(school)},
        "sendPlan": {"json": a_plan(school)},
        "changePlan": {"json": a_plan(school)},
        "haveMinutes": {"json": {"minutes": 10}},
        "takeInstead": {"json": {"drill": "stops"}},
        "takeSplitBack": {"json": {"maps": []}},
        "splitTogether": {"json": {"by": "phrases"}},
        "sendPassage": {
            "json": {
                "place": 0,
                "drill": "alone",
                "due_on": soon(),
                "minutes_a_day": 10,
            }
        },
        "previewRehearsal": {"json": {"piece_id": school.ids["piece"], "minutes": 20}},
        "keepRehearsal": {
            "json": {
                "piece_id": school.ids["piece"],
                "minutes": 20,
                "day": datetime.now(UTC).date().isoformat(),
            }
        },
        "endRehearsal": {"json": {"done": {}}},
        "judge": {
            "json": {
                "id": str(uuid4()),
                "student_id": str(school.ids["students"][0]),
                "chunk_id": school.ids["chunks"][0]["id"],
                "level": 3,
                "missing": [],
            }
        },
        "cureAll": {
            "json": {
                "chunk_id": school.ids["chunks"][0]["id"],
                "symptom": "pulse",
                "due_on": soon(),
            }
        },
        "sendCells": {"json": {**some_cells(school), "drill": "alone", "due_on": soon()}},
        "sayCells": {"json": {**some_cells(school), "words": "pulse"}},
        "changeHelping": {"json": {"section_ids": [school.ids["section"]]}},
        "changeTakeRules": {"json": {"is_on": True, "weeks": 6}},
        "askForTakes": {
            "json": {
                "section_id": school.ids["section"],
                "due_on": soon(),
                "wanted": [[{"part_id": school.ids["part"]}]],
            }
        },
        "sayStyle": {"json": {"text": "Short first note"}},
        "alignTake": {"json": {"anchors": []}},
        "handTakeIn": {
            "files": {"file": ("take.wav", b"nothing")},
            "data": {
                "id": str(uuid4()),
                "part_id": school.ids["part"],
                "chunk_id": school.ids["chunks"][0]["id"],
                "recorded_at": datetime.now(UTC).isoformat(),
            },
        },
        "putOff": {"json": {"line": "x", "until": datetime.now(UTC).date().isoformat()}},
        "changeAssignment": {"json": {"minutes_a_day": 15}},
        "addAssignedDrill": {"json": an_item(school)},
        "enterTicks": {
            "json": {
                "played_on": "2026-01-01",
                "ticks": [{"item_id": school.ids["items"][0], "tempo_bpm": 82}],
            }
        },
        "recordRepetitions": {"json": {"repetitions": [a_repetition(school.ids["items"][0])]}},
    }
    return bodies.get(operation, {})


def call(client: TestClient, school: School, operation: str, method: str, path: str) -> int:
    return client.request(method, filled(path, school), **body_for(operation, school)).status_code


ASSISTANTS = {
    "listPieces",
    "getPart",
    "getEngraving",
    "getChunks",
    "listDrills",
    "workOutDrill",
    "getScore",
    "previewRehearsal",
    "listRehearsals",
    "getRehearsal",
    "getDesk",
    "putOff",
    "getJudgesSheet",
    "judge",
    "takeHearingBack",
    "listFaults",
    "listSections",
    "changePassword",
    "alignTake",
    "listCures",
    "listNews",
    "getDiary",
    "sayHeard",
    "endHeard",
    "getWall",
    "getEvidence",
    "getWallOpening",
    "getWeek",
    "getPieceWall",
    "getStudentWall",
    "sayCells",
    "getTrouble",
    "listTakeTasks",
    "getPieceSlips",
}
"""What an assistant may call, each for their own sections."""
OF_SOMEBODY = {
    "getJudgesSheet",
    "judge",
    "takeHearingBack",
    "alignTake",
    "getDiary",
    "sayHeard",
    "endHeard",
    "getWall",
    "getEvidence",
    "getStudentWall",
    "sayCells",
    "getRehearsal",
    "getTakeSound",
    "removeTake",
}
"""Those that name a student, a section, or the whole room."""


def test_an_assistant_does_what_the_table_of_rights_says(
    app: FastAPI, schools: tuple[School, School]
):
    home, _ = schools
    client = invited(home, role="assistant", section_ids=[home.ids["section"]])[0]
    everybody = OPEN | ANY_MEMBER | MARKS | BOTH
    for operation, method, path in operations(app):
        if operation in everybody:
            continue
        status = call(client, home, operation, method, path)
        assert (status == 403) == (operation not in ASSISTANTS), (operation, status)


def test_an_assistant_of_another_section_finds_nobody_of_this_one(
    app: FastAPI, schools: tuple[School, School]
):
    home, _ = schools
    other = ok(home.director.post("/api/sections", json={"name": f"Other {uuid4().hex[:6]}"}))
    client = invited(home, role="assistant", section_ids=[other["id"]])[0]
    for operation, method, path in operations(app):
        if operation in OF_SOMEBODY:
            assert call(client, home, operation, method, path) == 404, operation
    assert [one["id"] for one in ok(client.get("/api/sections"))] == [other["id"]]
    assert ok(client.get("/api/wall/week"))["rows"] == []
    assert ok(client.get("/api/wall/news")) == []
    assert ok(client.get("/api/desk"))["lines"] == []
    assert ok(client.get("/api/rehearsals")) == []
    assert ok(client.get("/api/takes/tasks")) == []
    slips = ok(client.get(f"/api/pieces/{home.ids['piece']}/slips"))
    assert [one["parts"] for one in slips] == [[]] * len(slips)
    assert ok(client.get(f"/api/wall/pieces/{home.ids['piece']}"))["desks"] == []
    assert ok(client.get(f"/api/hearing/{home.ids['part']}/faults")) == []


def test_a_helper_types_in_sheets_of_one_student_and_sees_nothing_else(
    app: FastAPI, schools: tuple[School, School]
):
    home, _ = schools
    whose = str(home.ids["students"][1])
    client = invited(home, role="helper", student_id=whose)[0]
    seen = ok(client.get("/api/helped"))
    assert [sheet["code"] for sheet in seen["sheets"]] == [home.ids["code"]]
    assert client.get(f"/api/sheets/{home.ids['code']}").status_code == 200
    another = invited(home, role="helper", student_id=str(home.ids["students"][0]))[0]
    assert another.get(f"/api/sheets/{home.ids['code']}").status_code == 404
    for operation, method, path in operations(app):
        if operation in OPEN | ANY_MEMBER | MARKS | BOTH | {"changePassword"}:
            continue
        assert call(client, home, operation, method, path) == 403, operation


def test_nobody_gets_in_anywhere(app: FastAPI, schools: tuple[School, School]):
    home, _ = schools
    for operation, method, path in operations(app):
        if operation in OPEN:
            continue
        assert call(TestClient(app), home, operation, method, path) == 401, operation


def test_a_student_calls_only_what_is_for_students(app: FastAPI, schools: tuple[School, School]):
    home, _ = schools
    for operation, method, path in operations(app):
        if operation in OPEN | ANY_MEMBER | STUDENTS | MARKS | {"getReference"}:
            continue
        # The sheet belongs to another student: for this one it is not there.
        expected = 404 if operation in BOTH else 403
        assert call(home.students[0], home, operation, method, path) == expected, operation


def test_a_director_does_not_act_as_a_student(app: FastAPI, schools: tuple[School, School]):
    home, _ = schools
    for operation, method, path in operations(app):
        if operation in STUDENTS:
            assert call(home.director, home, operation, method, path) == 403, operation


def test_people_of_another_program_find_nothing(app: FastAPI, schools: tuple[School, School]):
    home, away = schools
    for operation, method, path in operations(app):
        if operation in OPEN | ANY_MEMBER | OWN_LISTS | {
            "getToday",
            "getMyMap",
            "getMyPlan",
            "getMyDiary",
            "listMyTakes",
            "listMySectionals",
            "getLeading",
        }:
            continue
        client = away.students[0] if operation in STUDENTS else away.director
        assert call(client, home, operation, method, path) == 404, operation


def test_students_of_another_program_find_no_marks(app: FastAPI, schools: tuple[School, School]):
    home, away = schools
    for operation, method, path in operations(app):
        if operation in MARKS:
            assert call(away.students[0], home, operation, method, path) == 404, operation


def test_a_classmate_cannot_touch_anothers_work(app: FastAPI, schools: tuple[School, School]):
    home, _ = schools
    body = {"taken_back": [home.ids["repetition"]]}
    answer = home.students[1].post("/api/me/repetitions", json=body)
    assert answer.status_code == 422
    assert hand_in(home.students[0], taken_back=[]) == {"items": [], "levels": [], "doubted": []}


def test_lists_hold_only_what_is_of_ones_own_program(schools: tuple[School, School]):
    home, away = schools
    for path, key in (
        ("/api/pieces", "piece"),
        ("/api/sections", "section"),
        ("/api/assignments", "assignment"),
    ):
        shown = {row["id"] for row in away.director.get(path).json()}
        assert home.ids[key] not in shown
        assert away.ids[key] in shown


def test_a_made_up_session_is_nobody(app: FastAPI):
    client = TestClient(app, cookies={"crumb_session": "made-up"})
    assert client.get("/api/session").status_code == 401


def test_every_refusal_is_a_problem_in_plain_words(app: FastAPI, schools: tuple[School, School]):
    home, away = schools
    for response in (
        TestClient(app).get("/api/pieces"),
        home.students[0].get("/api/pieces"),
        away.director.get(f"/api/parts/{home.ids['part']}"),
        home.director.post("/api/sections", json={}),
        home.director.get("/api/nowhere"),
    ):
        assert response.headers["content-type"] == "application/problem+json"
        problem = response.json()
        assert problem["status"] == response.status_code
        assert {"type", "title", "detail"} <= problem.keys()
