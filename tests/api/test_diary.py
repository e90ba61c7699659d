"""What a student says at the Stand: where a slip fell, how it feels, what a helper ticked."""

from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from fastapi import FastAPI
from sqlalchemy import select, text, update
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session, sessionmaker

from crumb.jobs.recomputing import rebuild
from crumb.store.tables import Diary, Evidence, SlipPlace
from tests.api.school import (
    School,
    a_plan,
    a_repetition,
    a_school,
    an_item,
    assigned,
    hand_in,
    level,
    ok,
    play,
    with_music,
)


@pytest.fixture
def school(app: FastAPI, new_session: sessionmaker[Session]) -> School:
    return assigned(with_music(a_school(app, new_session)))


def slip_of(repetition: str, index: int | None = 9, at: str = "1/2", what: str | None = "shift"):
    place = None if index is None else {"index": index, "at": at}
    return {"id": str(uuid4()), "repetition_id": repetition, "at": place, "what": what}


def line(kind: str, **said: Any) -> dict[str, Any]:
    return {"id": str(uuid4()), "kind": kind, "at": datetime.now(UTC).isoformat(), **said}


def slipped(school: School, count: int = 1) -> list[str]:
    """So many slips of the first student's drill; their ids."""
    rows = [
        a_repetition(school.ids["items"][0], clean=False, tempo=82, second=30 * i)
        for i in range(count)
    ]
    play(school.students[0], *rows)
    return [row["id"] for row in rows]


def evidence(school: School) -> dict[str, Any]:
    path = f"{school.ids['part']}/evidence/{school.ids['students'][0]}"
    return ok(school.director.get(f"/api/wall/{path}/{school.ids['chunks'][4]['id']}"))


def test_a_slip_falls_on_the_note_that_was_tapped(school: School):
    (slip,) = slipped(school)
    measure = school.ids["chunks"][4]["start"]["index"]
    hand_in(school.students[0], slips=[slip_of(slip, measure, "1")])
    (place,) = evidence(school)["slips"]
    assert place["place"].endswith("beat 2")
    assert place["count"] == 1


def test_saying_it_again_of_the_same_place_puts_it_right(school: School, new_session):
    (slip,) = slipped(school)
    measure = school.ids["chunks"][4]["start"]["index"]
    hand_in(school.students[0], slips=[slip_of(slip, measure, "1", None)])
    hand_in(school.students[0], slips=[slip_of(slip, measure, "1", "rhythm")])
    assert [one["count"] for one in evidence(school)["slips"]] == [1]
    with new_session() as session:
        assert len(session.scalars(select(SlipPlace)).all()) >= 2  # nothing was overwritten


def test_a_slip_and_its_place_may_come_in_one_batch_and_twice(school: School):
    row = a_repetition(school.ids["items"][0], clean=False)
    slip = slip_of(row["id"], school.ids["chunks"][4]["start"]["index"], "0")
    for _ in range(2):
        hand_in(school.students[0], row, slips=[slip])
    assert [one["count"] for one in evidence(school)["slips"]] == [1]


def test_what_is_no_slip_of_ones_own_is_refused(school: School):
    clean = a_repetition(school.ids["items"][0])
    play(school.students[0], clean)
    (slip,) = slipped(school)
    post = "/api/me/repetitions"
    cases = [
        (school.students[0], slip_of(clean["id"]), 422),
        (school.students[0], slip_of(slip, 9_999, "0"), 422),
        (school.students[0], slip_of(str(uuid4())), 404),
        (school.students[1], slip_of(slip), 404),
        (school.students[0], slip_of(slip, what="laziness"), 422),
    ]
    for student, said, status in cases:
        assert student.post(post, json={"slips": [said]}).status_code == status, said
    assert evidence(school)["slips"] == []


def test_three_slips_of_one_kind_choose_the_drill_of_the_plan(school: School):
    # The chunk is known, but slow: a cure has something to do.
    assigned(school, an_item(school, start=70))
    item = next(
        i["item_id"] for i in ok(school.students[0].get("/api/me/today")) if i["tempo"] == 70
    )
    rows = [a_repetition(item, tempo=70, second=40 * i, clean=i % 2 == 0) for i in range(8)]
    play(school.students[0], *rows)
    measure = school.ids["chunks"][4]["start"]["index"]

    def reasons() -> str:
        actor = {"student_id": str(school.ids["students"][0])}
        plan = ok(school.director.post("/api/plans/preview", json=a_plan(school), params=actor))
        items = [i for day in plan["days"] for i in day["items"]]
        here = [i for i in items if i["chunk_id"] == school.ids["chunks"][4]["id"]]
        return " ".join(i["why"] for i in here)

    assert "a wrong rhythm" not in reasons().lower()
    slips = [row["id"] for row in rows if not row["is_clean"]]
    said = [slip_of(one, measure, str(n), "rhythm") for n, one in enumerate(slips[:3])]
    hand_in(school.students[0], slips=said)
    assert "a wrong rhythm" in reasons().lower()


