"""A part that was played much: its levels follow a change later, and nobody waits for them."""

import pytest
from sqlalchemy import func, select, text

from crumb.jobs import recomputing
from crumb.jobs.recomputing import rebuild, renew
from crumb.services.evidence import levels
from crumb.store.tables import Mastery
from tests.api.school import School, a_repetition, an_item, assigned, edit, hand_in, level, ok


@pytest.fixture
def school(music_school, new_session, monkeypatch) -> School:
    """Two students with three clean at goal each; more than two repetitions are much."""
    renew(new_session)  # what other schools here left
    monkeypatch.setattr(levels, "AT_ONCE", 2)
    school = assigned(music_school, an_item(music_school, start=106))
    for student in school.students:
        three_clean(school, student, 0)
    return school


def three_clean(school: School, student, from_second: int) -> None:
    item = school.ids["items"][0]
    for n in range(3):
        second = from_second + 12 * n
        hand_in(student, a_repetition(item, tempo=106, second=second))


def set_goal(school: School, goal: int) -> None:
    ok(school.director.put(f"/api/parts/{school.ids['part']}/goal", json={"goal_bpm": goal}))


def waiting(school: School) -> int:
    return wall(school)["waiting"]


def stuck(school: School) -> int:
    return wall(school)["stuck"]


def wall(school: School) -> dict:
    return ok(school.director.get(f"/api/wall/{school.ids['part']}/{school.ids['section']}"))


def test_a_new_goal_is_answered_at_once_and_levels_follow(school, new_session):
    set_goal(school, 130)
    assert waiting(school) == 2
    assert level(school) == 5  # as it was: the wall says that it waits
    assert renew(new_session) == 2
    assert waiting(school) == 0
    assert [level(school, student=n) for n in (0, 1)] == [3, 3]
    assert rebuild(new_session) == []


def test_what_is_handed_in_while_levels_wait_counts_by_the_new_goal(school, new_session):
    set_goal(school, 130)
    hand_in(school.students[0], a_repetition(school.ids["items"][0], tempo=106, second=60))
    assert (level(school), level(school, student=1)) == (3, 5)
    renew(new_session)
    assert level(school, student=1) == 3
    assert rebuild(new_session) == []


def test_one_whose_levels_cannot_be_recomputed_holds_up_nobody(school, new_session, monkeypatch):
    set_goal(school, 130)
    whole, poison = levels.renew, school.ids["students"][0]

    def failing(session, part_id, student_id):
        if str(student_id) == poison:
            raise ValueError("poison")
        whole(session, part_id, student_id)

    with monkeypatch.context() as patch:
        patch.setattr(recomputing.levels, "renew", failing)
        assert renew(new_session) == 1
        assert renew(new_session) == 0  # it is set aside: not tried for ever
    assert (level(school), level(school, student=1)) == (5, 3)
    assert (waiting(school), stuck(school)) == (0, 1)
    told = school.director.get("/api/health").json()
    assert (told["status"], told["levels"].endswith(": 1")) == ("degraded", True)
    # More played is a new chance.
    hand_in(school.students[0], a_repetition(school.ids["items"][0], tempo=106, second=60))
    assert (level(school), stuck(school)) == (3, 0)


def test_one_that_the_database_keeps_waiting_is_tried_again_and_holds_up_nobody(
    school, new_session, monkeypatch
):
    set_goal(school, 130)
    whole, slow = levels.renew, school.ids["students"][0]

    def waiting_for_a_lock(session, part_id, student_id):
        if str(student_id) == slow:
            session.execute(text("set local statement_timeout = 20"))
            session.execute(text("select pg_sleep(5)"))
        whole(session, part_id, student_id)

    with monkeypatch.context() as patch:
        patch.setattr(recomputing.levels, "renew", waiting_for_a_lock)
        assert renew(new_session) == 1
    assert (waiting(school), stuck(school)) == (1, 0)
    assert renew(new_session) == 1
    assert [level(school, student=n) for n in (0, 1)] == [3, 3]


def test_chunks_split_anew_get_their_levels_later(school, new_session):
    edit(school, op="merge", version=1, place=4)
    edit(school, op="split", version=2, place=4, at={"index": 10, "at": "0"})
    assert waiting(school) == 2
    renew(new_session)
    assert waiting(school) == 0
    assert rebuild(new_session) == []
    with new_session() as session:
        unplayed = select(func.count()).where(
            Mastery.last_id.is_(None), Mastery.student_id.in_(school.ids["students"])
        )
        assert session.scalar(unplayed) == 0  # nothing is left of those that nobody played
