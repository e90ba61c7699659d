"""One room for evidence: what comes in, what is doubted, what it changes, what stays."""

import threading
from datetime import UTC, datetime, timedelta
from uuid import UUID, uuid4

import pytest
from sqlalchemy import select, update
from sqlalchemy.orm import Session, sessionmaker

from crumb.core.drills import CATALOGUE
from crumb.core.evidence.model import Evidence as Played
from crumb.core.evidence.model import Source
from crumb.core.intake.facts import UnassignedEvidence
from crumb.core.score.position import Position, Span
from crumb.core.vocabulary import Role
from crumb.demo.etude import clarinet_etude
from crumb.formats.musicxml.writer import write_part
from crumb.jobs.recomputing import rebuild
from crumb.services.access import Actor
from crumb.services.evidence import sent_drills
from crumb.services.evidence.record_evidence import note
from crumb.services.lru_cache import LruCache
from crumb.store.codecs.evidence import evidence_row
from crumb.store.queries.evidence import put
from crumb.store.tables import Assignment, AssignmentItem, Evidence, Mastery, Program
from tests.api.school import (
    School,
    a_repetition,
    an_item,
    assigned,
    brought_in,
    hand_in,
    level,
    ok,
    play,
)
from tests.builders import F


def cell_path(school: School, chunk: int = 4) -> str:
    student, chunk_id = school.ids["students"][0], school.ids["chunks"][chunk]["id"]
    return f"/api/wall/{school.ids['part']}/evidence/{student}/{chunk_id}"


def log(school: School, chunk: int = 4) -> list[dict]:
    return ok(school.director.get(cell_path(school, chunk)))["repetitions"]


def cell(school: School) -> dict:
    return ok(school.director.get(cell_path(school)))


@pytest.fixture
def at_goal(music_school: School) -> School:
    """A drill whose ladder is the goal alone: three clean show level 5."""
    return assigned(music_school, an_item(music_school, start=106))


# What cannot be --------------------------------------------------------------------------------


def three(item: str, **change):
    return [{**a_repetition(item, tempo=106, second=12 * i), **change} for i in range(3)]


@pytest.mark.parametrize(
    ("change", "doubt"),
    [
        ({"played_at": "1970-01-01T12:00:00Z"}, "early"),
        ({"played_at": "2001-09-09T12:00:00+02:00"}, "early"),
        ({"played_at": (datetime.now(UTC) + timedelta(hours=23)).isoformat()}, "late"),
        ({"tempo_bpm": 400}, "fast"),
    ],
)
def test_what_nobody_can_have_played_is_kept_and_proves_nothing(at_goal, change, doubt):
    answer = hand_in(at_goal.students[0], *three(at_goal.ids["items"][0], **change))
    assert {one["doubt"] for one in answer["doubted"]} == {doubt}
    assert level(at_goal) == 0
    rows = log(at_goal)
    assert len(rows) == 3
    assert all(row["doubt"] for row in rows)


def test_three_passes_in_one_instant_are_one_and_two_doubts(at_goal):
    reps = three(at_goal.ids["items"][0], played_at=datetime.now(UTC).isoformat())
    answer = hand_in(at_goal.students[0], *reps)
    assert [one["doubt"] for one in answer["doubted"]] == ["hurried", "hurried"]
    assert level(at_goal) == 0
    # Handed in one by one it is the same.
    for rep in three(at_goal.ids["items"][0], played_at=datetime.now(UTC).isoformat()):
        hand_in(at_goal.students[0], rep)
    assert level(at_goal) == 0


def test_a_device_that_counted_what_is_doubted_is_told_where_the_ladder_stands(at_goal):
    item = at_goal.ids["items"][0]
    hand_in(at_goal.students[0], a_repetition(item, tempo=106))
    answer = hand_in(at_goal.students[0], a_repetition(item, tempo=106, second=0.5))
    (told,) = answer["items"]
    assert (told["item_id"], told["climb"]["in_a_row"]) == (item, 1)


def test_a_drill_that_a_busy_server_forgot_is_still_on_the_list(music_school, monkeypatch):
    school = assigned(music_school, an_item(music_school), an_item(music_school, chunk=6))
    one, other = school.ids["items"]
    monkeypatch.setattr(sent_drills, "_known", LruCache(1))
    play(school.students[0], a_repetition(one))
    both = play(school.students[0], a_repetition(one, second=60), a_repetition(other, second=90))
    assert {told["item_id"] for told in both} == {one, other}