def test_a_slip_that_is_taken_back_is_no_place_either(school: School):
    (slip,) = slipped(school)
    measure = school.ids["chunks"][4]["start"]["index"]
    hand_in(school.students[0], slips=[slip_of(slip, measure, "1")], taken_back=[slip])
    assert evidence(school)["slips"] == []


def test_that_it_hurts_stands_first_among_what_a_teacher_sees(school: School):
    student = school.students[0]
    hand_in(student, lines=[line("feeling", what="hurts")])
    hand_in(student, lines=[line("feeling", what="tired"), line("feeling", what="tight")])
    news = ok(school.director.get("/api/wall/news"))
    assert [one["line"]["said"]["what"] for one in news] == ["hurts", "tight", "tired"]
    assert news[0]["student"] == "Player 0"


def test_that_it_hurts_is_not_lost_among_many_that_are_tired(school: School):
    hand_in(school.students[0], lines=[line("feeling", what="hurts")])
    hand_in(school.students[1], lines=[line("feeling", what="tired") for _ in range(230)])
    news = ok(school.director.get("/api/wall/news"))
    assert news[0]["line"]["said"]["what"] == "hurts"


def test_a_diary_is_read_by_its_student_and_the_teacher_and_by_nobody_else(school: School):
    student, mate = school.students
    said = [
        line("minutes", category="focus", seconds=300),
        line("minutes", category="focus", seconds=60),
        line("minutes", category="pleasure", seconds=90),
        line("tone", before=2, after=4, what="more air"),
        line("stamina", seconds=240, loud=3),
        line("journal", what="The run at R", hard="The break"),
        line("bookmark", fragment=3, of=22, times=0),
        line("refused", what="played 1", said="This drill has no such step."),
    ]
    for _ in range(2):
        hand_in(student, lines=said)
    mine = ok(student.get("/api/me/diary"))
    assert mine["seconds"] == {"focus": 360, "pleasure": 90}
    assert len(mine["lines"]) == len(said)
    path = f"/api/wall/diary/{school.ids['students'][0]}"
    assert ok(school.director.get(path)) == mine
    assert mate.get(path).status_code == 403
    assert ok(mate.get("/api/me/diary")) == {"seconds": {}, "lines": []}


@pytest.mark.parametrize(
    "wrong",
    [
        {"kind": "minutes", "category": "sleep", "seconds": 5},
        {"kind": "minutes", "category": "focus", "seconds": 0},
        {"kind": "feeling", "what": "bored"},
        {"kind": "tone", "before": 0, "after": 6},
        {"kind": "diploma"},
    ],
)
def test_a_line_that_says_nothing_is_refused(school: School, wrong: dict[str, Any]):
    body = {"lines": [{**line(wrong["kind"]), **wrong}]}
    assert school.students[0].post("/api/me/repetitions", json=body).status_code == 422


def test_a_line_of_a_drill_of_somebody_else_is_refused(school: School):
    body = {"lines": [line("feeling", what="tired", item_id=str(uuid4()))]}
    assert school.students[0].post("/api/me/repetitions", json=body).status_code == 404


def test_no_path_rewrites_what_was_said(school: School, new_session):
    (slip,) = slipped(school)
    hand_in(
        school.students[0], slips=[slip_of(slip, 9, "0")], lines=[line("feeling", what="tired")]
    )
    for change in (update(SlipPlace).values(what="tone"), update(Diary).values(kind="tone")):
        with new_session() as session, pytest.raises(DBAPIError, match="append-only"):
            session.execute(change)
    for table in ("slip_place", "diary"):
        with new_session() as session, pytest.raises(DBAPIError, match="append-only"):
            session.execute(text(f"delete from {table}"))


def test_what_a_helper_ticks_is_kept_apart_and_proves_as_much_as_it_may(
    school: School, new_session
):
    rows = [
        {**a_repetition(school.ids["items"][0], second=30 * i), "source": "helper"}
        for i in range(3)
    ]
    play(school.students[0], *rows)
    with new_session() as session:
        sources = session.scalars(
            select(Evidence.source).where(Evidence.student_id == school.ids["students"][0])
        ).all()
    assert sources == ["helper"] * 3
    assert level(school) == 3


