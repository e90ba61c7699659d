"""Minutes that went to a chunk: all of what lies in it, its share of what is longer."""

from itertools import permutations

import pytest

from crumb.core.plan.rates import pass_seconds
from crumb.core.plan.time_spent import Spent, minutes_by_span, minutes_on
from crumb.core.score.position import Position, Span
from tests.builders import F


def span(first: int, last: int) -> Span:
    return Span(Position(first, F(0)), Position(last, F(0)))


CHUNK, INSIDE, WHOLE, ELSEWHERE = span(4, 6), span(5, 6), span(0, 8), span(6, 8)


def test_a_longer_one_counts_by_the_measure_and_one_elsewhere_not_at_all():
    a_minute = {CHUNK: 2.0, INSIDE: 1.0, WHOLE: 8.0, ELSEWHERE: 5.0}
    assert minutes_on(CHUNK, a_minute) == pytest.approx(2 + 1 + 8 / 8)


def test_ten_passes_take_ten_times_one_with_its_breath():
    spent = [Spent(CHUNK, F(60), F(8), 10)]
    assert minutes_by_span(spent) == {CHUNK: pytest.approx(pass_seconds(F(8), F(1), 60) / 6)}


def test_in_any_order_it_is_the_very_same_number():
    spent = [Spent(CHUNK, F(t), F(q), n) for t, q, n in ((61, 3, 7), (97, 8, 1), (83, 5, 29))]
    assert len({minutes_by_span(order)[CHUNK] for order in permutations(spent)}) == 1


def test_without_a_click_or_a_drill_a_usual_pass_is_meant():
    assert minutes_by_span([Spent(CHUNK, None, None, 1)])[CHUNK] > 0
