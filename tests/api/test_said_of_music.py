"""What a director says of the music: lines of the print, claims, tags, objectives, one goal."""

from typing import Any

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import ETUDE, School, a_school, brought_in, ok, with_music


@pytest.fixture(scope="module")
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session))


def part_url(school: School) -> str:
    return f"/api/parts/{school.ids['part']}"


def test_lines_typed_by_hand_are_followed_until_they_are_taken_back(school: School):
    url = part_url(school)
    before = ok(school.director.get(f"{url}/lines"))
    assert before["by_hand"] is False
    kept = ok(school.director.put(f"{url}/lines", json={"lines": "5, 9 13", "pages": "13"}))
    assert kept == {"lines": ["5", "9", "13"], "pages": ["13"], "by_hand": True}
    said = {"say": "second from the end of line 2"}
    assert ok(school.director.get(f"{url}/place", params=said))["label"] == "7"
    said = {"say": "page 2"}
    assert ok(school.director.get(f"{url}/place", params=said))["label"].startswith("13–")
    version = ok(school.director.get(f"{url}/chunks"))["version"]
    by_lines = {"op": "propose", "by": "lines", "version": version}
    chunks = ok(school.director.post(f"{url}/chunks", json=by_lines))["chunks"]
    assert [c["label"].rstrip("→") for c in chunks][1:3] == ["5–8", "9–12"]
    assert ok(school.director.put(f"{url}/lines", json={})) == before


def test_a_line_at_a_measure_that_is_not_there_is_refused_in_words(school: School):
    answer = school.director.put(f"{part_url(school)}/lines", json={"lines": "5, 999"})
    assert answer.status_code == 422
    assert "no measure 999" in answer.json()["detail"]


def test_a_true_claim_becomes_a_confirmed_link_and_a_false_one_says_where(school: School):
    url = f"{part_url(school)}/kin"
    links = ok(school.director.get(url))
    same = next(k for k in links if k["relation"] == "identical")
    b, a = same["b"]["label"], same["a"]["label"]
    claimed = ok(school.director.post(f"{url}/claims", json={"text": f"{b} is {a}"}))
    assert claimed["holds"] is True
    after = {k["id"]: k for k in ok(school.director.get(url))}
    assert after[same["id"]]["verdict"] == "confirmed"
    assert len(after) == len(links), "what was found already is not told twice"
    false = ok(school.director.post(f"{url}/claims", json={"text": "2 is 1 a step higher"}))
    assert false["holds"] is False
    assert false["said"].startswith("Not quite: note ")
    assert isinstance(false["first_index"], int)
    nonsense = school.director.post(f"{url}/claims", json={"text": "what?"})
    assert "53 is 33 a step lower" in nonsense.json()["detail"]


def test_first_and_last_notes_of_measures(school: School):
    rows = ok(school.director.get(f"{part_url(school)}/corners", params={"first": 1, "last": 4}))
    assert [row["number"] for row in rows] == ["1", "2", "3", "4"]
    assert all(row["first"] and row["last"] for row in rows)


def split(school: School) -> list[dict[str, Any]]:
    url = f"{part_url(school)}/chunks"
    version = ok(school.director.get(url))["version"]
    edit = {"op": "propose", "by": "phrases", "version": version}
    return ok(school.director.post(url, json=edit))["chunks"]


