"""Bringing music in: scores, sections, reports, surveys, kin, marks, new versions."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from fractions import Fraction
from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from bench.wind_score import wind_score
from crumb.core.score.model import Part
from crumb.demo.etude import TITLE, clarinet_etude
from crumb.formats.midi import write_midi
from crumb.formats.musicxml.writer import write_part
from crumb.services.music import imports
from tests.api.school import (
    ETUDE,
    School,
    a_repetition,
    a_school,
    an_item,
    assigned,
    brought_in,
    edit,
    ok,
    play,
    with_music,
)
from tests.builders import a_part

SCORE = wind_score(6, 24)


def get(school: School, path: str, **params: Any) -> Any:
    return ok(school.director.get(f"/api/parts/{school.ids['part']}{path}", params=params))


# Imports -----------------------------------------------------------------------------------------


def test_a_school_has_so_much_room_for_uploads_also_for_two_at_once(school: School, monkeypatch):
    monkeypatch.setattr(imports, "MOST_BYTES", len(ETUDE) + 10)

    def upload(_: int) -> int:
        file = {"file": ("etude.musicxml", ETUDE)}
        return school.director.post("/api/imports", files=file).status_code

    with ThreadPoolExecutor(2) as pool:
        assert sorted(pool.map(upload, range(2))) == [202, 422]


def test_a_score_comes_in_with_its_parts_instruments_and_players(school: School):
    ok(school.director.post("/api/sections", json={"name": "Flute 1"}))
    piece = brought_in(school, SCORE, "march.musicxml")
    assert [p["name"] for p in piece["parts"]][:2] == ["Flute 1", "Flute 2"]
    clarinet = piece["parts"][3]
    assert (clarinet["played_on"], clarinet["transpose"]) == ("Clarinet", -2)
    assert clarinet["section_ids"] == [school.ids["section"]]
    assert piece["parts"][0]["section_ids"]  # by its very name
    assert piece["report"][0]["text"].startswith("MusicXML: 6 parts, 24 measures")


def test_parts_are_set_aside_and_given_to_sections_new_ones_too(school: School):
    piece = brought_in(school, SCORE, "march.musicxml")
    parts = [
        {"part_id": p["id"], "played_on": p["played_on"], "section_ids": p["section_ids"]}
        for p in piece["parts"]
    ]
    parts[0] |= {"new_section": "Flute 1", "section_ids": []}
    parts[1] |= {"new_section": "flute 1", "section_ids": []}
    parts[2] |= {"is_set_aside": True, "played_on": "English horn"}
    kept = ok(school.director.put(f"/api/pieces/{piece['id']}/parts", json={"parts": parts}))
    assert kept["parts"][0]["section_ids"] == kept["parts"][1]["section_ids"]
    assert kept["parts"][2]["is_set_aside"]
    assert kept["parts"][2]["played_on"] == "English horn"
    names = {s["name"] for s in ok(school.director.get("/api/sections"))}
    assert names == {"Clarinets", "Flute 1"}
    parts[0]["played_on"] = "Kazoo"
    bad = school.director.put(f"/api/pieces/{piece['id']}/parts", json={"parts": parts})
    assert bad.status_code == 422


def test_another_instrument_is_another_survey(music_school: School):
    school = music_school
    before = get(school, "/survey")
    body = {"parts": [{"part_id": school.ids["part"], "played_on": "Piano"}]}
    ok(school.director.put(f"/api/pieces/{school.ids['piece']}/parts", json=body))
    after = get(school, "/survey")
    assert (before["instrument"], after["instrument"]) == ("Clarinet", "Piano")
    assert any(s["kind"] == "break" for m in before["measures"] for s in m["spots"])
    assert not any(s["kind"] == "break" for m in after["measures"] for s in m["spots"])


def test_midi_comes_in_and_says_what_it_lacks(school: School):
    data = write_midi(clarinet_etude(), tempo=Fraction(106), beat=Fraction(1))
    piece = brought_in(school, data, "etude.mid")
    assert any("no notation" in line["text"] for line in piece["report"])


def test_what_a_file_holds_and_crumb_does_not_keep_is_reported(school: School):
    with_chords = ETUDE.replace(b"</attributes>", b"</attributes><harmony/>", 1)
    piece = brought_in(school, with_chords)
    told = [line for line in piece["report"] if line["kind"] == "not-kept"]
    assert told == [
        {
            "kind": "not-kept",
            "part": "Clarinet in B♭",
            "text": "Not kept: chord symbols (measure 0).",
        }
    ]


def test_a_file_that_fails_in_the_middle_says_where_and_leaves_nothing(school: School):
    broken = ETUDE.replace(b"<octave>5</octave>", b"<octave>many</octave>", 1)
    sent = ok(school.director.post("/api/imports", files={"file": ("x.musicxml", broken)}))
    school.work_off()
    job = ok(school.director.get(f"/api/imports/{sent['id']}"))
    assert job["state"] == "failed"
    assert "measure" in job["message"]
    assert job["piece"] is None
    assert ok(school.director.get("/api/pieces")) == []


def test_a_fault_of_ours_is_told_and_leaves_nothing(
    school: School, monkeypatch: pytest.MonkeyPatch
):
    def fails(*_: object, **__: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(imports, "kin_among", fails)
    sent = ok(school.director.post("/api/imports", files={"file": ("x.musicxml", ETUDE)}))
    with pytest.raises(ZeroDivisionError):
        school.work_off()
    job = ok(school.director.get(f"/api/imports/{sent['id']}"))
    assert (job["state"], "fault" in job["message"]) == ("failed", True)
    assert ok(school.director.get("/api/pieces")) == []


def test_an_import_waits_for_its_worker(school: School):
    sent = ok(school.director.post("/api/imports", files={"file": ("x.musicxml", ETUDE)}))
    assert sent["state"] == "waiting"
    assert ok(school.director.get("/api/pieces")) == []
    school.work_off()
    school.work_off()  # what was done is not done again
    assert len(ok(school.director.get("/api/pieces"))) == 1


def test_an_import_that_was_cancelled_leaves_nothing(school: School):
    sent = ok(school.director.post("/api/imports", files={"file": ("x.musicxml", ETUDE)}))
    path = f"/api/imports/{sent['id']}"
    assert ok(school.director.post(f"{path}/cancel"))["state"] == "cancelled"
    school.work_off()
    assert ok(school.director.get(path))["state"] == "cancelled"
    assert ok(school.director.get("/api/pieces")) == []


# Splitting ---------------------------------------------------------------------------------------


@pytest.mark.parametrize("by", ["phrases", "lines", "marks", "load"])
def test_a_proposal_divides_the_part_with_reasons(music_school: School, by: str):
    view = edit(music_school, op="propose", by=by, version=1)
    assert view["chunks"][0]["start"] == {"index": 0, "at": "0"}
    assert view["edges"]
    assert all(e["reasons"] for e in view["edges"])
    assert len(view["seams"]) == len(view["chunks"]) - 1


def test_chunks_are_divided_inside_and_all_of_it_is_there_again_after_undo(music_school: School):
    school = music_school
    inner = edit(school, op="split-inside", place=4, depth=0, version=1)
    assert len(inner["levels"]) == 2
    assert len(inner["levels"][1]) == len(inner["chunks"]) + 1
    deeper = edit(school, op="split-inside", place=4, depth=1, version=2)
    assert len(deeper["levels"]) == 3
    flat = edit(school, op="merge-inside", place=4, depth=0, version=3)
    assert len(flat["levels"]) == 1
    other = edit(school, op="split-inside-other", place=4, depth=0, version=4)
    assert {tuple(e["reasons"]) for e in other["edges"] if e["depth"] == 1} == {
        ("cut another way",)
    }
    edit(school, op="undo", version=5)
    back = edit(school, op="undo", version=4)
    assert back["levels"] == deeper["levels"]
    assert get(school, "/chunks")["levels"] == deeper["levels"]


def test_a_section_divides_its_part_its_own_way(music_school: School):
    school = music_school
    path = f"/api/parts/{school.ids['part']}"
    own = ok(school.director.put(f"{path}/sections/{school.ids['section']}/map"))
    assert own["section_id"] == school.ids["section"]
    assert own["chunks"] == school.ids["chunks"]
    query = {"section_id": school.ids["section"]}
    body = {"op": "merge", "place": 0, "version": own["version"]}
    merged = ok(school.director.post(f"{path}/chunks", params=query, json=body))
    assert len(merged["chunks"]) == len(own["chunks"]) - 1
    assert get(school, "/chunks")["chunks"] == school.ids["chunks"]
    assert get(school, "/chunks", **query)["chunks"] == merged["chunks"]
    again = ok(school.director.put(f"{path}/sections/{school.ids['section']}/map"))
    assert again["chunks"] == merged["chunks"]


@pytest.mark.parametrize("kind", ["hardest", "back", "foundation"])
def test_an_order_is_kept_with_its_reason(music_school: School, kind: str):
    view = edit(music_school, op="order", kind=kind, version=1)
    assert view["order"]["kind"] == kind
    assert view["order"]["why"]
    assert sorted(view["order"]["chunk_ids"]) == sorted(c["id"] for c in view["chunks"])
    assert get(music_school, "/chunks")["order"] == view["order"]
    assert edit(music_school, op="undo", version=2)["order"]["kind"] == "front"


def test_an_order_by_hand(music_school: School):
    ids = [c["id"] for c in music_school.ids["chunks"]][::-1]
    view = edit(music_school, op="order", kind="hand", by_hand=ids, version=1)
    assert view["order"]["chunk_ids"] == ids


@pytest.mark.parametrize(
    ("say", "label"),
    [("third measure of R", "35"), ("33.2-34.1", "33 beat 2–34 beat 1"), ("61", "61")],
)
def test_the_jump_box_knows_places(music_school: School, say: str, label: str):
    assert get(music_school, "/place", say=say)["label"] == label


def test_the_jump_box_says_when_there_is_no_such_place(music_school: School):
    path = f"/api/parts/{music_school.ids['part']}/place"
    answer = music_school.director.get(path, params={"say": "measure 900"})
    assert answer.status_code == 422
    assert "There is no measure 900" in answer.json()["detail"]


# Kin ---------------------------------------------------------------------------------------------


def test_kin_is_proposed_judged_and_stays_judged(music_school: School):
    school = music_school
    links = get(school, "/kin")
    first = next(link for link in links if link["relation"] == "identical")
    assert first["text"] == "the same notes"
    ok(school.director.put(f"/api/kin/{first['id']}", json={"verdict": "refused"}))
    after = get(school, "/kin")
    assert after[-1]["id"] == first["id"]
    assert after[-1]["verdict"] == "refused"
    ok(school.director.put(f"/api/kin/{first['id']}", json={"verdict": None}))
    assert all(link["verdict"] is None for link in get(school, "/kin"))


def test_what_differs_between_near_twins_becomes_a_chunk(school: School):
    part = a_part("s:0,1,2,3 s:4,3,2,1 q:0 q:4", "h:0 h:4", "s:0,1,2,3 s:4,3,2,1 q:0 q:5")
    piece = brought_in(school, write_part(part, title="Twins").encode(), "twins.musicxml")
    school.ids["part"] = piece["parts"][0]["id"]
    (near,) = [link for link in get(school, "/kin") if link["relation"] == "near"]
    assert near["text"] == "alike, but for A5 in place of G5"
    edit(school, op="by-measures", measures=1, version=0)
    cut = ok(school.director.post(f"/api/kin/{near['id']}/chunk", json={"version": 1}))
    inside = [c["label"] for c in cut["levels"][1]]
    assert "2 beats 3–4" in inside
    other = next((k for k in get(school, "/kin") if k["differs"] == 0), None)
    if other:
        refused = school.director.post(f"/api/kin/{other['id']}/chunk", json={"version": 2})
        assert refused.status_code == 422


# Marks -------------------------------------------------------------------------------------------


def mark(client: Any, part_id: str, kind: str = "warning", **more: Any) -> Any:
    body = {"kind": kind, "text": "watch", "at": {"index": 9, "at": "0"}, **more}
    return client.post(f"/api/parts/{part_id}/marks", json=body)


def test_a_directors_mark_reaches_every_copy_and_drill(music_school: School):
    school = assigned(music_school)
    part_id = school.ids["part"]
    ok(mark(school.director, part_id, "words", text="look up"))
    for client in (school.director, *school.students):
        assert [m["text"] for m in ok(client.get(f"/api/parts/{part_id}/marks"))] == ["look up"]
    assert "look up" in get(school, "/engraving")["svg"]
    assert "look up" in ok(school.students[0].get(f"/api/me/parts/{part_id}"))["svg"]
    stand = ok(school.students[0].get(f"/api/me/stand/{school.ids['items'][0]}"))
    assert "look up" in stand["worked"]["steps"][0]["svg"]


def test_a_students_own_mark_is_nobody_elses(music_school: School):
    school = assigned(music_school)
    part_id = school.ids["part"]
    own = ok(mark(school.students[0], part_id))
    assert own["layer"] == "own"
    for client in (school.director, school.students[1]):
        assert ok(client.get(f"/api/parts/{part_id}/marks")) == []
        assert client.delete(f"/api/marks/{own['id']}").status_code == 404
    gone = ok(school.students[0].delete(f"/api/marks/{own['id']}"))
    assert ok(school.students[0].get(f"/api/parts/{part_id}/marks")) == []
    ok(school.students[0].post(f"/api/marks/{gone['id']}/back"))
    assert len(ok(school.students[0].get(f"/api/parts/{part_id}/marks"))) == 1


def test_only_a_section_leader_writes_for_the_section(music_school: School):
    school = assigned(music_school)
    part_id, leader = school.ids["part"], school.ids["students"][0]
    assert mark(school.students[0], part_id, as_leader=True).status_code == 403
    path = f"/api/sections/{school.ids['section']}/students/{leader}/leader"
    ok(school.director.put(path, json={"is_leader": True}))
    (section,) = ok(school.director.get("/api/sections"))
    assert [s["is_leader"] for s in section["students"]] == [True, False]
    made = ok(mark(school.students[0], part_id, as_leader=True))
    assert made["layer"] == "leader"
    assert len(ok(school.students[1].get(f"/api/parts/{part_id}/marks"))) == 1
    ok(school.director.delete(f"/api/marks/{made['id']}"))
    assert ok(school.students[1].get(f"/api/parts/{part_id}/marks")) == []


def test_a_part_that_was_not_sent_to_a_student_is_not_theirs_to_see(music_school: School):
    part_id = music_school.ids["part"]
    assert music_school.students[0].get(f"/api/me/parts/{part_id}").status_code == 404
    assert mark(music_school.students[0], part_id).status_code == 404


# New versions ------------------------------------------------------------------------------------


def corrected(part: Part) -> Part:
    """Measure 2 lost, and one note of measure 20 put right."""
    measures = list(part.measures)
    wrong = measures[20]
    notes = list(wrong.notes)
    place = next(i for i, n in enumerate(notes) if n.pitch)
    pitch = notes[place].pitch
    assert pitch is not None
    notes[place] = replace(notes[place], pitch=replace(pitch, octave=pitch.octave - 1))
    measures[20] = replace(wrong, notes=tuple(notes))
    del measures[2]
    renumbered = [replace(m, index=i, number=str(i)) for i, m in enumerate(measures)]
    return replace(part, measures=tuple(renumbered))


def test_a_new_version_keeps_chunks_marks_verdicts_and_evidence(
    app: FastAPI, new_session: sessionmaker[Session]
):
    school = with_music(a_school(app, new_session))
    assigned(school, an_item(school, start=106))
    old_part = school.ids["part"]
    chunk = school.ids["chunks"][4]  # measures 9 and 10
    for second in range(3):
        play(
            school.students[0], a_repetition(school.ids["items"][0], tempo=106, second=second * 12)
        )
    ok(mark(school.director, old_part, "words", text="kept"))
    ok(mark(school.director, old_part, "words", text="lost", at={"index": 20, "at": "0"}))
    data = write_part(corrected(clarinet_etude()), title="Another title").encode()
    piece = brought_in(school, data, "etude-2.musicxml", replaces=school.ids["piece"])
    assert piece["title"] == TITLE
    assert [p["id"] for p in ok(school.director.get("/api/pieces"))] == [piece["id"]]
    new_part = piece["parts"][0]
    told = " ".join(line["text"] for line in piece["report"])
    assert "changed or are gone: 2, 20" in told
    assert "lost in measure 20" in told
    school.ids["part"] = new_part["id"]
    chunks = get(school, "/chunks")["chunks"]
    moved = next(c for c in chunks if c["start"]["index"] == chunk["start"]["index"] - 1)
    assert moved["end"]["index"] == chunk["end"]["index"] - 1
    assert [(m["text"], m["at"]["index"]) for m in get(school, "/marks")] == [("kept", 8)]
    wall = ok(school.director.get(f"/api/wall/{new_part['id']}/{school.ids['section']}"))
    place = [c["id"] for c in wall["chunks"]].index(moved["id"])
    assert [row["levels"][place] for row in wall["rows"]] == [5, 0]
    # What was sent goes on where it was sent, and counts here too.
    (item,) = {row["item_id"] for row in ok(school.students[1].get("/api/me/today"))}
    for second in range(3):
        play(school.students[1], a_repetition(item, tempo=106, second=second * 12))
    wall = ok(school.director.get(f"/api/wall/{new_part['id']}/{school.ids['section']}"))
    assert [row["levels"][place] for row in wall["rows"]] == [5, 5]


def test_a_new_version_of_what_is_not_there_is_refused(school: School, music_school: School):
    body = {"replaces": music_school.ids["part"]}
    sent = school.director.post("/api/imports", files={"file": ("x.musicxml", ETUDE)}, data=body)
    assert sent.status_code == 404


def test_a_numbered_part_goes_to_the_section_of_its_number(school: School):
    ids = {}
    for name in ("Violins I", "Violins II", "Violas"):
        ids[name] = ok(school.director.post("/api/sections", json={"name": name}))["id"]
    names = ("1st Violin", "Vln. 2", "Vla.", "Violin 3")
    heads = "".join(
        f'<score-part id="P{i}"><part-name>{name}</part-name></score-part>'
        for i, name in enumerate(names)
    )
    note = "<note><pitch><step>C</step><octave>5</octave></pitch><duration>4</duration></note>"
    music = "".join(
        f'<part id="P{i}"><measure number="1">{note}</measure></part>' for i in range(len(names))
    )
    data = f"<score-partwise><part-list>{heads}</part-list>{music}</score-partwise>"
    piece = brought_in(school, data.encode())
    found = {part["name"]: part["section_ids"] for part in piece["parts"]}
    assert found == {
        "1st Violin": [ids["Violins I"]],
        "Vln. 2": [ids["Violins II"]],
        "Vla.": [ids["Violas"]],
        "Violin 3": [],
    }
