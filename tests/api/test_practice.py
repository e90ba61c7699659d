"""From the bench to the Wall, through the API on the real database."""

from uuid import UUID, uuid4

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DBAPIError

from crumb import admin
from crumb.jobs.recomputing import rebuild
from crumb.store.tables import Evidence, Mastery
from tests.api.school import (
    School,
    a_repetition,
    an_assignment,
    an_item,
    assigned,
    edit,
    hand_in,
    level,
    ok,
    play,
)


def three_clean(item: str, tempo: float, *, step: int = 0, start: float = 0):
    return [a_repetition(item, tempo=tempo, step=step, second=start + 12 * i) for i in range(3)]


def test_the_bench_shows_notation_ladder_minutes_and_burst(music_school: School):
    body = an_item(music_school, 4, "long-short")
    worked = ok(
        music_school.director.post(f"/api/parts/{music_school.ids['part']}/bench", json=body)
    )
    assert worked["rungs"] == [82, 86, 90, 94, 98, 102, 106]
    varied, written = worked["steps"]
    assert (varied["burst_bpm"], written["burst_bpm"]) == (106, None)
    assert all(step["svg"].startswith("<svg") for step in worked["steps"])
    assert (varied["quarters"], varied["click"], worked["beat"]) == ("16", "1", "1")
    # 4 x (16 quarters + breath) and 3 x (9 quarters + breath) at 82
    assert worked["cycle_seconds"] == pytest.approx(4 * (16 * 60 / 82 + 2) + 3 * (9 * 60 / 82 + 2))


def test_a_drill_that_does_not_fit_says_so_on_the_bench(music_school: School):
    body = an_item(music_school, 16, "long-short")  # the song at R: no run
    answer = music_school.director.post(f"/api/parts/{music_school.ids['part']}/bench", json=body)
    assert answer.status_code == 422
    assert "four equal notes" in answer.json()["detail"]


def test_bench_and_preview_say_the_same_time_for_a_climb(music_school: School):
    school = music_school
    item = an_item(school, 5, "two-notes")
    worked = ok(school.director.post(f"/api/parts/{school.ids['part']}/bench", json=item))
    shown = ok(school.director.post("/api/assignments/preview", json=an_assignment(school, item)))
    (line,) = shown["students"][0]["items"]
    assert line["seconds"] == worked["climb_seconds"]


def test_the_director_sees_what_each_student_will_get_before_sending(music_school: School):
    school = music_school
    body = an_assignment(school, an_item(school, 4, "long-short"), an_item(school, 5))
    shown = ok(school.director.post("/api/assignments/preview", json=body))
    assert [s["name"] for s in shown["students"]] == ["Player 0", "Player 1"]
    seconds = [i["seconds"] for i in shown["students"][0]["items"]]
    assert sum(seconds) == min(20 * 60, shown["climb_seconds"])
    assert shown["days"] == 10
    assert ok(school.students[0].get("/api/me/today")) == []


def test_a_student_left_out_gets_nothing(music_school: School):
    school = assigned(music_school, left_out=[music_school.ids["students"][1]])
    assert len(ok(school.students[0].get("/api/me/today"))) == 1
    assert ok(school.students[1].get("/api/me/today")) == []


@pytest.mark.parametrize(
    "wrong",
    [
        {"due_on": "2020-01-01"},
        {"minutes_a_day": 0},
        {"items": []},
    ],
)
def test_an_assignment_that_cannot_be_is_refused(music_school: School, wrong):
    body = {**an_assignment(music_school), **wrong}
    assert music_school.director.post("/api/assignments", json=body).status_code == 422
    assert ok(music_school.director.get("/api/assignments")) == []


def test_three_clean_at_each_rung_climb_the_ladder_and_lift_the_level(music_school: School):
    school = assigned(music_school)
    student, (item,) = school.students[0], school.ids["items"]
    for i, rung in enumerate((82, 86, 90, 94, 98, 102)):
        (state,) = play(student, *three_clean(item, rung, start=120 * i))
        assert state["climb"]["tempo"] == rung + 4
        assert level(school) == 3
    (state,) = play(student, *three_clean(item, 106, start=1200))
    assert state["climb"]["is_finished"]
    assert level(school) == 5
    assert ok(student.get("/api/me/today"))[0]["is_finished"]


