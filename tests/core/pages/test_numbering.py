"""Measure numbers of pages: what is printed overrules counting, and a misreading does not."""

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.pages.model import Area, PageMeasure
from crumb.core.pages.numbering import numbered

ONE = PageMeasure(Area(0, 0, 100, 100), 40, 60, 0)


def measures(*said: int | None) -> list[PageMeasure]:
    return [replace(ONE, number=number) for number in said]


def numbers(*said: int | None) -> list[int]:
    return [one.number for one in numbered(measures(*said))]


def test_without_any_number_measures_count_from_one():
    assert numbers(None, None, None) == [1, 2, 3]


def test_the_first_printed_number_tells_whether_there_is_a_pickup():
    assert numbers(None, None, None, 3) == [0, 1, 2, 3]
    assert numbers(None, None, 3) == [1, 2, 3]


def test_a_rest_of_several_measures_counts_as_so_many():
    rest = replace(ONE, stands_for=8)
    assert [one.number for one in numbered([ONE, rest, ONE])] == [1, 2, 10]


def test_a_printed_number_overrules_counting_and_the_difference_is_shown():
    found = numbered(measures(None, None, 5, None, 7, None, 9))
    assert [one.number for one in found] == [1, 2, 5, 6, 7, 8, 9]
    assert [one.counted for one in found] == [None, None, 3, None, None, None, None]


def test_a_number_that_both_its_neighbours_deny_was_misread():
    found = numbered(measures(1, None, 33, None, 5))
    assert [one.number for one in found] == [1, 2, 3, 4, 5]
    assert all(one.counted is None for one in found)


@given(st.lists(st.tuples(st.integers(1, 12), st.booleans()), min_size=1, max_size=60))
def test_numbers_rise_by_what_each_measure_stands_for_and_printed_truth_shows_no_conflict(rows):
    """Whoever prints a number wherever they like, and prints the truth, is never contradicted."""
    truth, number = [], 1
    for count, is_printed in rows:
        printed = number if is_printed else None
        truth.append((number, replace(ONE, stands_for=count, number=printed)))
        number += count
    found = numbered([measure for _, measure in truth])
    assert [one.number for one in found] == [number for number, _ in truth]
    assert all(one.counted is None for one in found)
