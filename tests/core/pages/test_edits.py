"""Measures of a page mended by hand."""

from fractions import Fraction

import pytest

from crumb.core.errors import BadSetting
from crumb.core.pages import edits
from crumb.core.pages.model import Area, PageMeasure
from crumb.core.pages.numbering import numbered


def a_page() -> tuple[PageMeasure, ...]:
    """Two systems of three measures, 100 pixels each."""
    return tuple(
        PageMeasure(Area(x, top, x + 100, top + 200), top + 80, top + 120, system)
        for system, top in enumerate((0, 200))
        for x in (0, 100, 200)
    )


def numbers(measures: tuple[PageMeasure, ...]) -> list[int]:
    return [one.number for one in numbered(measures)]


def test_a_missed_barline_is_added_and_every_number_after_it_moves():
    made = edits.split(edits.say_number(a_page(), 3, 5), 1, 150)
    assert [m.area.right for m in made[:4]] == [100, 150, 200, 300]
    assert numbers(made) == [1, 2, 3, 4, 5, 6, 7]


def test_a_false_barline_is_taken_away():
    made = edits.join(a_page(), 0)
    assert (made[0].area.left, made[0].area.right, len(made)) == (0, 200, 5)


def test_the_last_measure_of_a_line_has_nothing_to_join():
    with pytest.raises(BadSetting, match="last measure of its line"):
        edits.join(a_page(), 2)


def test_a_barline_moves_between_its_neighbours_and_no_further():
    made = edits.move(a_page(), 0, 130)
    assert (made[0].area.right, made[1].area.left) == (130, 130)
    with pytest.raises(BadSetting):
        edits.move(a_page(), 0, 199)
    with pytest.raises(BadSetting):
        edits.move(a_page(), 0, 3)


def test_split_and_join_undo_each_other():
    assert edits.join(edits.split(a_page(), 4, 140), 4) == a_page()


def test_a_measure_drawn_beside_a_line_is_as_high_as_the_line():
    made = edits.add(a_page(), Area(310, 60, 360, 130))
    assert (made[3].area.left, made[3].area.top, made[3].area.bottom) == (310, 0, 200)
    assert made[3].system == 0


def test_a_measure_drawn_elsewhere_is_a_line_of_its_own_in_its_place():
    made = edits.add(a_page(), Area(0, 420, 300, 500))
    assert [m.system for m in made] == [0, 0, 0, 1, 1, 1, 2]
    with pytest.raises(BadSetting, match="There is a measure already"):
        edits.add(a_page(), Area(50, 20, 150, 80))


@pytest.mark.parametrize("place", [-1, 6, 99])
def test_what_is_not_there_cannot_be_mended(place: int):
    with pytest.raises(BadSetting, match="no such measure"):
        edits.say_letter(a_page(), place, "A")


def test_what_is_said_of_a_measure_is_kept_as_it_is_written():
    made = edits.say_time(edits.say_letter(a_page(), 1, " B "), 1, "6 / 8")
    assert (made[1].letter, made[1].time) == ("B", "6/8")
    assert edits.say_length(made, 0, Fraction(3, 2))[0].quarters == "3/2"
    assert edits.say_rests(made, 0, 12)[0].stands_for == 12
    for wrong in ("eleven", "3/5", "0/4"):
        with pytest.raises(BadSetting):
            edits.say_time(made, 1, wrong)
    with pytest.raises(BadSetting):
        edits.say_ending(made, 1, "first")
