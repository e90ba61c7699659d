"""Chunks inside chunks, proposals with reasons, seams, two partitions, the order of learning."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import ChunkEditRefused
from crumb.core.instruments.table import instrument_named
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span, landing_notes
from crumb.core.split import chunk_map, proposals
from crumb.core.split.nested import (
    Edge,
    NestedMap,
    from_chunks,
    merge_inside,
    split_at_edges,
    with_level,
)
from crumb.core.split.order import ORDERS, ordered
from crumb.core.survey.load import survey
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, span, tiles

PART = a_part(*[SIXTEENTHS, EIGHTHS, "q:0,2 h:4", "h:4 q:2 q:r"] * 4)
SURVEY = survey(PART, instrument_named("Clarinet"), goal_quarters=F(100))
WAYS = {
    "phrases": proposals.by_phrases,
    "lines": proposals.by_lines,
    "marks": proposals.by_marks,
    "every": lambda part: proposals.every(part, 3),
    "load": lambda part: proposals.by_load(part, SURVEY),
}


def proposed(way: str) -> NestedMap:
    return split_at_edges(PART, NestedMap(), WAYS[way](PART))


@pytest.mark.parametrize("way", WAYS)
def test_every_proposal_tiles_the_part_and_says_why(way: str):
    made = proposed(way)
    assert tiles(PART, made.level(PART, 0).spans)
    assert all(edge.reasons and all(edge.reasons) for edge in made.edges)


@pytest.mark.parametrize("way", WAYS)
def test_a_chunk_lands_wherever_a_note_allows_it(way: str):
    for chunk in proposed(way).level(PART, 0).spans:
        assert chunk.landing == bool(landing_notes(PART, chunk.end))


def test_what_is_stubborn_is_cut_smaller_than_what_is_easy():
    part = a_part(*["h:0 h:4"] * 8, SIXTEENTHS, *["h:0 h:4"] * 7)
    found = survey(part, instrument_named("Clarinet"), goal_quarters=F(120))
    chunks = split_at_edges(part, NestedMap(), proposals.by_load(part, found)).level(part, 0).spans
    hard = [c for c in chunks if c.start.index == 8 or (c.start.index < 8 < c.end.index)]
    easy = [c for c in chunks if c.end.index <= 8]
    assert max(c.end.index - c.start.index for c in hard) <= 1
    assert max(c.end.index - c.start.index for c in easy) >= 2


def inside(nested: NestedMap, place: int, depth: int) -> NestedMap:
    chunk = nested.level(PART, depth).at(place)
    return split_at_edges(PART, nested, proposals.inner(PART, chunk, depth + 1), within=chunk)


def test_a_line_goes_down_to_two_notes_and_no_further():
    nested = split_at_edges(PART, NestedMap(), proposals.every(PART, 4))
    sizes = []
    for depth in range(3):
        nested = inside(nested, 0, depth)
        sizes.append(nested.level(PART, depth + 1).at(0))
    assert [s.end for s in sizes] == [
        Position(1, F(0)),  # a measure
        Position(0, F(1)),  # a beat
        Position(0, F(1, 4)),  # a note and its landing
    ]
    assert sizes[-1].landing
    with pytest.raises(ChunkEditRefused, match="two notes"):
        inside(nested, 0, 3)


@given(
    st.lists(st.tuples(st.integers(0, 20), st.sampled_from("smid"), st.integers(0, 3)), max_size=12)
)
def test_whatever_is_edited_each_level_tiles_the_part_and_refines_the_one_above(edits):
    nested = split_at_edges(PART, NestedMap(), proposals.every(PART, 4))
    for place, act, depth in edits:
        depth = min(depth, nested.depth - 1)
        level = nested.level(PART, depth)
        place %= len(level.spans)
        try:
            if act == "s":
                at = Position(place % 16, F(place % 4))
                nested = with_level(PART, nested, depth, chunk_map.split(PART, level, at))
            elif act == "m":
                nested = with_level(PART, nested, depth, chunk_map.merge(PART, level, place))
            elif act == "i":
                nested = inside(nested, place, depth)
            else:
                moved = chunk_map.move_edge(PART, level, place, beats=1)
                nested = with_level(PART, nested, depth, moved)
        except ChunkEditRefused:
            continue
        above: set[Position] = set()
        for d in range(nested.depth):
            spans = nested.level(PART, d).spans
            assert tiles(PART, spans)
            ends = {s.end for s in spans}
            assert above <= ends
            above = ends


def test_merging_keeps_what_was_inside():
    nested = inside(split_at_edges(PART, NestedMap(), proposals.every(PART, 4)), 0, 0)
    merged = with_level(PART, nested, 0, chunk_map.merge(PART, nested.level(PART, 0), 0))
    assert merged.level(PART, 0).at(0) == Span(Position(0, F(0)), Position(8, F(0)), True)
    assert [c.end.index for c in merged.level(PART, 1).spans[:5]] == [1, 2, 3, 4, 8]


def test_joining_inside_leaves_the_chunk_whole_again():
    before = split_at_edges(PART, NestedMap(), proposals.every(PART, 4))
    nested = inside(before, 1, 0)
    chunk = nested.level(PART, 0).at(1)
    assert merge_inside(nested, chunk, 0).edges == before.edges


def test_a_landing_that_was_turned_off_stays_off_when_an_edge_elsewhere_moves():
    nested = from_chunks(PART, chunk_map.by_measures(PART, 2))
    off = with_level(
        PART, nested, 0, chunk_map.set_landing(PART, nested.level(PART, 0), 0, on=False)
    )
    assert not off.level(PART, 0).at(0).landing
    moved = with_level(PART, off, 0, chunk_map.move_edge(PART, off.level(PART, 0), 3, beats=1))
    assert not moved.level(PART, 0).at(0).landing
    assert moved.edges[3].reasons == ("moved by hand",)


def test_seams_cross_from_the_last_beat_into_the_first():
    chunks = chunk_map.by_measures(PART, 4).spans
    first = proposals.seams(PART, chunks)[0]
    assert (first.start, first.end) == (Position(3, F(3)), Position(4, F(1)))
    assert len(proposals.seams(PART, chunks)) == len(chunks) - 1


def test_two_partitions_of_a_run_share_no_edge():
    one, two = proposals.two_partitions(PART, span(PART, 0, 0))
    assert [c.start.at for c in one] == [0, 1, 2, 3]
    inner = {c.start for c in one[1:]} & {c.start for c in two[1:]}
    assert inner == set()
    for pieces in (one, two):
        assert pieces[0].start == Position(0, F(0))
        assert pieces[-1].end == Position(1, F(0))


def test_a_chunk_divided_the_other_way_has_none_of_the_first_edges():
    whole = split_at_edges(PART, NestedMap(), proposals.every(PART, 1))
    chunk = whole.level(PART, 0).at(0)
    one = split_at_edges(PART, whole, proposals.inner(PART, chunk, 1), within=chunk)
    two = split_at_edges(PART, one, proposals.inner_other_way(PART, chunk, 1), within=chunk)

    def inside(nested: NestedMap) -> set[Position]:
        return {e.at for e in nested.edges if e.depth == 1}

    assert inside(one)
    assert inside(two)
    assert inside(one).isdisjoint(inside(two))
    assert tiles(PART, two.level(PART, 1).spans)


def test_the_second_partition_follows_slurs_where_they_cross_the_beat():
    part = a_part("s:0,(1,2,3,4),(5,6,7,8),7,6,5,4,3,2,1")
    _, two = proposals.two_partitions(part, span(part, 0, 0))
    assert [c.start.at for c in two] == [0, F(1, 4), F(5, 4)]


def test_the_difference_of_near_twins_is_a_chunk_from_one_note_before():
    made = proposals.delta_span(PART, Position(0, F(1)), Position(0, F(5, 4)))
    assert (made.start, made.end, made.landing) == (
        Position(0, F(3, 4)),
        Position(0, F(3, 2)),
        True,
    )


def in_order(kind: str, part: Part = PART, by_hand: tuple[int, ...] = ()) -> list[int]:
    found = survey(part, instrument_named("Clarinet"), goal_quarters=F(100))
    spans = chunk_map.by_measures(part, 1).spans
    made = ordered(part, found, spans, kind, by_hand)
    assert made.why
    return list(made.places)


@pytest.mark.parametrize("kind", ORDERS)
def test_every_order_names_every_chunk_once(kind: str):
    assert sorted(in_order(kind)) == list(range(16))


def test_orders():
    part = a_part("q:0,1,2,3", "h:0 h:1", SIXTEENTHS, "w:0")
    assert in_order("front", part) == [0, 1, 2, 3]
    assert in_order("back", part) == [3, 2, 1, 0]
    assert in_order("hardest", part)[0] == 2
    assert in_order("hand", part, (2, 0)) == [2, 0, 1, 3]


def test_deeper_than_anybody_reads_is_refused():
    edges = [Edge(Position(0, F(1)), 99, ("x",))]
    with pytest.raises(ChunkEditRefused, match="deep"):
        split_at_edges(PART, proposed("every"), edges, within=span(PART, 0, 2))
