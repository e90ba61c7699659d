from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import BadTempo
from crumb.core.tempo.ladder import (
    burst_tempo,
    ladder,
    next_rung,
    notes_per_second,
    seconds_of,
    start_tempo,
)
from tests.builders import F


# Worked examples; common practice, no source.
@pytest.mark.parametrize(
    ("start", "goal", "step", "count"), [(60, 75, 2, 9), (60, 105, 2, 24), (100, 144, 4, 12)]
)
def test_a_ladder_has_the_rungs_a_teacher_counts(start, goal, step, count):
    rungs = ladder(start=F(start), goal=F(goal), step=F(step))
    assert len(rungs) == count
    assert (rungs[0], rungs[-1]) == (start, goal)


@given(st.integers(30, 200), st.integers(0, 150), st.integers(1, 20))
def test_rungs_rise_by_the_step_and_only_the_last_is_clipped(start, climb, step):
    rungs = ladder(start=F(start), goal=F(start + climb), step=F(step))
    rises = [b - a for a, b in pairwise(rungs)]
    assert all(rise == step for rise in rises[:-1])
    assert all(0 < rise <= step for rise in rises)
    assert rungs[-1] == start + climb


# The numbers of pendulum metronomes; common practice, from memory.
def test_the_traditional_scale_goes_by_its_own_numbers():
    rungs = ladder(start=F(58), goal=F(80), step=F(1), scale="traditional")
    assert rungs == (58, 60, 63, 66, 69, 72, 76, 80)
    assert ladder(start=F(58), goal=F(80), step=F(3), scale="traditional") == (58, 66, 76, 80)


def test_a_ladder_by_per_cent_rises_by_a_share_of_the_goal():
    assert ladder(start=F(60), goal=F(100), step=F(10), scale="percent") == (60, 70, 80, 90, 100)


@pytest.mark.parametrize(
    ("start", "goal", "step"),
    [(100, 90, 2), (80, 100, 0), (80, 100, -2), (0, 100, 2), (80, 900, 2)],
)
def test_tempos_that_make_no_ladder_are_refused(start, goal, step):
    with pytest.raises(BadTempo):
        ladder(start=F(start), goal=F(goal), step=F(step))


# Burst arithmetic; common practice, no source.
def test_dotted_sixteenths_burst_at_goal_and_quick_three_at_two_thirds():
    sixteenth = F(1, 4)
    assert burst_tempo(goal=F(106), shortest=F(1, 4), unit=sixteenth) == 106
    assert burst_tempo(goal=F(106), shortest=F(1, 6), unit=sixteenth) == F(106) * 2 / 3


def test_a_start_is_sixty_per_cent_even_and_never_below_thirty():
    assert start_tempo(F(106)) == 64
    assert start_tempo(F(40)) == 30
    assert start_tempo(F(24)) == 24


# Click arithmetic; common practice, no source.
def test_a_beat_at_105_lasts_four_sevenths_of_a_second():
    assert seconds_of(F(1), tempo=F(105), beat=F(1)) == F(4, 7)
    assert round(float(seconds_of(F(1), tempo=F(105), beat=F(1))) * 1000, 1) == 571.4


def test_in_six_eight_the_beat_is_the_dotted_quarter():
    assert seconds_of(F(3), tempo=F(60), beat=F(3, 2)) == 2
    assert notes_per_second(tempo=F(60), beat=F(3, 2), unit=F(1, 2)) == 3


def test_after_a_drop_the_ladder_goes_on_at_the_next_rung_above():
    rungs = ladder(start=F(82), goal=F(106), step=F(4))
    assert next_rung(rungs, F(85)) == 86
    assert next_rung(rungs, F(200)) == 106
    assert all(isinstance(r, Fraction) for r in rungs)