def test_tags_are_found_added_taken_off_and_searched(school: School):
    chunk = split(school)[0]
    url = f"{part_url(school)}/chunks/{chunk['id']}/tags"
    added = ok(school.director.put(f"{url}/vibrato", json={"on": True}))
    assert ("vibrato", True) in {(t["tag"], t["by_hand"]) for t in added["tags"]}
    found = ok(school.director.get("/api/tags/vibrato"))
    assert [one["chunk"]["id"] for one in found] == [chunk["id"]]
    gone = ok(school.director.put(f"{url}/vibrato", json={"on": False}))
    assert "vibrato" not in {t["tag"] for t in gone["tags"]}
    chunks = split(school)
    everything = [
        ok(school.director.get(f"{part_url(school)}/chunks/{c['id']}/tags")) for c in chunks
    ]
    by_survey = next((c, t) for c in everything for t in c["tags"] if not t["by_hand"])
    url = f"{part_url(school)}/chunks/{by_survey[0]['chunk_id']}/tags/{by_survey[1]['tag']}"
    left = ok(school.director.put(url, json={"on": False}))
    assert by_survey[1]["tag"] not in {t["tag"] for t in left["tags"]}
    assert (
        school.director.put(url.rsplit("/", 1)[0] + "/juggling", json={"on": True}).status_code
        == 422
    )
    names = {t["tag"] for t in ok(school.director.get("/api/tags"))}
    assert {"shift", "crossing", "double-stop", "dynamic", "off-beat", "scale", "arpeggio"} <= names


def test_one_goal_for_a_piece_and_another_for_a_part(school: School):
    pieces = ok(school.director.get("/api/pieces"))
    piece = next(p for p in pieces if any(x["id"] == school.ids["part"] for x in p["parts"]))
    set_to = ok(school.director.put(f"/api/pieces/{piece['id']}/goal", json={"goal_bpm": 92}))
    assert {part["goal_bpm"] for part in set_to["parts"]} == {92}
    ok(school.director.put(f"{part_url(school)}/goal", json={"goal_bpm": 100}))
    again = ok(school.director.get(part_url(school)))
    assert again["part"]["goal_bpm"] == 100
    refused = school.director.put(f"/api/pieces/{piece['id']}/goal", json={"goal_bpm": 5})
    assert refused.status_code == 422


def test_three_objectives_at_most_stand_on_every_page(school: School):
    piece = ok(school.director.get(part_url(school)))["piece_id"]
    url = f"/api/pieces/{piece}/objectives"
    said = ["Even  sixteenths", "", "Three dynamics"]
    kept = ok(school.director.put(url, json={"objectives": said}))
    assert kept["objectives"] == ["Even sixteenths", "Three dynamics"]
    assert ok(school.director.get(part_url(school)))["objectives"] == kept["objectives"]
    many = school.director.put(url, json={"objectives": ["a", "b", "c", "d"]})
    assert many.status_code == 422
    assert "Three objectives at most" in many.json()["detail"]


def test_a_part_says_who_plays_it(school: School):
    piece = ok(school.director.get(part_url(school)))["piece_id"]
    sections = ok(school.director.get("/api/sections"))
    body = {
        "parts": [
            {
                "part_id": school.ids["part"],
                "played_on": "Clarinet",
                "section_ids": [sections[-1]["id"]],
            }
        ]
    }
    ok(school.director.put(f"/api/pieces/{piece}/parts", json=body))
    part = ok(school.director.get(part_url(school)))["part"]
    assert part["section_ids"] == [sections[-1]["id"]]


def test_a_new_version_keeps_what_was_said(school: School):
    piece = ok(school.director.get(part_url(school)))["piece_id"]
    chunk = split(school)[1]
    url = f"{part_url(school)}/chunks/{chunk['id']}/tags/vibrato"
    ok(school.director.put(url, json={"on": True}))
    ok(school.director.put(f"{part_url(school)}/lines", json={"lines": "5, 9"}))
    ok(school.director.put(f"/api/pieces/{piece}/objectives", json={"objectives": ["Even"]}))
    made = brought_in(school, ETUDE, replaces=piece)
    (part,) = made["parts"]
    assert made["objectives"] == ["Even"]
    lines = ok(school.director.get(f"/api/parts/{part['id']}/lines"))
    assert (lines["lines"], lines["by_hand"]) == (["5", "9"], True)
    found = ok(school.director.get("/api/tags/vibrato"))
    assert [(one["part_id"], one["chunk"]["label"]) for one in found] == [
        (part["id"], chunk["label"])
    ]
