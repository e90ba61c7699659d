"""The score as a whole: split once, seen as a whole, rehearsed, sent home; and the Desk."""

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy import select, text, update
from sqlalchemy.orm import Session, sessionmaker
from starlette.testclient import TestClient

from crumb.core.instruments.table import instrument_named
from crumb.demo.march import march
from crumb.store.codecs.mastery import LEVEL_RULES
from crumb.store.tables import AssignmentStudent, Evidence, Mastery
from tests.api.bands import PARTS, a_band
from tests.api.school import (
    School,
    a_repetition,
    a_school,
    assigned,
    ok,
    play,
    with_music,
)


@pytest.fixture(scope="module")
def band(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return a_band(app, new_session)


def score(band: School) -> Any:
    return ok(band.director.get(f"/api/pieces/{band.ids['piece']}/score"))


def split(band: School, **body: object) -> Any:
    return ok(band.director.post(f"/api/pieces/{band.ids['piece']}/split", json=body))


def chunks(band: School, part: str) -> list[dict[str, Any]]:
    part_id = band.ids["parts"][part]["id"]
    return ok(band.director.get(f"/api/parts/{part_id}/chunks"))["chunks"]


def preview(band: School, **body: object) -> Any:
    wish = {"piece_id": band.ids["piece"], "minutes": 30, **body}
    return ok(band.director.post("/api/rehearsals/preview", json=wish))


def test_a_passage_is_split_in_every_part_and_all_of_it_taken_back(band: School):
    before = {name: chunks(band, name) for name in PARTS}
    made = split(band, words="Q", by="measures", measures=4)
    assert {one["part"] for one in made} == set(PARTS)
    for name in PARTS:
        labels = [chunk["label"].replace("→", "") for chunk in chunks(band, name)]
        assert {"17–20", "21–24", "25–28", "29–32"} <= set(labels)
    maps = [{"part_id": one["part_id"], "version": one["version"]} for one in made]
    path = f"/api/pieces/{band.ids['piece']}/split/back"
    assert ok(band.director.post(path, json={"maps": maps})) == {"kept": []}
    assert {name: chunks(band, name) for name in PARTS} == before


def test_a_part_that_was_edited_since_is_named_and_stays(band: School):
    made = split(band, words="Q", by="measures", measures=4)
    horn = band.ids["parts"]["Horn in F"]["id"]
    version = next(one["version"] for one in made if one["part_id"] == horn)
    edit = {"op": "merge", "version": version, "place": 1}
    ok(band.director.post(f"/api/parts/{horn}/chunks", json=edit))
    maps = [{"part_id": one["part_id"], "version": one["version"]} for one in made]
    path = f"/api/pieces/{band.ids['piece']}/split/back"
    assert ok(band.director.post(path, json={"maps": maps})) == {"kept": ["Horn in F"]}


def test_a_part_that_rests_there_gets_no_chunks(band: School):
    made = split(band, words="R", by="measures", measures=4)
    snare = next(one for one in made if one["part"] == "Snare drum")
    assert snare["version"] is None


def test_a_place_that_is_not_there_is_told_in_words(band: School):
    path = f"/api/pieces/{band.ids['piece']}/split"
    answer = band.director.post(path, json={"words": "Z", "by": "load"})
    assert answer.status_code == 422
    assert "Z" in answer.json()["detail"]


def test_the_score_says_who_plays_where_and_for_how_many_it_is_open(band: School):
    split(band, by="measures", measures=4)
    found = score(band)
    assert [p["name"] for p in found["passages"]] == [
        "pickup to 1–8",
        "P 9–16",
        "Q 17–32",
        "R 33–48",
        "S 49–64",
        "T 65–80",
        "U 81–92",
    ]
    names = [found["desks"][s["desk"]]["section"] for s in found["passages"][2]["sections"]]
    assert names == ["Clarinets", "Horns", "Percussion"]
    trio = [found["desks"][s["desk"]]["section"] for s in found["passages"][3]["sections"]]
    assert trio == ["Clarinets", "Horns"]
    assert (found["passages"][2]["open"], found["passages"][2]["of"]) == (6, 6)
    assert found["passages"][2]["sections"][0]["standing"] == "0 of 3 at 5 or more; 3 at 0"
    assert found["is_split"]
    assert found["bottleneck"] is None


def raise_levels(band: School, section: str, passage: int, level: int) -> None:
    """As if a section had worked on a passage: a test of what follows, not of the levels."""
    found = score(band)["passages"][passage]
    actor = band.ids["students"] if section == "Clarinet 1" else band.ids["Horns"]["students"]
    with band.new_session() as session:
        for chunk in chunks(band, section):
            if found["first"] <= chunk["start"]["index"] < found["last"]:
                for student in actor:
                    row = {
                        "student_id": student,
                        "chunk_id": chunk["id"],
                        "level": level,
                        "why": "",
                        "clean": 0,
                        "slips": 0,
                        "seam_in": True,
                        "seam_out": True,
                        "secure_bpm": 90.0,
                        "is_enough": True,
                        "rules": LEVEL_RULES,
                    }
                    session.merge(Mastery(**row))
        session.commit()


def test_a_rehearsal_takes_what_most_need_and_never_more_than_there_is(band: School):
    split(band, by="measures", measures=4)
    raise_levels(band, "Clarinet 1", 2, 5)
    raise_levels(band, "Horn in F", 2, 5)
    plan = preview(band)
    assert sum(item["minutes"] for item in plan["items"]) <= 30
    work = [item for item in plan["items"] if item["kind"] == "work"]
    assert work
    assert all(item["name"] != "Q 17–32" for item in work[:1])
    assert plan["items"][0]["kind"] == "warm-up"
    written = {one["section"]: one["key"] for one in plan["items"][0]["written"]}
    assert written["Clarinets"] != written["Horns"]  # one sounding key has many names


def test_a_sectional_is_of_its_section_alone(band: School):
    plan = preview(band, section_id=band.ids["Horns"]["id"])
    assert {name for item in plan["items"] for name in item["sections"]} == {"Horns"}
    assert all(not item["meanwhile"] for item in plan["items"] if item["kind"] == "work")


def test_who_is_absent_is_left_out_of_the_reckoning(band: School):
    all_there = preview(band)["items"]
    some = preview(band, absent=[*band.ids["students"], *band.ids["Horns"]["students"]])["items"]
    assert {n for i in all_there if i["kind"] == "work" for n in i["sections"]} > {
        n for i in some if i["kind"] == "work" for n in i["sections"]
    }


def today() -> str:
    return datetime.now(UTC).date().isoformat()


def kept(band: School, minutes: int = 40) -> dict[str, Any]:
    body = {"piece_id": band.ids["piece"], "minutes": minutes, "day": today()}
    made = ok(band.director.post("/api/rehearsals", json=body))
    return ok(band.director.get(f"/api/rehearsals/{made['id']}"))


def test_what_was_rehearsed_is_evidence_and_no_proof(
    band: School, new_session: sessionmaker[Session]
):
    split(band, by="measures", measures=4)
    rehearsal = kept(band)
    place, item = next((i, x) for i, x in enumerate(rehearsal["items"]) if x["kind"] == "work")
    before = score(band)["passages"]
    absent = [band.ids["students"][0]]
    body = {"done": {place: item["drill"]["times"] - 1}, "absent": absent}
    ended = ok(band.director.post(f"/api/rehearsals/{rehearsal['id']}/end", json=body))
    with new_session() as session:
        rows = session.scalars(
            select(Evidence).where(
                Evidence.source == "rehearsed", Evidence.program_id == band.program_id
            )
        ).all()
    there = {str(row.student_id) for row in rows}
    assert there
    assert absent[0] not in there
    assert {row.kind for row in rows} == {"learn"}
    assert score(band)["passages"] == before  # nobody rose by being in the room
    assert {line["left"] for line in ended["home"]} == {1}
    assert {line["section"] for line in ended["home"]} == set(item["sections"])
    again = band.director.post(f"/api/rehearsals/{rehearsal['id']}/end", json=body)
    assert again.status_code == 422
    with pytest.raises(Exception, match="append-only"), new_session() as session:
        session.execute(update(Evidence).where(Evidence.id == rows[0].id).values(is_clean=False))


def test_what_is_left_open_goes_home_in_each_players_own_notation(
    band: School, new_session: sessionmaker[Session]
):
    rehearsal = kept(band)
    place, item = next((i, x) for i, x in enumerate(rehearsal["items"]) if x["kind"] == "work")
    path = f"/api/rehearsals/{rehearsal['id']}"
    assert band.director.post(f"{path}/home").status_code == 422  # nothing was begun yet
    ok(band.director.post(f"{path}/end", json={"done": {place: 1}}))
    sent = ok(band.director.post(f"{path}/home"))
    assert band.director.post(f"{path}/home").status_code == 422  # once is enough
    good = [one for one in sent if not one["why_not"]]
    assert good
    assert {one["section"] for one in sent} == set(item["sections"])
    with new_session() as session:
        got = set(map(str, session.scalars(select(AssignmentStudent.student_id).distinct())))
    assert any(student in got for student in band.ids["students"] + band.ids["Horns"]["students"])


def test_one_drill_goes_to_all_who_play_a_passage(band: School):
    due = (datetime.now(UTC).date() + timedelta(days=9)).isoformat()
    body = {"place": 2, "drill": "alone", "due_on": due, "minutes_a_day": 15}
    sent = ok(band.director.post(f"/api/pieces/{band.ids['piece']}/send", json=body))
    assert {one["section"]: one["students"] for one in sent if not one["why_not"]} == {
        "Clarinets": 3,
        "Horns": 2,
        "Percussion": 1,
    }
    none = {**body, "place": 99}
    assert band.director.post(f"/api/pieces/{band.ids['piece']}/send", json=none).status_code == 422


# The Desk -----------------------------------------------------------------------------------------


@pytest.fixture
def worked(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    school = assigned(with_music(a_school(app, new_session)))
    age(school, 0)
    return school


def desk(school: School) -> Any:
    return ok(school.director.get("/api/desk"))


def age(school: School, days: int) -> None:
    """What was sent, was sent so long ago."""
    with school.new_session() as session:
        session.execute(
            text(
                "update assignment set sent_at = now() - make_interval(days => :days)"
                " where program_id = :program"
            ),
            {"days": days, "program": school.program_id},
        )
        session.commit()


def test_a_desk_where_nothing_is_needed_is_quiet(worked: School):
    assert desk(worked)["lines"] == []


def test_who_has_not_practised_for_five_days_is_there_until_put_off(worked: School):
    age(worked, 6)
    play(worked.students[0], a_repetition(worked.ids["items"][0]))
    (line,) = desk(worked)["lines"]
    assert line["kind"] == "idle"
    assert line["students"] == ["Player 1"]
    assert "6 days" in line["say"]
    until = (datetime.now(UTC).date() + timedelta(days=2)).isoformat()
    body = {"line": line["key"], "until": until}
    ok(worked.director.put("/api/desk/later", json=body))
    assert desk(worked)["lines"] == []
    assert desk(worked)["put_off"] == 1
    ok(worked.director.put("/api/desk/later", json={**body, "until": today()}))
    assert len(desk(worked)["lines"]) == 1
    far = (datetime.now(UTC).date() + timedelta(days=90)).isoformat()
    answer = worked.director.put("/api/desk/later", json={**body, "until": far})
    assert answer.status_code == 422


def test_that_it_hurts_comes_first(worked: School):
    age(worked, 9)
    line = {
        "id": "0192f0c4-0000-7000-8000-00000000abcd",
        "kind": "feeling",
        "at": datetime.now(UTC).isoformat(),
        "what": "hurts",
    }
    ok(worked.students[0].post("/api/me/repetitions", json={"lines": [line]}))
    kinds = [one["kind"] for one in desk(worked)["lines"]]
    assert kinds[0] == "hurts"
    assert "clinician" in desk(worked)["lines"][0]["why"]


def test_a_student_sees_neither_desk_nor_rehearsals(worked: School):
    for path in ("/api/desk", "/api/rehearsals", f"/api/pieces/{worked.ids['piece']}/score"):
        assert worked.students[0].get(path).status_code == 403
    assert TestClient(worked.app).get("/api/desk").status_code == 401


@pytest.mark.full
def test_who_plays_another_part_of_a_divided_section_is_named_before_it_is_sent(band: School):
    chunks = split(band, by="phrases")
    assert chunks
    section = band.ids["Percussion"]["id"]

    def wish(name: str) -> dict[str, Any]:
        part = band.ids["parts"][name]["id"]
        chunk = ok(band.director.get(f"/api/parts/{part}/chunks"))["chunks"][0]["id"]
        return {
            "part_id": part,
            "section_ids": [section],
            "due_on": (datetime.now(UTC).date() + timedelta(days=5)).isoformat(),
            "minutes_a_day": 10,
            "items": [{"chunk_id": chunk, "drill": "alone", "ladder": {"goal_bpm": 100}}],
        }

    def plays(name: str) -> list[str]:
        made = ok(band.director.post("/api/assignments/preview", json=wish(name)))
        return [row["plays"] for row in made["students"]]

    assert plays("Snare drum") == [""]
    ok(band.director.post("/api/assignments", json=wish("Snare drum")))
    assert plays("Snare drum") == [""]
    seats = [
        {"part_id": part["id"], "played_on": part["played_on"], "section_ids": [section]}
        for name, part in band.ids["parts"].items()
        if name in ("Snare drum", "Horn in F")
    ]
    ok(band.director.put(f"/api/pieces/{band.ids['piece']}/parts", json={"parts": seats}))
    assert plays("Horn in F") == ["Snare drum"]


def test_a_leader_reads_the_sectionals_of_their_section_and_nothing_of_how_others_stand(
    band: School,
):
    today = datetime.now(UTC).date().isoformat()
    wish = {"piece_id": band.ids["piece"], "minutes": 15, "section_id": band.ids["section"]}
    ok(band.director.post("/api/rehearsals", json={**wish, "day": today}))
    leader, other = band.students[0], band.students[1]
    path = f"/api/sections/{band.ids['section']}/students/{band.ids['students'][0]}/leader"
    assert ok(leader.get("/api/me/sectionals")) == []
    ok(band.director.put(path, json={"is_leader": True}))
    (led,) = ok(leader.get("/api/me/sectionals"))
    assert (led["section"], led["minutes"]) == ("Clarinets", 15)
    assert sum(item["minutes"] for item in led["items"]) == 15
    assert {item["why"] for item in led["items"]} == {""}
    assert ok(other.get("/api/me/sectionals")) == []


def test_strokes_have_a_clef_of_their_own_and_no_pitch_to_speak_of(band: School):
    parts = band.ids["parts"]
    assert {name: parts[name]["has_pitch"] for name in PARTS} == {
        "Clarinet 1": True,
        "Horn in F": True,
        "Snare drum": False,
    }
    score = {part.name: part for part in march().parts}
    for part in score.values():
        struck = any(n.is_attack and n.pitch is None for _, n in part.each_note())
        assert (part.measures[0].clefs[0].sign == "percussion") == struck
    assert instrument_named("Timpani").has_pitch
