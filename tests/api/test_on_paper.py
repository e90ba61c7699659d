"""A part whose notes stay on paper: divided, sent, practised and graded like any other."""

from io import BytesIO

import pytest
from pypdf import PdfReader

from tests.api.school import (
    School,
    a_repetition,
    an_assignment,
    assigned,
    hand_in,
    level,
    ok,
    sent_long_ago,
)

CHORALE = {
    "title": "Chorale for Low Brass",
    "played_on": "Clarinet",
    "measures": 32,
    "first": 1,
    "time": "3/4",
    "pickup": "1",
    "goal_bpm": 96,
    "letters": [{"number": 9, "letter": "A"}, {"number": 23, "letter": "B"}],
}


@pytest.fixture
def paper(school: School) -> School:
    piece = ok(school.director.post("/api/pieces/on-paper", json=CHORALE))
    school.ids["piece"], school.ids["part"] = piece["id"], piece["parts"][0]["id"]
    return school


def split(school: School, **body):
    url = f"/api/parts/{school.ids['part']}/chunks"
    view = ok(school.director.post(url, json={"version": 0, **body}))
    school.ids["chunks"] = view["chunks"]
    return [chunk["label"] for chunk in view["chunks"]]


def test_it_is_there_with_its_measures_letters_and_tempo(paper: School):
    detail = ok(paper.director.get(f"/api/parts/{paper.ids['part']}"))
    part = detail["part"]
    assert (part["notes"], part["measures"], part["last_number"]) == (0, 33, "32")
    assert (part["goal_bpm"], part["time"], part["played_on"]) == (96, "3/4", "Clarinet")
    (listed,) = ok(paper.director.get("/api/pieces"))
    assert listed["parts"][0]["section_ids"] == [paper.ids["section"]], "its players are suggested"
    url = f"/api/parts/{paper.ids['part']}/place"
    assert ok(paper.director.get(url, params={"say": "third measure of A"}))["label"] == "11"
    assert "svg" in ok(paper.director.get(f"/api/parts/{paper.ids['part']}/engraving"))


def test_it_is_divided_at_its_letters_and_else_every_four_measures(paper: School):
    rest = "5–8 9–12 13–16 17–20 21–22 23–26 27–30 31–32"
    assert split(paper, op="propose", by="phrases") == ["pickup to 1–4", *rest.split()]


def test_drills_that_need_no_notes_are_offered_the_others_say_why(paper: School):
    split(paper, op="by-measures", measures=4)
    chunk = paper.ids["chunks"][2]["id"]
    url = f"/api/parts/{paper.ids['part']}/ranking"
    ranking = ok(paper.director.get(url, params={"chunk_id": chunk}))
    fit = {one["drill"] for one in ranking["drills"] if not one["refused"]}
    assert {"alone", "backward", "cumulative", "stops", "off-beat-click", "run-through"} <= fit
    refused = next(one for one in ranking["drills"] if one["drill"] == "long-short")["refused"]
    assert refused == "Only the measures of this part are known here, not its notes."


def test_it_is_sent_counted_and_graded(paper: School):
    split(paper, op="by-measures", measures=4)
    chunk = {"chunk_id": paper.ids["chunks"][2]["id"], "settings": {}}
    ladder = {"start_bpm": 84, "goal_bpm": 96, "step_bpm": 4}
    items = [{**chunk, "drill": name, "ladder": ladder} for name in ("alone", "backward")]
    assigned(paper, *items)
    today = ok(paper.students[0].get("/api/me/today"))
    assert [line["chunk"] for line in today] == ["9–12", "9–12"]
    stand = ok(paper.students[0].get(f"/api/me/stand/{paper.ids['items'][0]}"))
    step = stand["worked"]["steps"][0]
    assert (step["svg"], step["sounds"], step["quarters"]) == (None, [], "12")
    links = ok(paper.students[0].get(f"/api/me/stand/{paper.ids['items'][1]}"))["worked"]["steps"]
    assert [s["place"] for s in links] == ["12", "11–12", "10–12", "9–12"]
    assert [s["name"] for s in links] == ["12", "11–12", "10–12", "All of 9–12"]
    climb = [
        a_repetition(paper.ids["items"][0], tempo=tempo, second=60 * place + 15 * n)
        for place, tempo in enumerate((84, 88, 92, 96))
        for n in range(3)
    ]
    changed = hand_in(paper.students[0], *climb)
    assert not changed["doubted"]
    assert level(paper, chunk=2) == 5, "three clean in a row at goal"


def test_its_sheet_names_the_measures_to_look_up(paper: School):
    split(paper, op="by-measures", measures=4)
    item = {
        "chunk_id": paper.ids["chunks"][2]["id"],
        "drill": "cumulative",
        "settings": {},
        "ladder": {"start_bpm": 84, "goal_bpm": 96, "step_bpm": 4},
    }
    assigned(paper, item)
    job = ok(paper.director.post(f"/api/sheets/of/{paper.ids['assignment']}"))
    paper.work_off()
    done = ok(paper.director.get(f"/api/sheets/jobs/{job['id']}"))
    assert done["state"] == "done", done["message"]
    pdf = paper.director.get(f"/api/sheets/jobs/{job['id']}/pdf").content
    text = "\n".join(page.extract_text() for page in PdfReader(BytesIO(pdf)).pages)
    assert "9–12" in text
    assert "9–10" in text
    assert "Play it from your own part." in text


def test_whoever_is_injured_is_told_to_follow_it(paper: School):
    split(paper, op="by-measures", measures=4)
    item = {
        "chunk_id": paper.ids["chunks"][2]["id"],
        "drill": "alone",
        "settings": {},
        "ladder": {"start_bpm": 84, "goal_bpm": 96, "step_bpm": 4},
    }
    hurt = paper.ids["students"][0]
    body = an_assignment(paper, item, exceptions={hurt: "injured"})
    ok(paper.director.post("/api/assignments", json=body))
    sent_long_ago(paper)
    assert ok(paper.students[0].get("/api/me/today"))[0]["note"] == "To listen to and follow only"


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"time": "4/5"}, "no time signature"),
        ({"time": "²/4"}, "no time signature"),
        ({"pickup": "3"}, "shorter than a measure"),
        ({"letters": [{"number": 40, "letter": "C"}]}, "no measure 40"),
        ({"goal_bpm": 350}, "between 20 and 300"),
    ],
)
def test_measures_that_cannot_be_are_refused_in_words(school: School, wrong, said):
    answer = school.director.post("/api/pieces/on-paper", json={**CHORALE, **wrong})
    assert answer.status_code in (400, 409, 422)
    assert said in answer.json()["detail"]
