import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import BadAddress, ChunkEditRefused
from crumb.core.score.position import Position
from crumb.core.split.chunk_map import (
    ChunkMap,
    by_measures,
    merge,
    move_edge,
    move_edge_to,
    set_landing,
    split,
)
from crumb.demo.etude import clarinet_etude
from tests.builders import EIGHTHS, F, a_part, reread

ETUDE = reread(clarinet_etude())


def assert_tiles(chunks: ChunkMap):
    """Every note belongs to exactly one chunk."""
    assert chunks.spans[0].start == Position(0, F(0))
    assert chunks.spans[-1].end == Position(len(ETUDE.measures), F(0))
    for one, following in zip(chunks.spans, chunks.spans[1:], strict=False):
        assert one.end == following.start
        assert one.start < one.end


def test_the_pickup_belongs_with_what_follows_it():
    chunks = by_measures(ETUDE, 4)
    assert chunks.spans[0].start.index == 0
    assert chunks.spans[0].end == Position(5, F(0))
    assert len(chunks.spans) == 16


def test_chunks_land_where_a_note_follows_and_the_last_does_not():
    chunks = by_measures(ETUDE, 2)
    assert chunks.spans[0].landing
    assert not chunks.spans[-1].landing


def test_a_moved_edge_takes_the_neighbour_with_it():
    before = by_measures(ETUDE, 2)
    after = move_edge(ETUDE, before, 0, beats=1)
    assert after.spans[0].end == after.spans[1].start == Position(3, F(1))
    assert_tiles(after)


def test_an_edge_can_be_put_on_any_note():
    after = move_edge_to(ETUDE, by_measures(ETUDE, 2), 4, Position(10, F(3, 4)))
    assert after.spans[4].end == after.spans[5].start == Position(10, F(3, 4))
    assert_tiles(after)
    with pytest.raises(ChunkEditRefused, match="no beat left"):
        move_edge_to(ETUDE, by_measures(ETUDE, 2), 4, Position(2, F(0)))


def test_an_edge_never_stops_inside_a_note():
    part = a_part("q:0,1 h:2", EIGHTHS)
    chunks = split(part, by_measures(part, 2), Position(0, F(2)))
    moved = move_edge(part, chunks, 0, beats=1)
    assert moved.spans[0].end == Position(1, F(0))


def test_a_cut_inside_a_held_note_is_refused():
    part = a_part("q:0,1 h:2", EIGHTHS)
    with pytest.raises(ChunkEditRefused, match="held"):
        split(part, by_measures(part, 2), Position(0, F(3)))


def test_split_and_merge_undo_each_other():
    before = by_measures(ETUDE, 2)
    cut = split(ETUDE, before, Position(4, F(0)))
    assert len(cut.spans) == len(before.spans) + 1
    assert merge(ETUDE, cut, 1) == before


def test_a_landing_can_be_turned_off_and_on():
    chunks = by_measures(ETUDE, 2)
    off = set_landing(ETUDE, chunks, 0, on=False)
    assert not off.spans[0].landing
    assert set_landing(ETUDE, off, 0, on=True) == chunks


def test_a_landing_without_a_note_is_refused_with_the_place():
    chunks = by_measures(ETUDE, 2)
    with pytest.raises(ChunkEditRefused, match="land on"):
        set_landing(ETUDE, chunks, len(chunks.spans) - 1, on=True)


def test_refusals_leave_words():
    chunks = by_measures(ETUDE, 2)
    last = len(chunks.spans) - 1
    for edit in (
        lambda: merge(ETUDE, chunks, last),
        lambda: move_edge(ETUDE, chunks, last, beats=1),
        lambda: split(ETUDE, chunks, chunks.spans[3].start),
        lambda: by_measures(ETUDE, 0),
        lambda: merge(ETUDE, chunks, 999),
        lambda: move_edge(ETUDE, chunks, 0, beats=60),
    ):
        with pytest.raises(ChunkEditRefused):
            edit()


edits = st.lists(
    st.tuples(
        st.sampled_from(["merge", "move", "landing", "split"]),
        st.integers(0, 40),
        st.integers(-6, 6),
    ),
    max_size=25,
)


@given(st.integers(1, 9), edits)
def test_any_row_of_edits_leaves_every_note_in_exactly_one_chunk(n, row):
    chunks = by_measures(ETUDE, n)
    for kind, place, amount in row:
        place %= len(chunks.spans)
        try:
            if kind == "merge":
                chunks = merge(ETUDE, chunks, place)
            elif kind == "move":
                chunks = move_edge(ETUDE, chunks, place, beats=amount or 1)
            elif kind == "landing":
                chunks = set_landing(ETUDE, chunks, place, on=amount > 0)
            else:
                chunks = split(ETUDE, chunks, Position(place, F(abs(amount), 2)))
        except (ChunkEditRefused, BadAddress):
            pass  # refused in words; the map stays as it was
        assert_tiles(chunks)