def test_two_slips_take_the_tempo_down(music_school: School):
    school = assigned(music_school)
    (item,) = school.ids["items"]
    slips = [a_repetition(item, clean=False, second=i * 12) for i in range(2)]
    (state,) = play(school.students[0], *slips)
    assert (state["climb"]["tempo"], state["climb"]["told"]) == (77, "down")


def test_handing_the_same_repetition_in_twice_changes_nothing(music_school: School, new_session):
    school = assigned(music_school)
    repetitions = three_clean(school.ids["items"][0], 82)
    play(school.students[0], *repetitions)
    changed = [{**r, "is_clean": False, "tempo_bpm": 106} for r in repetitions]
    nothing = {"items": [], "levels": [], "doubted": []}
    assert hand_in(school.students[0], *changed) == nothing
    with new_session() as session:
        rows = session.query(Evidence).filter_by(student_id=school.ids["students"][0]).all()
    assert len(rows) == 3
    assert all(row.is_clean and row.tempo_bpm == 82 for row in rows)


def test_repetitions_that_arrive_late_count_by_when_they_were_played(music_school: School):
    school = assigned(music_school)
    one, two, three = three_clean(school.ids["items"][0], 82)
    play(school.students[0], three)
    play(school.students[0], one)
    (state,) = play(school.students[0], two)
    assert state["climb"]["tempo"] == 86


def test_what_was_taken_back_does_not_count_but_its_record_stays(music_school: School):
    school = assigned(music_school, an_item(music_school, start=106))
    repetitions = three_clean(school.ids["items"][0], 106)
    play(school.students[0], *repetitions)
    assert level(school) == 5
    (state,) = hand_in(school.students[0], taken_back=[repetitions[1]["id"]])["items"]
    assert state["climb"]["in_a_row"] == 2
    assert hand_in(school.students[0], taken_back=[repetitions[1]["id"]])["items"] == [state]
    assert level(school) == 0
    evidence = ok(
        school.director.get(
            f"/api/wall/{school.ids['part']}/evidence/{school.ids['students'][0]}"
            f"/{school.ids['chunks'][4]['id']}"
        )
    )
    assert [r["is_retracted"] for r in evidence["repetitions"]] == [False, True, False]


def test_no_path_rewrites_a_repetition_not_even_sql(music_school: School, new_session):
    school = assigned(music_school)
    play(school.students[0], *three_clean(school.ids["items"][0], 82))
    for statement in (
        "update evidence set is_clean = false",
        "delete from evidence",
        "truncate evidence cascade",
        "delete from retraction",
    ):
        with new_session() as session, pytest.raises(DBAPIError, match="append-only"):
            session.execute(text(statement))


@pytest.mark.parametrize(
    "wrong",
    [
        {"step": 9},
        {"tempo_bpm": 5},
        {"tempo_bpm": "fast"},
        {"played_at": "0001-01-01T00:00:00+14:00"},
        {"played_at": "9999-12-31T23:59:59-14:00"},
        {"played_at": "2026-01-01T12:00:00"},
        {"id": "not an id"},
    ],
)
def test_a_repetition_that_cannot_be_is_refused_whole(music_school: School, wrong):
    school = assigned(music_school)
    (item,) = school.ids["items"]
    batch = [a_repetition(item), {**a_repetition(item, second=5), **wrong}]
    answer = school.students[0].post("/api/me/repetitions", json={"repetitions": batch})
    assert answer.status_code in (404, 422)
    assert level(school) == 0


def test_two_students_repetitions_with_one_id_are_not_mixed_up(music_school: School):
    school = assigned(music_school)
    repetition = a_repetition(school.ids["items"][0])
    play(school.students[0], repetition)
    answer = school.students[1].post("/api/me/repetitions", json={"repetitions": [repetition]})
    assert answer.status_code == 422


def test_the_kind_of_a_step_is_read_from_the_assignment(music_school: School):
    school = assigned(music_school, an_item(music_school, 4, "long-short", start=106))
    (item,) = school.ids["items"]
    play(school.students[0], *three_clean(item, 106, step=0))
    assert level(school) == 1  # a varied rhythm shows the notes, at whatever tempo
    play(school.students[0], *three_clean(item, 106, step=1, start=60))
    assert level(school) == 5


