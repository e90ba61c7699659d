"""Worked on beside the chunks of a map: passages in words, joined chunks, what is inside."""

import pytest
from fastapi import FastAPI
from sqlalchemy.orm import Session, sessionmaker

from tests.api.school import (
    School,
    a_repetition,
    a_school,
    an_item,
    assigned,
    edit,
    hand_in,
    ok,
    with_music,
)


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session))


def passage(school: School, **body: object) -> dict:
    return ok(school.director.post(f"/api/parts/{school.ids['part']}/passages", json=body))


def wall(school: School, depth: int = 0) -> dict:
    path = f"/api/wall/{school.ids['part']}/{school.ids['section']}"
    return ok(school.director.get(path, params={"depth": depth}))


def evidence(school: School, chunk: dict) -> dict:
    student = school.ids["students"][0]
    path = f"/api/wall/{school.ids['part']}/evidence/{student}/{chunk['id']}"
    return ok(school.director.get(path))


def at_goal(school: School, chunk: dict) -> dict:
    return {**an_item(school, start=106), "chunk_id": chunk["id"]}


def passes(school: School, tempo: int = 106, count: int = 6) -> list[dict]:
    item = school.ids["items"][0]
    return [a_repetition(item, tempo=tempo, second=40 * i) for i in range(count)]


def test_a_place_in_words_is_one_passage_however_often_it_is_said(school: School):
    said = passage(school, words="5.3 to 7")
    assert passage(school, words="5 beat 3 to 7")["id"] == said["id"]
    assert said["label"] == "3-note pickup to 6–7→"
    path = f"/api/parts/{school.ids['part']}/passages/{said['id']}"
    assert ok(school.director.get(path)) == said


def test_words_that_name_no_place_are_refused_in_words(school: School):
    path = f"/api/parts/{school.ids['part']}/passages"
    refused = school.director.post(path, json={"words": "measure 900"})
    assert refused.status_code == 422
    assert "no measure 900" in refused.json()["detail"]
    chunks = school.ids["chunks"]
    back = {"first_id": chunks[3]["id"], "last_id": chunks[1]["id"]}
    refused = school.director.post(path, json=back)
    assert (refused.status_code, "before the first" in refused.json()["detail"]) == (422, True)


def test_two_joined_are_one_passage_and_nothing_at_all_is_the_whole_part(school: School):
    a, b = school.ids["chunks"][2:4]
    joined = passage(school, first_id=a["id"], last_id=b["id"])
    assert (joined["start"], joined["end"]) == (a["start"], b["end"])
    every = passage(school)
    assert every["start"] == {"index": 0, "at": "0"}
    assert every["end"] == school.ids["chunks"][-1]["end"]


def test_a_passage_is_drilled_sent_played_and_seen_like_a_chunk(school: School):
    said = passage(school, words="5.3 to 7")
    item = at_goal(school, said)
    worked = ok(school.director.post(f"/api/parts/{school.ids['part']}/bench", json=item))
    assert worked["steps"]
    assigned(school, item)
    hand_in(school.students[0], *passes(school))
    seen = wall(school)
    assert (seen["beside"], seen["chunks"][-1]["id"]) == (1, said["id"])
    assert seen["rows"][0]["levels"][-1] > seen["rows"][1]["levels"][-1] == 0
    mine = ok(school.students[0].get("/api/me/map"))[0]
    assert mine["chunks"][-1]["id"] == said["id"]
    assert mine["cells"][-1]["level"] == seen["rows"][0]["levels"][-1]


def test_what_was_played_before_a_passage_was_named_counts_for_it(school: School):
    assigned(school, at_goal(school, school.ids["chunks"][4]))
    hand_in(school.students[0], *passes(school))
    inside = passage(school, words="9 beats 1-2")
    assigned(school, at_goal(school, inside))
    seen = wall(school)
    assert seen["chunks"][-1]["id"] == inside["id"]
    assert seen["rows"][0]["levels"][-1] >= 3


