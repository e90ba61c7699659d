"""Minutes that several plans share."""

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.plan.plan_shares import dealt
from tests.core.plan.asks import a_chunk, an_ask


def plan(count, level=0, minutes=20, days=24, **more):
    secure = 96 if level else None
    shown = {"seam_in": level >= 5, "seam_out": level >= 5}
    chunks = (a_chunk(f"c{i}", level=level, secure=secure, **shown, **more) for i in range(count))
    return an_ask(*chunks, minutes_a_day=minutes, days=days)


def test_what_is_due_next_week_does_not_wait_for_what_is_due_in_spring():
    soon, far = plan(4, days=6), plan(6, days=90)
    assert dealt(soon, [far]).minutes_a_day >= 12
    assert dealt(far, [soon]).minutes_a_day >= 1


def test_seams_and_cold_checks_have_their_minutes_too():
    seams = replace(plan(4), chunks=tuple(a_chunk(f"c{i}", level=5, secure=96) for i in range(4)))
    assert dealt(seams, [plan(4)]).minutes_a_day >= 1


@given(st.integers(1, 12), st.integers(1, 12), st.integers(5, 60))
def test_two_plans_together_have_the_minutes_of_one_and_the_longer_has_more(a, b, minutes):
    one, other = plan(a, minutes=minutes), plan(b, minutes=minutes)
    mine, theirs = (dealt(x, [y]).minutes_a_day for x, y in ((one, other), (other, one)))
    assert abs(mine + theirs - minutes) <= 1
    assert (mine >= theirs) if a > b else (mine <= theirs) if a < b else abs(mine - theirs) <= 1


def test_what_slips_has_more_and_what_is_done_has_nothing():
    slips = plan(4, slips={"note 5": 20})
    assert dealt(slips, [plan(4)]).minutes_a_day > 10
    assert dealt(plan(4, level=5), [plan(4)]).minutes_a_day == 0
    assert dealt(plan(4), [plan(4, level=5)]).minutes_a_day == 20
    assert dealt(plan(4, level=5), [plan(2, level=5)]).minutes_a_day == 10


def test_alone_it_keeps_its_own():
    assert dealt(plan(4), []).minutes_a_day == 20
