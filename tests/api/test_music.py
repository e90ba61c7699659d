import pytest

from crumb.demo.etude import TITLE
from crumb.demo.people import COMPOSER
from tests.api.school import ETUDE, School, brought_in, edit, ok


def test_a_part_is_brought_in_with_what_a_director_wants_to_know(school: School):
    piece = brought_in(school, ETUDE)
    assert (piece["title"], piece["composer"]) == (TITLE, COMPOSER)
    (part,) = piece["parts"]
    known = {k: part[k] for k in ("name", "key_fifths", "time", "tempo", "goal_bpm", "measures")}
    assert known == {
        "name": "Clarinet in B♭",
        "key_fifths": 1,
        "time": "4/4",
        "tempo": 106,
        "goal_bpm": 106,
        "measures": 65,
    }
    assert part["has_pickup"]
    assert part["last_number"] == "64"
    assert part["findings"] == []


@pytest.mark.parametrize(
    ("name", "data", "reason"),
    [
        ("part.xml", b"%PDF-1.4", "PDF"),
        ("part.musicxml", b"", "empty"),
    ],
)
def test_a_file_that_is_no_music_says_why_and_leaves_nothing(school: School, name, data, reason):
    answer = school.director.post("/api/imports", files={"file": (name, data)})
    assert answer.status_code == 422
    assert reason in answer.json()["detail"]
    assert ok(school.director.get("/api/pieces")) == []


@pytest.mark.parametrize(
    ("name", "data", "reason"),
    [
        ("part.musicxml", ETUDE[:5000], "cut off"),
        ("part.mxl", b"PK\x03\x04 broken", "broken"),
    ],
)
def test_a_file_that_only_looks_like_music_says_why_once_it_was_read(
    school: School, name: str, data: bytes, reason: str
):
    job = ok(school.director.post("/api/imports", files={"file": (name, data)}))
    school.work_off()
    ended = ok(school.director.get(f"/api/imports/{job['id']}"))
    assert ended["state"] == "failed"
    assert reason in ended["message"]
    assert ok(school.director.get("/api/pieces")) == []


def test_what_does_not_add_up_is_told_with_measure_numbers(school: School):
    short = ETUDE.replace(b"<duration>4</duration>", b"<duration>3</duration>", 2)
    piece = brought_in(school, short, "odd.musicxml")
    assert any("Shorter than" in text for text in piece["parts"][0]["findings"])


def test_the_part_is_engraved(music_school: School):
    svg = ok(music_school.director.get(f"/api/parts/{music_school.ids['part']}/engraving"))["svg"]
    assert svg.startswith("<svg")
    assert 'id="m64"' in svg


def test_edits_survive_and_can_be_undone_and_redone(music_school: School):
    school = music_school
    path = f"/api/parts/{school.ids['part']}/chunks"
    before = ok(school.director.get(path))
    moved = edit(school, op="move-edge", version=1, place=0, beats=1)
    assert moved["chunks"][0]["label"] == "pickup to 1–3 beat 1→"
    split = edit(school, op="split", version=2, at={"index": 5, "at": "3/2"})
    assert len(split["chunks"]) == len(before["chunks"]) + 1
    landed = edit(school, op="landing", version=3, place=0, on=False)
    assert not landed["chunks"][0]["landing"]
    assert ok(school.director.get(path)) == landed
    back = landed
    for version in (4, 3, 2):
        back = edit(school, op="undo", version=version)
    assert back["chunks"] == before["chunks"]
    assert back["can_redo"]
    again = edit(school, op="redo", version=1)
    assert again["chunks"] == moved["chunks"]
    merged = edit(school, op="merge", version=2, place=0)
    assert not merged["can_redo"]
    assert len(merged["chunks"]) == len(before["chunks"]) - 1


def test_two_directors_do_not_overwrite_each_other(music_school: School):
    edit(music_school, op="merge", version=1, place=0)
    path = f"/api/parts/{music_school.ids['part']}/chunks"
    late = music_school.director.post(path, json={"op": "merge", "version": 1, "place": 3})
    assert late.status_code == 409


@pytest.mark.parametrize(
    ("body", "status"),
    [
        ({"op": "undo", "version": 0}, 409),
        ({"op": "redo", "version": 1}, 422),
        ({"op": "by-measures", "version": 1, "measures": 0}, 422),
        ({"op": "split", "version": 1, "at": {"index": 5, "at": "1.5"}}, 422),
        ({"op": "split", "version": 1, "at": {"index": 900, "at": "0"}}, 422),
        ({"op": "landing", "version": 1, "place": 31, "on": True}, 422),
        ({"op": "tear", "version": 1}, 422),
    ],
)
def test_an_edit_that_cannot_be_is_refused_and_nothing_changes(music_school: School, body, status):
    path = f"/api/parts/{music_school.ids['part']}/chunks"
    before = ok(music_school.director.get(path))
    assert music_school.director.post(path, json=body).status_code == status
    assert ok(music_school.director.get(path)) == before


def test_chunks_that_come_back_are_the_same_chunks(music_school: School):
    first = music_school.ids["chunks"][0]["id"]
    edit(music_school, op="by-measures", version=1, measures=4)
    again = edit(music_school, op="by-measures", version=2, measures=2)
    assert again["chunks"][0]["id"] == first


def test_the_first_cut_needs_no_split_before_it(school: School):
    piece = brought_in(school, ETUDE)
    school.ids["part"] = piece["parts"][0]["id"]
    cut = edit(school, op="split", version=0, at={"index": 33, "at": "0"})
    assert [c["label"] for c in cut["chunks"]] == ["pickup to 1–32→", "33–64"]