def test_one_that_comes_late_from_between_two_others_is_doubted_too(at_goal):
    first, between, last = three(at_goal.ids["items"][0])
    between["played_at"] = (
        datetime.fromisoformat(first["played_at"]) + timedelta(seconds=1)
    ).isoformat()
    hand_in(at_goal.students[0], first, last)
    assert hand_in(at_goal.students[0], between)["doubted"][0]["doubt"] == "hurried"


def test_after_a_slip_of_the_finger_the_right_tap_counts(at_goal):
    wrong = a_repetition(at_goal.ids["items"][0], tempo=106, clean=False, second=0)
    right = a_repetition(at_goal.ids["items"][0], tempo=106, second=1)
    both = hand_in(at_goal.students[0], wrong, right, taken_back=[wrong["id"]])
    assert both["doubted"] == []
    assert both["items"][0]["climb"]["in_a_row"] == 1
    later = [a_repetition(at_goal.ids["items"][0], tempo=106, second=12 * i) for i in (1, 2)]
    play(at_goal.students[0], *later)
    assert level(at_goal) == 5


def test_slips_tapped_where_the_pass_broke_lower_what_is_told(at_goal):
    item = at_goal.ids["items"][0]
    play(at_goal.students[0], *three(item))
    before = cell(at_goal)
    slips = [a_repetition(item, tempo=106, clean=False, second=40 + 2 * i) for i in range(4)]
    answer = hand_in(at_goal.students[0], *slips)
    assert answer["doubted"] == []
    after = cell(at_goal)
    assert after["secure"]["median"] < before["secure"]["median"]
    assert sum(not row["is_clean"] for row in log(at_goal)) == 4


def test_a_jump_past_rungs_is_kept_with_its_reason_and_proves_nothing(music_school: School):
    school = assigned(music_school)
    reps = [{**r, "reason": "My teacher said so"} for r in three(school.ids["items"][0])]
    answer = hand_in(school.students[0], *reps)
    assert {one["doubt"] for one in answer["doubted"]} == {"jump"}
    assert answer["items"][0]["climb"]["tempo"] == 82
    assert level(school) == 0
    assert {row["reason"] for row in log(school)} == {"My teacher said so"}


def test_without_a_click_notes_are_learned_and_no_tempo_is_proved(music_school: School):
    school = assigned(music_school)
    answer = hand_in(school.students[0], *three(school.ids["items"][0], tempo_bpm=None))
    assert level(school) == 1
    assert answer["items"][0]["climb"]["told"] == "attempt"
    assert log(school)[0]["tempo_bpm"] is None


# Without an assignment -------------------------------------------------------------------------


def test_free_practice_of_a_chunk_counts_like_anything_else(at_goal):
    reps = [
        {
            "id": str(uuid4()),
            "part_id": at_goal.ids["part"],
            "chunk_id": at_goal.ids["chunks"][6]["id"],
            "tempo_bpm": 106,
            "is_clean": True,
            "played_at": (datetime.now(UTC) - timedelta(seconds=60 - 20 * i)).isoformat(),
        }
        for i in range(3)
    ]
    answer = hand_in(at_goal.students[0], free=reps)
    assert answer["levels"] == [{"chunk_id": at_goal.ids["chunks"][6]["id"], "level": 5}]
    assert hand_in(at_goal.students[0], free=reps)["levels"] == []
    stranger = {"repetitions": [], "free": reps}
    at_goal.ids["section"]
    other = ok(
        at_goal.director.post(
            f"/api/sections/{at_goal.ids['section']}/students", json={"names": ["New one"]}
        )
    )
    from starlette.testclient import TestClient

    client = TestClient(at_goal.app)
    ok(
        client.post(
            "/api/session/student",
            json={"class_code": at_goal.class_code, "name": "New one", "pin": other[0]["pin"]},
        )
    )
    assert client.post("/api/me/repetitions", json=stranger).status_code == 404


def test_a_hearing_sets_the_level_and_is_told_with_its_reason(at_goal, new_session):
    play(at_goal.students[0], *three(at_goal.ids["items"][0]))
    with new_session() as session:
        director = Actor(_director(session, at_goal), at_goal.program_id, Role.DIRECTOR)
        heard = UnassignedEvidence(
            id=uuid4(),
            part_id=UUID(at_goal.ids["part"]),
            span=Span(Position(9, F(0)), Position(11, F(0))),
            at=datetime.now(UTC),
            is_clean=None,
            source=Source.HEARING,
            level=3,
            by_id=director.person_id,
            reason="Rushes the end.",
        )
        note(session, director, UUID(at_goal.ids["students"][0]), [heard])
        session.commit()
    assert rebuild(new_session) == []
    assert level(at_goal) == 3
    newest = log(at_goal)[0]
    assert (newest["what"], newest["level"], newest["by"], newest["reason"]) == (
        "hearing",
        3,
        "Director",
        "Rushes the end.",
    )