def test_a_withdrawn_assignment_leaves_the_list_and_keeps_its_evidence(music_school: School):
    school = assigned(music_school, an_item(music_school, start=106))
    (item,) = school.ids["items"]
    play(school.students[0], *three_clean(item, 82))
    path = f"/api/assignments/{school.ids['assignment']}"
    ok(school.director.post(f"{path}/withdraw"))
    assert ok(school.students[0].get("/api/me/today")) == []
    late = three_clean(item, 106, start=300)  # played on a device that was not told yet
    play(school.students[0], *late)
    assert level(school) == 5
    ok(school.director.post(f"{path}/restore"))
    assert len(ok(school.students[0].get("/api/me/today"))) == 1


def test_levels_follow_the_chunks_when_they_are_cut_anew(music_school: School):
    school = assigned(music_school, an_item(music_school, start=106))
    play(school.students[0], *three_clean(school.ids["items"][0], 106))
    cut = edit(school, op="split", version=1, at={"index": 10, "at": "0"})
    labels = [c["label"] for c in cut["chunks"]]
    wall = ok(school.director.get(f"/api/wall/{school.ids['part']}/{school.ids['section']}"))
    levels = wall["rows"][0]["levels"]
    assert levels[labels.index("9→")] == 5  # the whole was proved, so its halves are
    edit(school, op="undo", version=2)
    merged = edit(school, op="merge", version=1, place=4)
    wall = ok(school.director.get(f"/api/wall/{school.ids['part']}/{school.ids['section']}"))
    place = [c["label"] for c in merged["chunks"]].index("9–12→")
    assert wall["rows"][0]["levels"][place] == 0  # nobody proved the join


def test_a_new_goal_changes_what_is_at_tempo(music_school: School):
    school = assigned(music_school, an_item(music_school, start=106))
    play(school.students[0], *three_clean(school.ids["items"][0], 106))
    path = f"/api/parts/{school.ids['part']}/goal"
    ok(school.director.put(path, json={"goal_bpm": 110}))
    assert level(school) == 3
    ok(school.director.put(path, json={"goal_bpm": 100}))
    assert level(school) == 5
    assert school.director.put(path, json={"goal_bpm": 9}).status_code == 422


def test_the_wall_says_how_the_section_stands(music_school: School):
    school = assigned(music_school, an_item(music_school, start=106))
    play(school.students[0], *three_clean(school.ids["items"][0], 106))
    wall = ok(school.director.get(f"/api/wall/{school.ids['part']}/{school.ids['section']}"))
    assert wall["standings"][4] == "1 of 2 at 5 or more; 1 at 0"


def test_a_student_sees_only_their_own(music_school: School):
    school = assigned(music_school, an_item(music_school, start=106))
    play(school.students[0], *three_clean(school.ids["items"][0], 106))
    mine = ok(school.students[0].get("/api/me/map"))[0]
    others = ok(school.students[1].get("/api/me/map"))[0]
    assert mine["cells"][4]["level"] == 5
    assert {cell["level"] for cell in others["cells"]} == {0}


def test_the_stand_brings_music_steps_and_where_one_stopped(music_school: School):
    school = assigned(music_school, an_item(music_school, 4, "backward"))
    (item,) = school.ids["items"]
    play(school.students[0], a_repetition(item, second=0), a_repetition(item, second=7))
    stand = ok(school.students[0].get(f"/api/me/stand/{item}"))
    assert stand["climb"]["in_a_row"] == 2
    assert stand["worked"]["count_in"] == ["1"] * 4
    assert [s["kind"] for s in stand["worked"]["steps"]] == ["set"] * len(stand["worked"]["steps"])
    assert all(s["svg"].startswith("<svg") for s in stand["worked"]["steps"])
    assert stand["clean_means"]


def test_levels_can_be_rebuilt_from_evidence(music_school: School, new_session):
    school = assigned(music_school, an_item(music_school, start=106))
    play(school.students[0], *three_clean(school.ids["items"][0], 106))
    assert rebuild(new_session) == []
    with new_session() as session:
        key = (UUID(school.ids["students"][0]), UUID(school.ids["chunks"][4]["id"]))
        session.get_one(Mastery, key).level = 1
        session.commit()
    (found,) = rebuild(new_session)
    assert (found.what, found.stored[:7], found.true[:7]) == ("level", "level 1", "level 5")
    assert rebuild(new_session) == []


