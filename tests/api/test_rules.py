"""What levels ask for: seen, tried, changed and put back, without a repetition lost."""

import pytest
from sqlalchemy.orm import Session, sessionmaker

from crumb.jobs.recomputing import rebuild, renew
from tests.api.school import (
    School,
    a_repetition,
    a_school,
    assigned,
    hand_in,
    level,
    ok,
    with_music,
)

USUAL = {"in_a_row": 3, "steady": 60, "linked": 75, "confirming": ["hearing", "measured"]}


@pytest.fixture
def school(app, new_session: sessionmaker[Session]) -> School:
    school = assigned(with_music(a_school(app, new_session)))
    item = school.ids["items"][0]
    for n in range(3):
        hand_in(school.students[0], a_repetition(item, tempo=82, second=12 * n))
    return school


def effect(school, **more):
    return ok(school.director.post("/api/rules/preview", json={**USUAL, **more}))


def test_three_in_a_row_at_60_per_cent_is_the_usual(school):
    assert ok(school.director.get("/api/rules")) == {"rules": USUAL, "usual": USUAL}
    assert level(school) == 3


def test_what_it_changes_is_shown_and_nothing_is_changed(school):
    same = effect(school)
    assert (same["raised"], same["lowered"]) == (0, 0)
    assert same["now"] == same["then"]
    five = effect(school, in_a_row=5)
    assert (five["raised"], five["lowered"]) == (0, 1)
    assert five["now"][3] == five["then"][0] == 1
    assert level(school) == 3


def test_rules_that_were_applied_hold_and_can_be_put_back(school, new_session):
    ok(school.director.put("/api/rules", json={**USUAL, "steady": 80, "linked": 90}))
    assert renew(new_session) == 1
    assert renew(new_session) == 0
    assert level(school) == 2  # 82 of 106 is 77 %
    # One more is counted by the new rules, too.
    hand_in(school.students[0], a_repetition(school.ids["items"][0], tempo=86, second=60))
    assert rebuild(new_session) == []
    ok(school.director.put("/api/rules", json=USUAL))
    renew(new_session)
    assert level(school) == 3


def test_what_is_played_before_a_worker_came_by_counts_by_the_new_rules(school):
    ok(school.director.put("/api/rules", json={**USUAL, "in_a_row": 4}))
    hand_in(school.students[0], a_repetition(school.ids["items"][0], tempo=82, second=60))
    assert level(school) == 3
    told = ok(school.director.get("/api/rules"))
    assert (told["rules"]["in_a_row"], told["usual"]["in_a_row"]) == (4, 3)


@pytest.mark.parametrize(
    "wrong",
    [{"in_a_row": 15}, {"steady": 20}, {"steady": 80, "linked": 70}, {"confirming": []}],
)
def test_rules_that_cannot_be_are_refused(school, wrong):
    answer = school.director.put("/api/rules", json={**USUAL, **wrong})
    assert answer.status_code == 422
    assert answer.json()["detail"].endswith(".")