def _director(session: Session, school: School) -> UUID:
    from crumb.store.tables import Person

    mine = Person.program_id == school.program_id
    return session.scalars(select(Person.id).where(mine, Person.role == "director")).one()


# What was sent stays what it was ----------------------------------------------------------------


def test_a_drills_code_that_changes_does_not_change_what_was_sent(
    music_school: School, monkeypatch: pytest.MonkeyPatch
):
    school = assigned(music_school, an_item(music_school, 4, "long-short", start=106))
    (item,) = school.ids["items"]
    before = ok(school.students[0].get(f"/api/me/stand/{item}"))
    kind = next(k for k in CATALOGUE if k.name == "long-short")
    # Another maker with one step fewer, as after an edit of the code.
    object.__setattr__(kind, "make", _shortened(kind.make))
    try:
        assert ok(school.students[0].get(f"/api/me/stand/{item}")) == before
        answer = hand_in(school.students[0], *[{**r, "step": 1} for r in three(item)])
        assert answer["levels"] == [{"chunk_id": school.ids["chunks"][4]["id"], "level": 5}]
    finally:
        object.__setattr__(kind, "make", kind.make.__wrapped__)


def _shortened(make):
    def shortened(passage, settings):
        return make(passage, settings)[:1]

    shortened.__wrapped__ = make
    return shortened


def test_marks_written_after_sending_reach_the_stand(music_school: School):
    school = assigned(music_school)
    (item,) = school.ids["items"]
    before = ok(school.students[0].get(f"/api/me/stand/{item}"))["worked"]["steps"][0]["svg"]
    body = {"kind": "fingering", "text": "2", "at": {"index": 9, "at": "0"}}
    ok(school.director.post(f"/api/parts/{school.ids['part']}/marks", json=body))
    after = ok(school.students[0].get(f"/api/me/stand/{item}"))["worked"]["steps"][0]["svg"]
    assert before != after
    assert 'class="fing' in after


def test_after_a_new_version_the_drawer_shows_what_the_level_rests_on(at_goal):
    play(at_goal.students[0], *three(at_goal.ids["items"][0]))
    data = write_part(clarinet_etude(), title="Again").encode()
    piece = brought_in(at_goal, data, "again.musicxml", replaces=at_goal.ids["piece"])
    at_goal.ids["part"] = piece["parts"][0]["id"]
    view = ok(at_goal.director.get(f"/api/parts/{at_goal.ids['part']}/chunks"))
    at_goal.ids["chunks"] = view["chunks"]
    assert level(at_goal) == 5
    assert len(log(at_goal)) == 3


# Days ------------------------------------------------------------------------------------------


def test_a_day_is_the_schools_day(at_goal, new_session):
    assert at_goal.director.put("/api/program", json={"time_zone": "Nowhere"}).status_code == 422
    ok(at_goal.director.put("/api/program", json={"time_zone": "Pacific/Auckland"}))
    late_in_utc = datetime.now(UTC).replace(hour=23, minute=30) - timedelta(days=2)
    rep = a_repetition(at_goal.ids["items"][0], tempo=106)
    rep["played_at"] = late_in_utc.isoformat()
    play(at_goal.students[0], rep)
    assert log(at_goal)[0]["day"] == str((late_in_utc + timedelta(days=1)).date())
    with new_session() as session:
        zone = session.scalar(select(Program.time_zone).where(Program.id == at_goal.program_id))
    assert zone == "Pacific/Auckland"


# Many at a time ---------------------------------------------------------------------------------


def _all_at_once(*acts) -> None:
    threads = [threading.Thread(target=act) for act in acts]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()


def test_posts_of_one_student_side_by_side_lose_no_level(at_goal, new_session):
    reps = three(at_goal.ids["items"][0])
    _all_at_once(*(lambda r=r: play(at_goal.students[0], r) for r in reps))
    assert level(at_goal) == 5
    assert rebuild(new_session) == []


