from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.plan.minute_shares import breaks, share_minutes, share_seconds
from tests.builders import F

needs = st.lists(st.builds(Fraction, st.integers(0, 4000), st.integers(1, 9)), max_size=12)


# Shares of 9 : 3 : 2 of thirty minutes; common practice, no source.
def test_thirty_minutes_by_nine_three_and_two():
    shares = share_seconds(1800, [F(9000), F(3000), F(2000)])
    assert [(s // 60, s % 60) for s in shares] == [(19, 17), (6, 26), (4, 17)]


@given(st.integers(0, 7200), needs)
def test_shares_add_up_exactly_and_give_nobody_too_much(total, wanted):
    shares = share_seconds(total, wanted)
    rounded_up = [-int(-n // 1) for n in wanted]
    assert sum(shares) == min(total, sum(rounded_up))
    assert all(0 <= share <= need for share, need in zip(shares, rounded_up, strict=True))


@given(st.integers(120, 7200), needs)
def test_no_share_is_too_short_to_be_worth_starting(total, wanted):
    shares = share_seconds(total, wanted, least=120)
    assert all(
        share == 0 or share >= min(120, need) for share, need in zip(shares, wanted, strict=True)
    )


def test_time_that_the_first_do_not_need_goes_to_the_next():
    # Two short climbs in front of a long one: the long one gets what is left of twenty minutes.
    assert share_seconds(1200, [F(420), F(180), F(9000), F(60)], least=120) == (420, 180, 600, 0)


@given(st.integers(120, 7200), needs)
def test_no_time_worth_using_is_left_while_something_waits(total, wanted):
    shares = share_seconds(total, wanted, least=120)
    waiting = [n for n, share in zip(wanted, shares, strict=True) if n > 0 and share == 0]
    assert sum(shares) <= total
    assert not waiting or total - sum(shares) < 120


def test_what_has_no_time_today_is_what_comes_last():
    shares = share_seconds(600, [F(900)] * 8, least=120)
    assert shares == (120, 120, 120, 120, 120, 0, 0, 0)


def test_after_25_minutes_at_a_stretch_five_are_taken_off_but_not_at_the_end():
    assert breaks([4, 10, 12, 5, 20, 10]) == (False, False, True, False, True, False)
    assert breaks([30]) == (False,)
    assert breaks([10, 10]) == (False, False)
    assert breaks([]) == ()


@given(
    st.integers(0, 120),
    st.lists(st.tuples(st.integers(2, 8), st.integers(0, 20)), max_size=8),
)
def test_each_chunk_has_its_block_or_nothing_and_never_more_than_it_can_use(total, chunks):
    blocks = [block for block, _ in chunks]
    wanted = [block + more for block, more in chunks]
    shares = share_minutes(total, wanted, blocks)
    assert sum(shares) <= total
    for share, want, block in zip(shares, wanted, blocks, strict=True):
        assert share == 0 or block <= share <= want
    if all(shares):
        assert sum(shares) == min(total, sum(wanted))
