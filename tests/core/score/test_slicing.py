from fractions import Fraction
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.errors import EmptySpan
from crumb.core.score.model import Change, Clef
from crumb.core.score.position import Position, Span, beat_positions, is_held, sounds
from crumb.core.score.slicing import played_quarters, slice_span, span_sounds
from crumb.demo.etude import clarinet_etude
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread, span

ETUDE = reread(clarinet_etude())
FREE = [p for p in beat_positions(ETUDE) if not is_held(ETUDE, p)]


def test_a_slice_keeps_printed_numbers_and_carries_clef_key_and_time():
    cut = slice_span(ETUDE, Span(Position(33, F(1)), Position(34, F(2))))
    first = cut.measures[0]
    assert [m.number for m in cut.measures] == ["33", "34"]
    assert (first.key.fifths, first.time.text, first.clefs) == (-1, "4/4", (Clef("G", 2),))


def test_masked_beats_are_hidden_rests_so_that_measures_add_up():
    part = a_part(SIXTEENTHS)
    cut = slice_span(part, Span(Position(0, F(1)), Position(0, F(2)), landing=True))
    notes = cut.measures[0].notes
    assert sum((n.duration for n in notes), F(0)) == 4
    assert [(n.at, n.duration) for n in notes if n.sounds] == [
        (F(1), F(1, 4)),
        (F(5, 4), F(1, 4)),
        (F(3, 2), F(1, 4)),
        (F(7, 4), F(1, 4)),
        (F(2), F(1)),
    ]
    assert all(n.hidden for n in notes if n.is_rest)


def test_four_sixteenths_and_a_landing_are_five_notes():
    part = a_part(SIXTEENTHS)
    beat = Span(Position(0, F(0)), Position(0, F(1)), landing=True)
    assert [s.pitch.name for s in span_sounds(part, beat) if s.pitch] == [
        "C5",
        "D5",
        "E5",
        "F5",
        "G5",
    ]
    assert played_quarters(part, beat) == 2


def test_a_tie_cut_at_the_edge_is_mended_on_both_sides():
    part = a_part("h:0 h:4~", "h:4 h:0")
    left = slice_span(part, span(part, 0, 0)).measures[0].notes
    right = slice_span(part, span(part, 1, 1)).measures[0].notes
    assert [n.tie for n in left] == [None, None]
    assert [n.tie for n in right] == [None, None]
    both = slice_span(part, span(part, 0, 1))
    assert [n.tie for m in both.measures for n in m.notes] == [None, "start", "stop", None]


def test_a_slur_cut_at_the_edge_is_dropped_and_a_whole_one_is_kept():
    part = a_part("q:(0,1,2,3)", "q:4,5,6,7")
    half = slice_span(part, Span(Position(0, F(0)), Position(0, F(2))))
    assert all(not n.slurs for n in half.measures[0].notes)
    full = slice_span(part, span(part, 0, 0))
    assert [len(n.slurs) for n in full.measures[0].notes] == [1, 0, 0, 1]


def test_a_change_of_clef_before_the_slice_is_in_force_in_it():
    from dataclasses import replace

    part = a_part("q:0,1,2,3")
    changed = replace(part.measures[0], changes=(Change(F(1), clef=Clef("F", 4)),))
    cut = slice_span(replace(part, measures=(changed,)), Span(Position(0, F(2)), Position(1, F(0))))
    assert cut.measures[0].clefs == (Clef("F", 4),)
    assert cut.measures[0].changes == ()


def test_a_span_of_rests_has_nothing_to_play():
    part = a_part("w:r", "w:0")
    with pytest.raises(EmptySpan):
        slice_span(part, span(part, 0, 0))


@given(st.integers(0, len(FREE) - 2), st.integers(1, 14), st.booleans())
def test_every_slice_adds_up_and_sounds_what_the_part_sounds_there(start, beats, landing):
    first, last = FREE[start], FREE[min(start + beats, len(FREE) - 1)]
    try:
        cut = slice_span(ETUDE, Span(first, last, landing))
    except EmptySpan:
        return
    for measure in cut.measures:
        voice = [n for n in measure.notes if not n.grace and not n.in_chord]
        assert sum((n.duration for n in voice), F(0)) == measure.length
    zero = ETUDE.starts[first.index] + first.at
    end = ETUDE.starts[last.index] + last.at if last.index < len(ETUDE.measures) else ETUDE.length
    inside = [s for s in sounds(ETUDE) if zero <= s.at < end]
    heard = [s for s in span_sounds(ETUDE, Span(first, last)) if s.at < end - zero]
    tied_in = len(heard) - len(inside)
    assert tied_in in (0, 1)
    assert [s.pitch for s in heard[tied_in:]] == [s.pitch for s in inside]


def test_a_note_at_the_edge_is_neither_lost_nor_doubled():
    part = a_part(EIGHTHS, EIGHTHS)
    edges = [Position(0, F(0)), Position(0, F(3)), Position(1, F(1)), Position(2, F(0))]
    heard = [s.pitch for a, b in pairwise(edges) for s in span_sounds(part, Span(a, b))]
    assert heard == [s.pitch for s in sounds(part)]


def test_ties_are_one_sound():
    part = a_part("h:0 h:4~", "h:4 h:0")
    assert [(s.at, s.duration) for s in sounds(part)] == [
        (F(0), F(2)),
        (F(2), F(4)),
        (F(6), Fraction(2)),
    ]
