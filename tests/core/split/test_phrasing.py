"""The likeliest way to cut a melody is found: none of all ways is worth more."""

from fractions import Fraction
from itertools import combinations, pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from crumb.core.split.melody import Melody
from crumb.core.split.phrase_weights import WEIGHTS
from crumb.core.split.phrasing import clock_of, likeness, measures_of, phrase_starts, size_of
from tests.sizes import examples

LENGTHS = st.sampled_from([Fraction(1, 4), Fraction(1, 3), Fraction(1, 2), Fraction(1)])


def a_melody(lengths: list[Fraction], measure: int) -> Melody:
    onsets = [sum(lengths[:i], Fraction(0)) for i in range(len(lengths) + 1)]
    return Melody(
        onsets=tuple(onsets[:-1]),
        ends=tuple(onsets[1:]),
        pitches=tuple(60 + i % 5 for i in range(len(lengths))),
        phases=tuple(at % measure for at in onsets[:-1]),
        measure=Fraction(measure),
        beat=Fraction(1),
    )


def worth(melody: Melody, odds: list[float], starts: tuple[int, ...]) -> float:
    """The model's own sum over phrases and neighbours, written down plainly."""
    clock = clock_of(melody)
    cuts = (0, *starts, len(melody))
    total = sum(odds[start - 1] for start in starts)
    for first, stop in pairwise(cuts):
        total += WEIGHTS.notes[size_of(clock, first, stop) - 1]
        total += WEIGHTS.measures[measures_of(clock, first, stop)]
    for first, middle, stop in zip(cuts, cuts[1:], cuts[2:], strict=False):
        alike = likeness(clock, first, middle, stop)
        total += sum(a * weight for a, weight in zip(alike, WEIGHTS.alike, strict=True))
    return total


@settings(max_examples=examples(60))
@given(
    lengths=st.lists(LENGTHS, min_size=2, max_size=9),
    measure=st.sampled_from([2, 3, 4]),
    data=st.data(),
)
def test_no_way_of_all_is_worth_more(lengths, measure, data):
    melody = a_melody(lengths, measure)
    places = range(1, len(melody))
    odds = data.draw(st.lists(st.floats(-4, 4), min_size=len(places), max_size=len(places)))
    found = phrase_starts(melody, WEIGHTS, scores=odds)
    every = (cuts for n in range(len(melody)) for cuts in combinations(places, n))
    best = max(worth(melody, odds, cuts) for cuts in every)
    assert worth(melody, odds, tuple(found)) == pytest.approx(best, abs=1e-9)