def test_the_wall_goes_as_deep_as_the_map(school: School):
    assert wall(school)["deepest"] == 0
    view = edit(school, op="split-inside", version=1, place=4, depth=0)
    fine = wall(school, depth=1)
    assert fine["deepest"] == 1
    assert [c["id"] for c in fine["chunks"]] == [c["id"] for c in view["levels"][1]]
    assert len(fine["chunks"]) == len(wall(school)["chunks"]) + 1
    inner = view["levels"][1][4]
    assigned(school, at_goal(school, inner))
    hand_in(school.students[0], *passes(school))
    assert wall(school, depth=1)["rows"][0]["levels"][4] >= 3


def test_a_passage_of_another_part_is_not_there(school: School, app: FastAPI, new_session):
    other = with_music(a_school(app, new_session))
    theirs = other.ids["chunks"][0]["id"]
    path = f"/api/parts/{school.ids['part']}/passages"
    assert school.director.get(f"{path}/{theirs}").status_code == 404
    body = {"first_id": theirs, "last_id": theirs}
    assert school.director.post(path, json=body).status_code == 404


def octave(school: School, way: str, chunk: int = 4) -> object:
    chunk_id = school.ids["chunks"][chunk]["id"]
    path = f"/api/parts/{school.ids['part']}/passages/{chunk_id}/octave"
    return school.director.post(path, json={"way": way})


def test_a_lick_an_octave_away_has_a_level_of_its_own(school: School):
    made = ok(octave(school, "down"))
    assert ok(octave(school, "down")) == made  # once
    original = school.ids["part"]
    part = ok(school.director.get(f"/api/parts/{made['part_id']}"))["part"]
    assert part["name"].endswith("9–10 an octave lower")
    item = {**at_goal(school, made["chunk"])}
    assigned(school, item, part_id=made["part_id"])
    hand_in(school.students[0], *passes(school))
    path = f"/api/wall/{{}}/{school.ids['section']}"
    here = ok(school.director.get(path.format(made["part_id"])))["rows"][0]["levels"]
    there = ok(school.director.get(path.format(original)))["rows"][0]["levels"]
    assert max(here) == 5
    assert max(there) == 0


def test_an_octave_that_leaves_the_range_is_refused_in_words(school: School):
    refused = octave(school, "up", chunk=0)
    assert refused.status_code == 422
    assert "comfortable range" in refused.json()["detail"]


def test_a_twin_that_stands_lends_its_level_for_one_clean_pass(school: School):
    """Measures that are the same: what is steady in one starts the other."""
    kin = ok(school.director.get(f"/api/parts/{school.ids['part']}/kin"))
    chunks = school.ids["chunks"]
    firsts = [c["start"]["index"] for c in chunks]
    same, a, b = next(
        (k, i, firsts.index(k["b"]["first"] + first - k["a"]["first"]))
        for k in kin
        for i, first in enumerate(firsts)
        if k["a"]["first"] <= first <= k["a"]["last"]
        and k["a"]["part_id"] == k["b"]["part_id"]
        and k["b"]["first"] + first - k["a"]["first"] in firsts
    )
    ok(school.director.put(f"/api/kin/{same['id']}", json={"verdict": "confirmed"}))
    assigned(school, at_goal(school, chunks[a]), at_goal(school, chunks[b]))
    hand_in(school.students[0], *passes(school))
    cell = evidence(school, chunks[b])["cell"]
    assert cell["level"] == 0
    twin = chunks[a]["label"].replace("→", "")
    assert cell["next"] == f"The same as {twin}: one clean pass as written at 106 confirms it."
    hand_in(school.students[0], a_repetition(school.ids["items"][1], tempo=106, second=600))
    cell = evidence(school, chunks[b])["cell"]
    assert cell["level"] == 3
    assert "a clean pass at its tempo confirmed it" in cell["why"]
    assert wall(school)["rows"][1]["levels"][b] == 0