def test_a_stalled_ladder_is_taken_another_way_to_the_same_goal(school: School):
    student, (item,) = school.students[0], school.ids["items"]
    stand = ok(student.get(f"/api/me/stand/{item}"))
    stops = next(one for one in stand["stalled"] if one["drill"] == "stops")
    assert stops["why"]
    taken = ok(student.post(f"/api/me/stand/{item}/instead", json={"drill": "stops"}))
    again = ok(student.post(f"/api/me/stand/{item}/instead", json={"drill": "stops"}))
    assert taken == again
    other = ok(student.get(f"/api/me/stand/{taken['item_id']}"))
    assert other["item"]["goal_bpm"] == 106
    assert other["item"]["chunk"] == stand["item"]["chunk"]
    # What the first one asks for stays to be shown, and nobody else is sent anything.
    assert item in [i["item_id"] for i in ok(student.get("/api/me/today"))]
    assert len(ok(school.students[1].get("/api/me/today"))) == 1


def test_another_way_begins_where_one_stands(school: School):
    student, (item,) = school.students[0], school.ids["items"]
    play(student, *[a_repetition(item, second=30 * i) for i in range(3)])  # up to 86
    taken = ok(student.post(f"/api/me/stand/{item}/instead", json={"drill": "cumulative"}))
    stand = ok(student.get(f"/api/me/stand/{taken['item_id']}"))
    assert stand["worked"]["rungs"][0] == 86


def test_only_what_was_offered_is_taken_instead(school: School):
    path = f"/api/me/stand/{school.ids['items'][0]}/instead"
    assert school.students[0].post(path, json={"drill": "name-it"}).status_code == 422
    assert school.students[0].post(path, json={"drill": "nonsense"}).status_code == 422
    stranger = f"/api/me/stand/{uuid4()}/instead"
    assert school.students[0].post(stranger, json={"drill": "stops"}).status_code == 404


def test_a_drill_of_one_layer_says_which_slips_it_judges(school: School):
    assigned(school, an_item(school, drill="count-it"))
    items = ok(school.students[0].get("/api/me/today"))
    stands = [ok(school.students[0].get(f"/api/me/stand/{i['item_id']}")) for i in items]
    counted = next(s for s in stands if s["worked"]["drill"] == "count-it")
    plain = next(s for s in stands if s["worked"]["drill"] == "alone")
    assert [k["kind"] for k in counted["slips"] if k["is_judged"]] == ["rhythm"]
    assert all(k["is_judged"] for k in plain["slips"])


def test_a_staircase_is_sent_and_climbed_as_one(school: School, new_session):
    wish = an_item(school, 5)
    wish["ladder"] |= {"way": "staircase"}
    assigned(school, wish)
    student = school.students[0]
    item = next(
        i["item_id"]
        for i in ok(student.get("/api/me/today"))
        if ok(student.get(f"/api/me/stand/{i['item_id']}"))["worked"]["way"] == "staircase"
    )
    rows = [a_repetition(item, second=30 * i) for i in range(3)]
    (state,) = play(student, *rows, a_repetition(item, tempo=86, clean=False, second=90))
    assert (state["climb"]["tempo"], state["climb"]["told"]) == (82, "down")
    assert rebuild(new_session) == []


@pytest.mark.parametrize(
    ("scale", "rungs"),
    [
        ("percent", [64, 75, 85, 96, 106]),
        ("traditional", [64, 72, 84, 96, 106]),
    ],
)
def test_a_ladder_goes_by_the_scale_that_was_chosen(school: School, scale: str, rungs: list[int]):
    wish = an_item(school)
    wish["ladder"] = {"start_bpm": 64, "goal_bpm": 106, "scale": scale}
    worked = ok(school.director.post(f"/api/parts/{school.ids['part']}/bench", json=wish))
    assert worked["rungs"] == rungs


def test_a_line_belongs_to_the_day_it_was_written_on(school: School):
    at = (datetime.now(UTC) - timedelta(days=2)).isoformat()
    hand_in(school.students[0], lines=[{**line("feeling", what="tired"), "at": at}])
    (entry,) = ok(school.students[0].get("/api/me/diary"))["lines"]
    assert entry["day"] == str((datetime.now(UTC) - timedelta(days=2)).date())