def test_batches_in_opposite_order_and_the_same_batch_five_times(
    music_school: School, new_session: sessionmaker[Session]
):
    school = assigned(
        music_school, *(an_item(music_school, chunk, start=106) for chunk in (2, 4, 6))
    )
    student = school.students[0]
    for turn in range(6):
        reps = [
            a_repetition(item, tempo=106, second=-turn * 600 + 30 * i + 12 * k)
            for i, item in enumerate(school.ids["items"])
            for k in range(3)
        ]
        _all_at_once(
            lambda reps=reps: play(student, *reps),
            lambda reps=reps: play(student, *reversed(reps)),
            *(lambda reps=reps: play(student, *reps) for _ in range(3)),
        )
    with new_session() as session:
        count = session.query(Evidence).filter_by(student_id=school.ids["students"][0]).count()
        assert count == 6 * 9
    assert rebuild(new_session) == []


def test_a_map_that_is_edited_while_a_class_plays_loses_nothing(at_goal, new_session):
    from tests.api.school import edit

    reps = [a_repetition(at_goal.ids["items"][0], tempo=106, second=12 * i) for i in range(8)]

    def cut_and_join() -> None:
        for version in (1, 3):
            edit(at_goal, op="split", version=version, at={"index": 10, "at": "0"})
            edit(at_goal, op="merge", version=version + 1, place=4)

    _all_at_once(
        cut_and_join,
        *(lambda r=r: play(at_goal.students[0], r) for r in reps[:4]),
        *(lambda r=r: play(at_goal.students[1], {**r, "id": str(uuid4())}) for r in reps[4:]),
    )
    assert rebuild(new_session) == []
    with new_session() as session:
        rows = session.scalars(select(Mastery).where(Mastery.clean > 0)).all()
        assert rows


def test_old_sendings_are_frozen_by_the_upgrade(music_school: School, new_session):
    from crumb.jobs.recomputing import freeze_all
    from crumb.store.tables import SentStep

    school = assigned(music_school, an_item(music_school, 4, "backward"))
    item = UUID(school.ids["items"][0])
    with new_session() as session:
        before = session.get_one(AssignmentItem, item).frozen
        steps = session.query(SentStep).filter_by(item_id=item).count()
        session.query(SentStep).filter_by(item_id=item).delete()
        session.execute(update(AssignmentItem).where(AssignmentItem.id == item).values(frozen=None))
        session.commit()
    assert freeze_all(new_session) >= 1
    with new_session() as session:
        assert session.get_one(AssignmentItem, item).frozen == before
        assert session.query(SentStep).filter_by(item_id=item).count() == steps
        assert session.query(Assignment).count()


def test_a_cell_tells_secure_tempo_with_its_interval_and_what_is_solid(at_goal):
    school = at_goal
    url = cell_path(school)
    assert ok(school.director.get(url))["secure"] is None
    hand_in(school.students[0], *three(school.ids["items"][0]))
    told = ok(school.director.get(url))["secure"]
    assert told["low"] < told["median"] < told["high"]
    assert told["enough"] is False  # three passes are not enough to be sure
    assert (told["solid"], told["best"], told["goal"]) == (106, 106, 106)


def test_of_a_long_history_the_newest_are_listed_and_all_are_counted(at_goal):
    item, student = at_goal.ids["items"][0], at_goal.students[0]
    reps = [a_repetition(item, tempo=90, clean=i % 5 > 0, second=-15 * i) for i in range(310)]
    play(student, *reps)
    found = ok(at_goal.director.get(cell_path(at_goal)))
    assert (len(found["repetitions"]), found["older"]) == (300, 10)
    assert sum(one["clean"] for one in found["passes"]) == 248
    assert sum(one["slips"] for one in found["passes"]) == 62
    times = [one["played_at"] for one in found["repetitions"]]
    assert times == sorted(times, reverse=True)


def test_thousands_at_once_are_written_once_each(at_goal, new_session):
    student, part = at_goal.ids["students"][0], at_goal.ids["part"]
    span = Span(Position(8, F(0)), Position(10, F(0)))
    began = datetime.now(UTC) - timedelta(days=20)
    rows = [
        evidence_row(
            Played(span, began + timedelta(seconds=20 * i), id=uuid4().int, tempo=F(90)),
            program_id=at_goal.program_id,
            student_id=UUID(student),
            part_id=UUID(part),
            zone=UTC,
        )
        for i in range(2500)
    ]
    with new_session() as session:
        for _ in range(2):
            put(session, evidence=rows)
        session.commit()
    found = ok(at_goal.director.get(cell_path(at_goal)))
    assert len(found["repetitions"]) + found["older"] == 2500