def test_the_housekeeping_command_says_what_it_mended(
    music_school: School, new_session, monkeypatch: pytest.MonkeyPatch, capsys
):
    school = assigned(music_school, an_item(music_school, start=106))
    play(school.students[0], *three_clean(school.ids["items"][0], 106))
    monkeypatch.setattr(admin, "new_session", new_session)
    assert admin.main(["rebuild-levels"]) == 0
    with new_session() as session:
        key = (UUID(school.ids["students"][0]), UUID(school.ids["chunks"][4]["id"]))
        session.get_one(Mastery, key).level = 3
        session.commit()
    assert admin.main(["rebuild-levels"]) == 1
    assert "stored level 3" in capsys.readouterr().out
    assert admin.main([]) == 2


def test_two_ways_are_compared_by_what_was_played_and_heard(music_school: School):
    school = assigned(music_school, an_item(music_school, 4, "two-ways"))
    item = school.ids["items"][0]
    url = f"/api/me/stand/{item}/ways"
    before = ok(school.students[0].get(url))
    assert [way["tries"] for way in before["ways"]] == [0, 0]
    assert before["verdict"].startswith("Try both ways")
    slips = [{**r, "is_clean": False} for r in three_clean(item, 82, step=1, start=60)]
    play(school.students[0], *three_clean(item, 82), *slips)
    rating = {"id": str(uuid4()), "way": 0, "intonation": 5, "tone": 3}
    ok(school.students[0].post(url, json=rating))
    ok(school.students[0].post(url, json={**rating, "intonation": 1}))  # the same one again
    other = {"id": str(uuid4()), "way": 1, "intonation": 2, "tone": 3}
    after = ok(school.students[0].post(url, json=other))
    assert [way["clean"] for way in after["ways"]] == [3, 0]
    assert [way["intonation"] for way in after["ways"]] == [5, 2]
    assert "cleaner at every tempo tried" in after["verdict"]
    assert "Intonation is better with “Usual fingering”" in after["verdict"]
    student, chunk = school.ids["students"][0], school.ids["chunks"][4]["id"]
    seen = school.director.get(f"/api/wall/{school.ids['part']}/evidence/{student}/{chunk}")
    assert ok(seen)["ways"] == [after["verdict"]]
    assert school.students[0].get(url.replace(item, str(uuid4()))).status_code == 404
    wrong = school.students[0].post(url, json={**other, "id": str(uuid4()), "tone": 6})
    assert wrong.status_code == 422


def test_without_a_start_or_a_step_the_ladder_fits_the_minutes(music_school: School):
    school = music_school
    url = f"/api/parts/{school.ids['part']}/bench"
    body = an_item(school, 4, "standard-set")
    worked = ok(school.director.post(url, json={**body, "ladder": {"goal_bpm": 106}}))
    assert 5 <= len(worked["rungs"]) <= 6
    assert worked["rungs"][0] == 64
    assert worked["climb_seconds"] <= 20 * 60
    assert worked["ladder"]["today"] == len(worked["rungs"])
    assert worked["ladder"]["finer"]["seconds"] > worked["climb_seconds"]
    short = {"goal_bpm": 106, "minutes": 5}
    hurried = ok(school.director.post(url, json={**body, "ladder": short}))
    assert hurried["ladder"]["today"] < len(hurried["rungs"])
    named = ok(school.director.post(url, json={**an_item(school, 4, "name-it"), "ladder": short}))
    assert named["ladder"] is None
    assert named["rungs"] == [64]


def test_a_uk_school_is_told_of_bars_and_prints_on_a4(music_school: School):
    school = music_school
    drills = f"/api/parts/{school.ids['part']}/bench"

    def said() -> str:
        titles = [drill["title"] for drill in ok(school.director.get("/api/drills"))]
        refusal = school.director.post(drills, json=an_item(school, 16, "backward")).json()
        return " ".join([*titles, str(refusal.get("detail", ""))])

    assert "Measure by measure" in said()
    me = ok(school.director.put("/api/program", json={"words": "uk"}))
    assert (me["words"], me["paper"]) == ("uk", "a4")
    assert "Bar by bar" in said()
    assert "easure" not in said()
    kept = ok(school.director.put("/api/program", json={"paper": "us-letter"}))
    assert (kept["words"], kept["paper"], kept["time_zone"]) == ("uk", "us-letter", "UTC")
    back = ok(school.director.put("/api/program", json={"words": "us"}))
    assert (back["words"], back["paper"]) == ("us", "us-letter")
    assert school.director.put("/api/program", json={"words": "fr"}).status_code == 422
