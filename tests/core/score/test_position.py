import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import BadAddress
from crumb.core.score.position import (
    Position,
    Span,
    absolute,
    beat_of,
    beat_positions,
    canonical,
    is_held,
    landing_notes,
    position_at,
)
from crumb.demo.etude import clarinet_etude
from tests.builders import EIGHTHS, F, a_part, reread

ETUDE = reread(clarinet_etude())
places = st.builds(
    Position, st.integers(0, 64), st.builds(lambda n: F(n, 4), st.integers(0, 15))
).filter(lambda p: p.at < ETUDE.measures[p.index].length)


@given(places)
def test_a_place_and_its_distance_from_the_start_are_one(place: Position):
    assert position_at(ETUDE, absolute(ETUDE, place)) == place


def test_the_end_of_a_measure_is_the_start_of_the_next():
    assert canonical(ETUDE, Position(3, F(4))) == Position(4, F(0))
    assert canonical(ETUDE, Position(0, F(1))) == Position(1, F(0))


@pytest.mark.parametrize("place", [Position(70, F(0)), Position(-1, F(0)), Position(3, F(5))])
def test_a_place_outside_the_part_is_refused(place: Position):
    with pytest.raises(BadAddress):
        absolute(ETUDE, place)


def test_a_pickup_counts_to_the_barline():
    pickup, first = ETUDE.measures[:2]
    assert beat_of(pickup, F(0)) == 4
    assert beat_of(first, F(0)) == 1
    assert beat_of(first, F(5, 2)) == F(7, 2)


def test_beats_follow_the_meter():
    part = a_part("e:0,1,2,3,4,5", time="6/8")
    assert [p.at for p in beat_positions(part)[:-1]] == [0, F(3, 2)]
    assert len(beat_positions(ETUDE)) == 1 + 63 * 4 + 3 + 1


def test_a_long_note_holds_the_beats_inside_it():
    part = a_part("h.:0 q:1", EIGHTHS)
    assert [is_held(part, Position(0, F(n))) for n in range(4)] == [False, True, True, False]


def test_a_landing_needs_a_note_that_starts_there():
    part = a_part("h:0 h:4~", "h:4 q:r q:1")
    assert landing_notes(part, Position(0, F(2)))
    assert not landing_notes(part, Position(1, F(0)))  # tied over: nothing is struck
    assert not landing_notes(part, Position(1, F(2)))  # a rest
    assert landing_notes(part, Position(1, F(3)))
    assert not landing_notes(part, Position(2, F(0)))  # the end


def test_a_span_covers_what_lies_inside_it_and_itself():
    whole = Span(Position(1, F(0)), Position(4, F(0)))
    assert whole.covers(whole)
    assert whole.covers(Span(Position(1, F(2)), Position(3, F(1)), landing=True))
    assert not whole.covers(Span(Position(0, F(0)), Position(2, F(0))))
    assert not whole.covers(Span(Position(3, F(0)), Position(4, F(1))))
