"""Minutes that several plans share."""

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.plan.plan_shares import dealt
from tests.core.plan.asks import a_chunk, an_ask


def plan(count, level=0, minutes=20, **more):
    secure = 96 if level else None
    chunks = (a_chunk(f"c{i}", level=level, secure=secure, **more) for i in range(count))
    return an_ask(*chunks, minutes_a_day=minutes)


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
