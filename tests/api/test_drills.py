"""The bench over the wire: ranking, refusals that offer, recipes, files."""

import json
from io import BytesIO

import mido
import pytest
from fastapi import FastAPI
from pypdf import PdfReader
from sqlalchemy.orm import Session, sessionmaker

from crumb.formats.musicxml.reader import read_score
from tests.api.school import School, a_school, an_item, ok, with_music


@pytest.fixture(scope="module")
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return with_music(a_school(app, new_session))


def bench(school: School, drill: str, **more):
    body = {**an_item(school, drill=drill, **more.pop("settings", {})), **more}
    return school.director.post(f"/api/parts/{school.ids['part']}/bench", json=body)


def chunk_id(school: School, place: int = 4) -> str:
    return school.ids["chunks"][place]["id"]


def test_the_ranking_puts_fitting_drills_first_and_says_why(school: School):
    query = {"chunk_id": chunk_id(school)}
    found = ok(school.director.get(f"/api/parts/{school.ids['part']}/ranking", params=query))
    fits = [one["refused"] == "" for one in found["drills"]]
    assert fits == sorted(fits, reverse=True)
    assert found["drills"][0]["reasons"]
    assert found["level"] == 0
    assert len(found["drills"]) > 55


def test_a_step_says_what_is_heard_and_how(school: School):
    worked = ok(bench(school, "long-short"))
    first = worked["steps"][0]
    assert first["sounds"][0]["midi"] is not None
    assert first["sounds"][1]["at"] == "3/4"
    assert (first["pace"], first["slip"]) == (1.0, "down")
    assert first["svg"].startswith("<svg")
    assert worked["turned"] == worked["notes"] // 2


def test_the_clarinet_sounds_two_half_steps_below_what_it_reads(school: School):
    step = ok(bench(school, "alone"))["steps"][0]
    exported = school.director.get(
        f"/api/parts/{school.ids['part']}/file",
        params={"chunk_id": chunk_id(school), "form": "musicxml"},
    )
    part = read_score(exported.content).parts[0]
    written = [n.pitch.midi for _, n in part.each_note() if n.is_attack and n.pitch]
    assert [s["midi"] for s in step["sounds"]] == [pitch - 2 for pitch in written]


def test_only_so_many_steps_are_engraved_as_were_asked_for(school: School):
    worked = ok(bench(school, "blocks", drawn=2))
    drawn = [step["svg"] is not None for step in worked["steps"]]
    assert drawn == [True, True] + [False] * (len(drawn) - 2)


def test_a_drill_for_goal_tempo_has_no_ladder(school: School):
    worked = ok(bench(school, "stops"))
    assert worked["at_goal"]
    assert worked["rungs"] == [106.0]


def test_a_refusal_offers_what_fits(school: School):
    answer = bench(school, "voices-apart")
    assert answer.status_code == 422
    problem = answer.json()
    assert "One line only" in problem["detail"]
    assert problem["instead"]
    for name in problem["instead"]:
        assert bench(school, name).status_code == 200


def test_younger_players_get_other_defaults(school: School):
    young = ok(bench(school, "standard-set", player="beginner"))
    assert len(young["steps"]) == 2


@pytest.mark.parametrize("form", ["musicxml", "mid", "svg", "pdf"])
@pytest.mark.parametrize("drill", ["", "long-short"])
def test_chunks_and_drills_come_as_files(school: School, form: str, drill: str):
    answer = school.director.get(
        f"/api/parts/{school.ids['part']}/file",
        params={"chunk_id": chunk_id(school), "drill": drill, "form": form},
    )
    assert answer.status_code == 200
    assert form in answer.headers["content-disposition"]
    readers = {
        "musicxml": lambda data: read_score(data).parts[0].attack_count,
        "mid": lambda data: len(mido.MidiFile(file=BytesIO(data)).tracks[0]),
        "svg": lambda data: data.count(b'class="note'),
        "pdf": lambda data: len(PdfReader(BytesIO(data)).pages),
    }
    assert readers[form](answer.content) > 0


def test_a_file_of_no_known_kind_is_refused(school: School):
    query = {"chunk_id": chunk_id(school), "form": "exe"}
    answer = school.director.get(f"/api/parts/{school.ids['part']}/file", params=query)
    assert answer.status_code == 422
    query = {"chunk_id": chunk_id(school), "drill": "alone", "settings": "[1"}
    answer = school.director.get(f"/api/parts/{school.ids['part']}/file", params=query)
    assert "settings" in answer.json()["detail"]


def test_the_reference_is_the_whole_part_in_playing_order(school: School):
    heard = ok(school.director.get(f"/api/parts/{school.ids['part']}/reference"))
    onsets = [tuple(map(int, (s["at"] + "/1").split("/")[:2])) for s in heard["sounds"]]
    times = [a / b for a, b in onsets]
    assert times == sorted(times)
    assert len(times) > 300
    assert heard["family"] == "clarinet"


RECIPE = [
    {"stage": "learn", "drill": "voices-apart", "settings": {}},
    {"stage": "set", "drill": "standard-set", "settings": {"passes": 3}},
    {"stage": "prove", "drill": "alone", "settings": {}},
]


def test_a_recipe_is_kept_taken_off_brought_back_and_exchanged(school: School):
    director = school.director
    kept = ok(director.post("/api/recipes", json={"name": "Our way", "items": RECIPE}))
    own = next(r for r in kept if r["name"] == "Our way")
    assert own["items"] == RECIPE
    written = ok(director.get(f"/api/recipes/{own['id']}/file"))
    assert written["format"] == "crumb-recipe"
    gone = ok(director.post(f"/api/recipes/{own['id']}/remove"))
    assert all(r["id"] != own["id"] for r in gone)
    read = ok(director.post("/api/recipes/file", json=json.loads(json.dumps(written))))
    assert sum(r["name"] == "Our way" for r in read) == 1
    back = ok(director.post(f"/api/recipes/{own['id']}/restore"))
    assert sum(r["name"] == "Our way" for r in back) == 2


def test_a_recipe_with_an_unknown_drill_is_refused_where_it_stands(school: School):
    body = {"name": "R", "items": [{"stage": "learn", "drill": "flying"}]}
    answer = school.director.post("/api/recipes", json=body)
    assert answer.status_code == 422
    assert answer.json()["detail"].startswith("Line 1:")


def test_a_recipe_is_made_for_the_chunk(school: School):
    body = {"chunk_id": chunk_id(school), "items": RECIPE}
    fitted = ok(school.director.post(f"/api/parts/{school.ids['part']}/recipe", json=body))
    assert [item["drill"] for item in fitted["items"]][1:] == ["standard-set", "alone"]
    assert "stands in for Voices apart" in " ".join(fitted["said"])
