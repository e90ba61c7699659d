"""Takes: off until the school says so, for the student and who judges alone, gone when over."""

import io
import math
import struct
import wave
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import httpx
import pytest
from fastapi import FastAPI
from sqlalchemy import text
from sqlalchemy.orm import Session, sessionmaker

from crumb.api import deps
from crumb.jobs.erasing import erase_pieces, erase_takes
from crumb.services.takes import takes
from crumb.store.tables import Take
from tests.api.school import School, a_school, assigned, ok, with_music


def a_tone(seconds: float = 4, pitch: float = 440) -> bytes:
    """A WAV of one tone."""
    out = io.BytesIO()
    with wave.open(out, "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(16_000)
        count = int(seconds * 16_000)
        tone = (int(9000 * math.sin(2 * math.pi * pitch * i / 16_000)) for i in range(count))
        file.writeframes(b"".join(struct.pack("<h", value) for value in tone))
    return out.getvalue()


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    made = assigned(with_music(a_school(app, new_session)))
    ok(made.director.put("/api/takes/rules", json={"is_on": True, "weeks": 6}))
    return made


def hand_in(school: School, student: int = 0, **said: Any) -> httpx.Response:
    data = {
        "id": str(uuid4()),
        "part_id": school.ids["part"],
        "chunk_id": school.ids["chunks"][4]["id"],
        "recorded_at": datetime.now(UTC).isoformat(),
    }
    sound = said.pop("sound", None) or a_tone()
    files = {"file": ("take.wav", sound)}
    return school.students[student].post("/api/me/takes", data={**data, **said}, files=files)


def a_take(school: School, student: int = 0, **said: Any) -> Any:
    made = ok(hand_in(school, student, **said))
    school.work_off()
    return made


def sound_files(school: School) -> int:
    sounds = school.app.dependency_overrides[deps.get_sounds]()
    return sum(path.is_file() for path in sounds.root.rglob("*"))


def mine(school: School, student: int = 0) -> list[Any]:
    return ok(school.students[student].get("/api/me/takes"))["takes"]


def queue(school: School, chunk: int = 4) -> dict[str, Any]:
    here = f"{school.ids['part']}/{school.ids['section']}/{school.ids['chunks'][chunk]['id']}"
    sheet = ok(school.director.get(f"/api/hearing/{here}"))
    return {one["student_id"]: one["takes"] for one in sheet["waiting"]}


def test_a_school_has_no_takes_until_it_says_so(app: FastAPI, new_session: sessionmaker[Session]):
    school = assigned(with_music(a_school(app, new_session)))
    assert ok(school.students[0].get("/api/takes/rules")) == {"is_on": False, "weeks": 6}
    before = sound_files(school)
    assert hand_in(school).status_code == 403
    assert (mine(school), sound_files(school)) == ([], before)


def test_a_take_is_heard_by_its_student_and_whoever_judges(school: School):
    made = a_take(school)
    (seen,) = mine(school)
    assert (seen["id"], seen["state"]) == (made["id"], "ready")
    assert seen["seconds"] == pytest.approx(4, abs=0.2)
    for client in (school.students[0], school.director):
        sound = client.get(f"/api/takes/{made['id']}/sound")
        assert sound.headers["content-type"] == "audio/mpeg"
        assert len(sound.content) > 20_000
    part = school.director.get(f"/api/takes/{made['id']}/sound", headers={"Range": "bytes=100-199"})
    assert (part.status_code, len(part.content)) == (206, 100)
    rows = {row["student_id"]: row for row in ok(school.director.get("/api/wall/week"))["rows"]}
    assert [rows[str(student)]["takes"] for student in school.ids["students"]] == [1, 0]
    (waiting,) = queue(school)[str(school.ids["students"][0])]
    assert (waiting["id"], waiting["is_heard"]) == (made["id"], False)


def test_no_classmate_and_no_other_school_ever_gets_it(
    school: School, app: FastAPI, new_session: sessionmaker[Session]
):
    made = a_take(school)
    away = a_school(app, new_session)
    for client in (school.students[1], away.students[0], away.director):
        assert client.get(f"/api/takes/{made['id']}/sound").status_code == 404
        assert client.delete(f"/api/takes/{made['id']}").status_code == 404
    assert mine(school, 1) == []
    assert len(mine(school)) == 1


def test_the_same_take_twice_is_kept_once(school: School):
    same = str(uuid4())
    ok(hand_in(school, id=same))
    ok(hand_in(school, id=same))
    assert len(mine(school)) == 1
    assert hand_in(school, 1, id=same).status_code == 422
    school.work_off()
    assert mine(school, 1) == []


@pytest.mark.parametrize(
    "sound",
    [
        b"no sound at all",
        b"#EXTM3U\n#EXT-X-TARGETDURATION:10\n#EXTINF:10,\n/etc/passwd\n#EXT-X-ENDLIST\n",
        b"ffconcat version 1.0\nfile /etc/passwd\n",
        b"RIFF\x24\x00\x00\x00WAVEfmt ",
    ],
    ids=["words", "a list of files", "another list", "cut off"],
)
def test_what_is_no_recording_is_told_to_the_student(school: School, sound: bytes):
    a_take(school, sound=sound)
    (seen,) = mine(school)
    assert seen["state"] == "failed"
    assert "no recording" in seen["message"]
    assert queue(school)[str(school.ids["students"][0])] == []


def test_a_take_that_is_shorter_than_its_chunk_is_told(school: School):
    asked = f"{school.ids['part']}/{school.ids['chunks'][4]['id']}"
    least = ok(school.students[0].get(f"/api/me/takes/ask/{asked}"))["least_seconds"]
    a_take(school, sound=a_tone(max(least - 1, 0.4)))
    a_take(school, sound=a_tone(least + 1))
    assert [take["is_short"] for take in mine(school)] == [False, True]


def test_only_what_was_sent_can_be_recorded(school: School):
    other = with_music(a_school(school.app, school.new_session))
    wrong = {"part_id": other.ids["part"], "chunk_id": other.ids["chunks"][0]["id"]}
    assert hand_in(school, **wrong).status_code == 404
    ahead = (datetime.now(UTC) + timedelta(days=1)).isoformat()
    assert hand_in(school, recorded_at=ahead).status_code == 422


def test_what_a_take_needs_is_told_to_those_who_play_the_part(app: FastAPI, new_session):
    school = with_music(a_school(app, new_session))
    other = ok(school.director.post("/api/sections", json={"name": "Horns"}))["id"]
    piece, part = school.ids["piece"], school.ids["part"]
    parts = [{"part_id": part, "played_on": "Clarinet", "section_ids": [other]}]
    ok(school.director.put(f"/api/pieces/{piece}/parts", json={"parts": parts}))
    path = f"/api/me/takes/ask/{part}/{school.ids['chunks'][4]['id']}"
    assert school.students[0].get(path).status_code == 404


def test_takes_have_so_much_room(school: School, monkeypatch):
    monkeypatch.setattr(takes, "MOST_KEPT_BYTES", 200_000)
    assert hand_in(school).status_code == 201
    refused = [hand_in(school) for _ in range(2)]
    assert {one.status_code for one in refused} == {422}
    assert "delete one first" in refused[0].json()["detail"]
    school.work_off()  # playable, it is a tenth of its size
    assert hand_in(school).status_code == 201


def test_what_is_judged_of_a_take_is_said_with_it_and_stays_when_it_goes(school: School):
    made = a_take(school)
    body = {
        "id": str(uuid4()),
        "student_id": str(school.ids["students"][0]),
        "chunk_id": school.ids["chunks"][4]["id"],
        "level": 4,
        "missing": [],
        "went_well": "Steady",
        "take_id": made["id"],
    }
    not_hers = {**body, "id": str(uuid4()), "student_id": str(school.ids["students"][1])}
    path = f"/api/hearing/{school.ids['part']}"
    assert school.director.post(path, json=not_hers).status_code == 404
    ok(school.director.post(path, json=body))
    assert mine(school)[0]["is_heard"]
    before = sound_files(school)
    ok(school.students[0].delete(f"/api/takes/{made['id']}"))
    assert (mine(school), sound_files(school)) == ([], before - 1)
    said = ok(school.students[0].get("/api/me/map"))[0]["heard"][4]
    assert said["went_well"] == "Steady"


def test_the_desk_has_takes_to_hear_until_they_are_heard(school: School):
    a_take(school)
    a_take(school, 1)
    (line,) = [x for x in ok(school.director.get("/api/desk"))["lines"] if x["kind"] == "takes"]
    assert line["say"].startswith("2 takes of ")
    for student in (0, 1):
        for take in mine(school, student):
            ok(school.director.delete(f"/api/takes/{take['id']}"))
    kinds = {x["kind"] for x in ok(school.director.get("/api/desk"))["lines"]}
    assert "takes" not in kinds


def test_where_the_music_is_in_a_take_is_kept_if_it_can_be(school: School):
    made = a_take(school)
    first = school.ids["chunks"][4]["start"]["index"]
    path = f"/api/takes/{made['id']}/anchors"

    def anchor(index: int, at: str, seconds: float) -> dict[str, Any]:
        return {"at": {"index": index, "at": at}, "seconds": seconds}

    good = [anchor(first, "0", 0.5), anchor(first, "2", 1.75)]
    ok(school.director.put(path, json={"anchors": good}))
    assert mine(school)[0]["anchors"] == good
    for bad in (
        [anchor(first, "0", 3), anchor(first, "2", 1)],
        [anchor(first + 40, "0", 1)],
        [anchor(first, "0", 99)],
    ):
        assert school.director.put(path, json={"anchors": bad}).status_code == 422
    assert school.students[0].put(path, json={"anchors": []}).status_code == 403
    assert mine(school)[0]["anchors"] == good


def test_takes_go_when_their_weeks_are_over(school: School):
    old, new = a_take(school), a_take(school)
    ok(school.director.put("/api/takes/rules", json={"is_on": True, "weeks": 2}))
    with school.new_session() as session:
        session.execute(
            text("update take set handed_in_at = now() - interval '15 days' where id = :id"),
            {"id": old["id"]},
        )
        session.commit()
    before = sound_files(school)
    erase_takes(school.new_session, school.app.dependency_overrides[deps.get_sounds]())
    with school.new_session() as session:
        assert session.get(Take, old["id"]) is None
    assert [take["id"] for take in mine(school)] == [new["id"]]
    assert sound_files(school) == before - 1


@pytest.mark.parametrize("weeks", [0, 27])
def test_takes_are_kept_for_weeks_that_can_be(school: School, weeks: int):
    wanted = {"is_on": True, "weeks": weeks}
    assert school.director.put("/api/takes/rules", json=wanted).status_code == 422


def test_more_takes_than_anybody_listens_to_are_refused(school: School):
    with school.new_session() as session:
        made = ok(hand_in(school))
        session.execute(
            text(
                "insert into take (id, program_id, student_id, part_id, chunk_id, sound,"
                " recorded_at) select gen_random_uuid(), program_id, student_id, part_id, chunk_id,"
                " 'none', recorded_at from take, generate_series(1, 39) where id = :id"
            ),
            {"id": made["id"]},
        )
        session.commit()
    assert hand_in(school).status_code == 422


def test_takes_of_a_piece_that_was_taken_away_can_be_deleted_and_go_with_it(school: School):
    first, second = a_take(school), a_take(school)
    ok(school.director.delete(f"/api/pieces/{school.ids['piece']}?evidence=keep"))
    assert {take["id"] for take in mine(school)} == {first["id"], second["id"]}
    assert "takes" not in {line["kind"] for line in ok(school.director.get("/api/desk"))["lines"]}
    ok(school.students[0].delete(f"/api/takes/{first['id']}"))
    before = sound_files(school)
    files = school.app.dependency_overrides[deps.get_files]()
    sounds = school.app.dependency_overrides[deps.get_sounds]()
    in_eight_days = datetime.now(UTC) + timedelta(days=8)
    assert erase_pieces(school.new_session, files, sounds, now=in_eight_days) == 1
    assert (mine(school), sound_files(school)) == ([], before - 1)
