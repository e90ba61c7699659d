"""Where slips fall, and what is taken out of it."""

from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score.position import Position, absolute, position_at, sounds
from crumb.core.score_overview.slip_map import LEAST, slip_map
from crumb.demo.etude import clarinet_etude

PART = clarinet_etude()
ATTACKS = sorted({sound.at for sound in sounds(PART)})
BEAT = Fraction(1)


def note(place: int) -> Position:
    return position_at(PART, ATTACKS[place])


def test_nine_of_fourteen_slips_on_four_notes_are_one_stretch():
    slips = [note(p) for p in (40, 41, 42, 43) for _ in range(2)] + [note(43)]
    slips += [note(p) for p in (5, 90, 120, 150, 200)]
    found = slip_map(PART, slips, BEAT)
    assert found.total == 14
    worst = found.stretches[0]
    assert (worst.count, worst.notes) == (9, 4)
    assert absolute(PART, worst.span.start) <= ATTACKS[40]
    assert worst.span.start.at % BEAT == 0
    assert absolute(PART, worst.span.end) == ATTACKS[44]


def test_one_quiet_note_between_does_not_part_a_stretch():
    slips = [note(p) for p in (40, 42) for _ in range(4)]
    (stretch,) = slip_map(PART, slips, BEAT).stretches
    assert (stretch.count, stretch.notes) == (8, 3)


def test_many_that_slip_once_are_no_stretch_beside_three_that_slip_often():
    slips = [note(p) for p in range(60, 90)] + [note(p) for p in (40, 41, 42) for _ in range(5)]
    (stretch,) = slip_map(PART, slips, BEAT).stretches
    assert (stretch.count, stretch.notes) == (15, 3)


def test_a_slip_here_and_there_is_an_accident():
    assert slip_map(PART, [note(3), note(80)], BEAT).stretches == ()


def test_a_slip_between_two_notes_is_of_the_earlier_and_none_lies_outside():
    between = position_at(PART, (ATTACKS[40] + ATTACKS[41]) / 2)
    found = slip_map(PART, [between, Position(9999, Fraction(0))], BEAT)
    assert [(one.at, one.count) for one in found.notes] == [(note(40), 1)]


@given(st.lists(st.integers(0, len(ATTACKS) - 1), max_size=60))
def test_no_slip_is_lost_or_told_twice(places: list[int]):
    found = slip_map(PART, [note(p) for p in places], BEAT)
    assert found.total == len(places) == sum(one.count for one in found.notes)
    assert sum(one.count for one in found.stretches) <= found.total
    assert all(one.count >= LEAST for one in found.stretches)
    counts = [one.count for one in found.stretches]
    assert counts == sorted(counts, reverse=True)
