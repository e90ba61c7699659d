"""A corrected part against the old one: what is the same music keeps its place."""

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score.matching import carried_measures, carried_position, carried_span
from crumb.core.score.position import Position
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, span

SHAPES = (SIXTEENTHS, EIGHTHS, "q:0,1,2,3", "h:4 h:0", "w:r")
OLD = a_part("q:0,1,2,3", EIGHTHS, SIXTEENTHS, "h:4 h:0")


def test_a_measure_put_in_moves_what_follows():
    new = a_part("q:0,1,2,3", "w:7", EIGHTHS, SIXTEENTHS, "h:4 h:0")
    carried = carried_measures(OLD, new)
    assert carried == {0: 0, 1: 2, 2: 3, 3: 4}
    assert carried_position(Position(2, F(1, 2)), carried) == Position(3, F(1, 2))
    assert carried_span(span(OLD, 1, 2), carried) == span(new, 2, 3)


def test_a_changed_measure_is_not_there_and_a_chunk_with_it_does_not_move():
    new = a_part("q:0,1,2,3", "e:0,1,2,3,4,5,6,6", SIXTEENTHS, "h:4 h:0")
    carried = carried_measures(OLD, new)
    assert carried == {0: 0, 2: 2, 3: 3}
    assert carried_span(span(OLD, 0, 1), carried) is None
    assert carried_span(span(OLD, 2, 3), carried) == span(new, 2, 3)
    # its barline is still the end of the measure before it
    assert carried_position(Position(1, F(0)), carried) == Position(1, F(0))
    assert carried_position(Position(1, F(1)), carried) is None


@given(
    st.lists(st.sampled_from(SHAPES), min_size=1, max_size=10),
    st.lists(st.sampled_from(SHAPES), min_size=1, max_size=10),
)
def test_carried_measures_are_the_same_music_in_the_same_order(before, after):
    old, new = a_part(*before), a_part(*after)
    carried = carried_measures(old, new)
    assert list(carried.values()) == sorted(carried.values())
    for a, b in carried.items():
        assert [n.pitch for n in old.measures[a].notes] == [n.pitch for n in new.measures[b].notes]
    if before == after:
        assert carried == {i: i for i in range(len(before))}
