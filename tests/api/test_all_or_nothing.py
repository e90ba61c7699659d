"""Acts that change many things: killed anywhere, nothing of them is there; sent again, all of it.

Every statement and every commit of a request is a place where the server may die. Here a sample of
these places is tried for each act (``CRUMB_EVERY_STATEMENT=1``: all of them).
"""

import os
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import httpx
import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.api import deps
from tests.api.bands import a_band
from tests.api.killing import everything, killed
from tests.api.school import (
    School,
    a_plan,
    a_repetition,
    a_school,
    an_assignment,
    an_item,
    assigned,
    ok,
    with_music,
)
from tests.api.test_hearing import judged
from tests.api.test_take_tasks import passage
from tests.api.test_takes import a_tone

PLACES = 10_000 if os.environ.get("CRUMB_EVERY_STATEMENT") else 4
"""Of each act, at most."""
Act = Callable[[], httpx.Response]


def client_of(school: School, student: int | None = None) -> TestClient:
    """The director, or a student; a fault is an answer, as it is over the wire."""
    signed_in = school.director if student is None else school.students[student]
    client = TestClient(school.app, raise_server_exceptions=False)
    client.cookies = signed_in.cookies
    return client


def posts(school: School, path: str, body: dict[str, Any], *, by: int | None = None) -> Act:
    client = client_of(school, by)
    return lambda: client.post(path, json=body)


