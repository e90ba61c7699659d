"""Phrases: measured on folk songs that were not learned from, and on small parts."""

from dataclasses import replace
from statistics import mean

import pytest

from checks.sizes import Size
from crumb.core.score.model import Direction
from crumb.core.split.phrase_weights import WEIGHTS
from crumb.core.split.phrases import phrase_edges
from crumb.core.split.phrasing import phrase_starts
from folk_songs import boundary_f1, files, held_out, learned_from, songs
from tests.builders import SIXTEENTHS, F, a_part
from tests.lbdm import boundaries
from tests.sizes import SIZE


def test_no_song_is_both_learned_from_and_measured():
    assert set(held_out()).isdisjoint(learned_from())
    assert {*held_out(), *learned_from()} == set(files())


def test_phrases_of_folk_songs_are_found_far_better_than_by_local_boundaries():
    """Marked phrases: the Essen folk-song collection in ABC, as music21's corpus ships it."""
    every = 6 if SIZE is Size.FULL else 24
    known = [song for path in held_out() for i, song in enumerate(songs(path)) if i % every == 0]
    assert len(known) > 2400 // every
    ours = mean(boundary_f1(frozenset(phrase_starts(s.melody, WEIGHTS)), s.starts) for s in known)
    # The baseline with whichever threshold suits these very songs best.
    baseline = max(
        mean(boundary_f1(boundaries(s.melody, t / 20), s.starts) for s in known)
        for t in range(4, 13)
    )
    assert ours >= 0.75
    assert ours > baseline + 0.15


TUNE = ("q:0,1 h:2", "q:2,1 h:0", "q:4,3 h:2", "q:2,1 h:0")


def starts(*measures: str) -> list[tuple[int, object]]:
    return [(e.at.index, e.at.at) for e in phrase_edges(a_part(*measures))]


def test_a_plain_tune_is_cut_at_its_barlines_with_reasons():
    edges = phrase_edges(a_part(*TUNE, *TUNE))
    assert edges
    assert all(e.at.at == 0 for e in edges)
    assert all(e.reasons for e in edges)


def test_a_rest_of_a_measure_always_divides():
    found = starts("q:0,1,2,3", "h:4 h:4", "w:r", "q:0,1,2,3", "h:4 h:0")
    assert (3, 0) in found


def test_a_run_of_equal_notes_is_not_cut_inside_a_measure():
    assert all(at == 0 for _, at in starts(*[SIXTEENTHS] * 8))


def test_a_letter_is_named_as_a_reason():
    part = a_part(*TUNE, *TUNE)
    lettered = replace(part.measures[4], directions=(Direction(F(0), "rehearsal", "R"),))
    part = replace(part, measures=(*part.measures[:4], lettered, *part.measures[5:]))
    edge = next(e for e in phrase_edges(part) if e.at.index == 4)
    assert "rehearsal mark R" in edge.reasons


@pytest.mark.parametrize("measures", [("w:0",), ("w:r", "w:0")])
def test_one_note_is_one_phrase(measures):
    assert phrase_edges(a_part(*measures)) == []
