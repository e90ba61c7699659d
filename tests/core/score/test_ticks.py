"""Whole ticks in the place of fractions, and notes that share a form."""

import pickle
from dataclasses import replace
from fractions import Fraction

from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score.model import Part
from crumb.core.score.pitch import parse_pitch
from crumb.core.score.ticks import Ticks
from crumb.core.similarity.finding import find_kin, kin_among
from crumb.core.similarity.fingerprints import sketch
from crumb.core.similarity.model import Attack
from crumb.demo.etude import clarinet_etude
from tests.builders import a_part, reread


def in_twelfths(part: Part) -> Part:
    """The first three sixteenths of the part as a triplet."""
    first, *others = part.measures
    third = Fraction(1, 3)
    made = [replace(n, at=i * third, duration=third) for i, n in enumerate(first.notes[:3])]
    sixteenth = replace(first.notes[3], at=Fraction(1), duration=Fraction(1, 4))
    notes = (*made, sixteenth, *first.notes[4:])
    return replace(part, measures=(replace(first, notes=notes), *others))


def silenced(part: Part) -> Part:
    """The part with rests in the place of all notes."""
    return replace(
        part,
        measures=tuple(
            replace(m, notes=tuple(replace(n, is_rest=True, pitch=None) for n in m.notes))
            for m in part.measures
        ),
    )


times = st.fractions(min_value=0, max_value=64, max_denominator=96)


@given(st.lists(times, min_size=1, max_size=40))
def test_ticks_are_exact_and_keep_every_ratio(several: list[Fraction]):
    ticks = Ticks(several)
    for time in several:
        assert Fraction(ticks(time), ticks.per_quarter) == time
    assert [ticks(a) < ticks(b) for a in several for b in several[:5]] == [
        a < b for a in several for b in several[:5]
    ]


@given(st.lists(times, min_size=1, max_size=12))
def test_an_equal_time_that_is_another_object_has_the_same_ticks(several: list[Fraction]):
    ticks = Ticks(several)
    again = [Fraction(t.numerator, t.denominator) for t in several]
    assert [ticks(t) for t in again] == [ticks(t) for t in several]


def test_a_quarter_of_triplets_and_sixteenths_has_twelve_ticks():
    part = in_twelfths(a_part("s:0,1,2,3 q:0 h:0"))
    assert part.ticks.per_quarter == 12
    assert [part.ticks(n.at) for n in part.measures[0].notes][:3] == [0, 4, 8]


def test_a_note_that_was_changed_is_written_as_it_is_now():
    part = reread(a_part("q:0 q:0 q:0 q:0"))
    first, second, *others = part.measures[0].notes
    higher = replace(second, pitch=parse_pitch("F#5"))
    measure = replace(part.measures[0], notes=(first, higher, *others))
    changed = reread(replace(part, measures=(measure,)))
    names = [n.pitch.name for n in changed.measures[0].notes if n.pitch]
    assert names == ["C5", "F#5", "C5", "C5"]


def test_a_note_placed_elsewhere_differs_only_in_its_place():
    note = reread(a_part("q:0 q:1 h:2")).measures[0].notes[1]
    there = note.placed("other", Fraction(3), Fraction(1, 2))
    assert (there.id, there.at, there.duration) == ("other", Fraction(3), Fraction(1, 2))
    assert replace(there, id=note.id, at=note.at, duration=note.duration) == note


def test_a_sketch_comes_back_from_another_process_as_it_was():
    made = sketch(clarinet_etude())
    assert pickle.loads(pickle.dumps(made)) == made
    silent = sketch(silenced(a_part("w:0")))
    assert pickle.loads(pickle.dumps(silent)) == silent


@given(st.integers(1, 12))
def test_finer_ticks_find_the_same_kin(times: int):
    parts = [a_part("e:0,1,2,3,4,5,6,7", "q:0 q:2 h:4"), a_part("e:0,1,2,3,4,5,6,7", "w:0")]
    one, two = (sketch(part) for part in parts)
    finer = two.scaled(two.per_quarter * times)
    assert kin_among([one, finer]) == find_kin(parts)
    assert finer.attacks[0][1] == Attack(
        two.attacks[0][1].at * times, two.attacks[0][1].length * times, *two.attacks[0][1][2:]
    )