def holds(school: School, act: Act, *, is_keyed: bool = True) -> Any:
    """Kill an act at many places, then let it be done; what it answers.

    Args:
        school: whose act it is.
        act: sends the request.
        is_keyed: whether the same request is answered the same; else it does nothing more.
    """
    engine = school.new_session.kw["bind"]
    before = everything(engine)
    for _ in range(2):  # what is read once and kept in memory is asked for no more
        with killed(at_commit=True) as switch:
            assert act().status_code == 500
        assert everything(engine) == before, "killed at its commit"
    # From the end: there stand the writes.
    for step in range(switch.steps - 1, 0, -(switch.steps // PLACES + 1)):
        with killed(step):
            answer = act()
        assert answer.status_code == 500, answer.text
        assert everything(engine) == before, f"killed at {step} of {switch.steps}"
    with killed() as switch:
        answer = ok(act())
    assert switch.commits == 1
    after = everything(engine)
    assert after != before
    once_more = act()  # the answer was lost, and it is sent again
    if is_keyed:
        assert ok(once_more) == answer
    assert everything(engine) == after
    return answer


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    made = assigned(with_music(a_school(app, new_session, students=3)))
    ok(made.director.put("/api/takes/rules", json={"is_on": True, "weeks": 6}))
    return made


@pytest.fixture(scope="module")
def band(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return a_band(app, new_session)


def in_a_week() -> str:
    return (datetime.now(UTC).date() + timedelta(days=7)).isoformat()


def keyed(**body: Any) -> dict[str, Any]:
    """A body with an id, as the page makes one."""
    return {"id": str(uuid4()), **body}


def cells(school: School) -> list[dict[str, str]]:
    return [
        {"student_id": student, "chunk_id": school.ids["chunks"][chunk]["id"]}
        for student in school.ids["students"][:2]
        for chunk in (2, 5)
    ]


def test_a_hearing_with_its_take_and_its_cure(school: School):
    chunk = school.ids["chunks"][1]["id"]
    take = {
        "id": str(uuid4()),
        "part_id": school.ids["part"],
        "chunk_id": chunk,
        "recorded_at": datetime.now(UTC).isoformat(),
    }
    files = {"file": ("take.wav", a_tone())}
    ok(school.students[0].post("/api/me/takes", data=take, files=files))
    school.work_off()
    body = judged(school, level=4, cure="rhythm", take_id=take["id"])
    holds(school, posts(school, f"/api/hearing/{school.ids['part']}", body))
    (mine,) = ok(school.students[0].get("/api/me/takes"))["takes"]
    assert mine["is_heard"] is True
    said = ok(school.director.get(f"/api/parts/{school.ids['part']}/ranking?chunk_id={chunk}"))
    assert said["drills"]  # the cure leads the ranking; see test_heard


def test_a_take_with_its_sound(school: School):
    sounds = school.app.dependency_overrides[deps.get_sounds]()
    before = len([one for one in sounds.root.rglob("*") if one.is_file()])
    data = {
        "id": str(uuid4()),
        "part_id": school.ids["part"],
        "chunk_id": school.ids["chunks"][4]["id"],
        "recorded_at": datetime.now(UTC).isoformat(),
    }
    client, sound = client_of(school, 0), a_tone()
    holds(
        school,
        lambda: client.post("/api/me/takes", data=data, files={"file": ("take.wav", sound)}),
    )
    # No file is left of the takes that were not kept.
    assert len([one for one in sounds.root.rglob("*") if one.is_file()]) == before + 1


def test_sending(school: School):
    body = keyed(**an_assignment(school, an_item(school, 2), an_item(school, 6, "backward")))
    sent = holds(school, posts(school, "/api/assignments", body))
    assert len(sent) == 2  # the one that there was, and this one, once


def test_sending_to_chosen_cells(school: School):
    path = f"/api/wall/{school.ids['part']}/cells/send"
    body = keyed(cells=cells(school), drill="alone", due_on=in_a_week(), minutes_a_day=15)
    sent = holds(school, posts(school, path, body))
    assert [one["students"] for one in sent] == [2]


def test_what_was_heard_in_chosen_cells(school: School):
    path = f"/api/wall/{school.ids['part']}/cells/heard"
    holds(school, posts(school, path, keyed(cells=cells(school), words="rhythm")))


def test_one_cure_for_all_who_have_a_fault(school: School):
    for student in (0, 1):
        body = judged(school, student, level=2, cure="rhythm")
        ok(school.director.post(f"/api/hearing/{school.ids['part']}", json=body))
    body = keyed(chunk_id=school.ids["chunks"][1]["id"], symptom="rhythm", due_on=in_a_week())
    holds(school, posts(school, f"/api/hearing/{school.ids['part']}/cure", body))


def test_asking_for_takes(school: School):
    wanted = [[passage(school, 2), passage(school, 4)], [passage(school, None, 5)]]
    body = keyed(section_id=school.ids["section"], due_on=in_a_week(), wanted=wanted)
    holds(school, posts(school, "/api/takes/tasks", body))
    assert len(ok(school.director.get("/api/takes/tasks"))) == 1


def test_a_plan_and_the_first_day_of_it(school: School):
    plan = holds(school, posts(school, "/api/plans", keyed(**a_plan(school))))
    holds(school, posts(school, f"/api/me/plan/{plan['id']}/day", {}, by=0))
    (mine,) = ok(school.students[0].get("/api/me/plan"))
    assert mine["items"]


def test_repetitions_free_practice_slips_and_a_line_of_the_diary(school: School):
    item = school.ids["items"][0]
    slip = a_repetition(item, clean=False, second=20)
    free = {
        "id": str(uuid4()),
        "part_id": school.ids["part"],
        "chunk_id": school.ids["chunks"][2]["id"],
        "tempo_bpm": 70,
        "is_clean": True,
        "played_at": (datetime.now(UTC) - timedelta(minutes=5)).isoformat(),
    }
    body = {
        "repetitions": [a_repetition(item), slip],
        "free": [free],
        "slips": [{"id": str(uuid4()), "repetition_id": slip["id"], "what": "rhythm"}],
    }
    holds(school, posts(school, "/api/me/repetitions", body, by=0), is_keyed=False)


def test_splitting_every_part_and_taking_it_back(band: School):
    path = f"/api/pieces/{band.ids['piece']}/split"
    made = holds(band, posts(band, path, keyed(words="Q", by="measures", measures=4)))
    maps = [{"part_id": one["part_id"], "version": one["version"]} for one in made]
    holds(band, posts(band, f"{path}/back", {"maps": maps}), is_keyed=False)


def test_sending_a_passage_to_all_who_play_there(band: School):
    ok(
        band.director.post(
            f"/api/pieces/{band.ids['piece']}/split", json={"by": "measures", "measures": 4}
        )
    )
    body = keyed(place=2, drill="alone", due_on=in_a_week(), minutes_a_day=15)
    sent = holds(band, posts(band, f"/api/pieces/{band.ids['piece']}/send", body))
    assert {one["section"] for one in sent} == {"Clarinets", "Horns", "Percussion"}


def test_a_rehearsal_that_was_done_and_goes_home(band: School):
    body = {"piece_id": band.ids["piece"], "minutes": 40, "day": in_a_week()}
    made = ok(band.director.post("/api/rehearsals", json=body))
    kept = ok(band.director.get(f"/api/rehearsals/{made['id']}"))
    place = next(i for i, one in enumerate(kept["items"]) if one["kind"] == "work")
    path = f"/api/rehearsals/{made['id']}"
    holds(band, posts(band, f"{path}/end", {"done": {place: 1}}), is_keyed=False)
    holds(band, posts(band, f"{path}/home", keyed()))


def test_an_id_of_another_act_is_refused(school: School):
    body = keyed(**an_assignment(school))
    ok(school.director.post("/api/assignments", json=body))
    plan = {**a_plan(school), "id": body["id"]}
    refused = school.director.post("/api/plans", json=plan)
    assert refused.status_code == 422
    assert "Send it again" in refused.json()["detail"]


def test_an_older_page_sends_without_an_id_and_is_served(school: School):
    assert len(ok(school.director.post("/api/assignments", json=an_assignment(school)))) == 2


def test_what_only_asks_cannot_write(school: School, monkeypatch: pytest.MonkeyPatch):
    """The database itself refuses it: a route that asks and writes is found by any test of it."""
    from crumb.api.routes import planning
    from crumb.services.planning import plans

    def writes(session: Session, *_: object) -> list[object]:
        plans.ask.keep_calendar_key(session, school.program_id, "x")
        return []

    monkeypatch.setattr(planning.plans, "listed", writes)
    assert client_of(school).get("/api/plans").status_code == 500
