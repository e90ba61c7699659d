"""Kin: what is alike is found, and what only looks alike is not."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.score.model import Part
from crumb.core.score.pitch import Transposition, moved
from crumb.core.similarity.compare import commonest_shift
from crumb.core.similarity.finding import find_kin
from crumb.core.similarity.model import Attack, Kin
from crumb.core.similarity.words import interval_said
from tests.builders import a_part

FIGURE = "s:0,1,2,3 s:4,3,2,1 q:0 q:4"


def found(*measures: str) -> list[Kin]:
    return find_kin([a_part(*measures)])


def transposed(part: Part, *, diatonic: int, chromatic: int) -> Part:
    measures = tuple(
        replace(
            m,
            notes=tuple(
                replace(n, pitch=moved(n.pitch, diatonic=diatonic, chromatic=chromatic))
                if n.pitch
                else n
                for n in m.notes
            ),
        )
        for m in part.measures
    )
    return replace(part, measures=measures)


def test_the_same_measures_are_one_link():
    (kin,) = found(FIGURE, "q:0,2,4,7", "w:r", FIGURE, "q:0,2,4,7")
    assert (kin.relation, kin.interval) == ("identical", 0)
    assert (kin.a.first, kin.a.last, kin.b.first, kin.b.last) == (0, 1, 3, 4)


def test_an_exact_transposition_says_how_far():
    one = a_part(FIGURE)
    two = transposed(one, diatonic=1, chromatic=2)
    part = replace(one, measures=(one.measures[0], replace(two.measures[0], index=1, number="2")))
    (kin,) = find_kin([part])
    assert (kin.relation, kin.interval) == ("transposed", 2)


def test_the_same_figure_on_other_notes_of_the_scale_is_not_a_transposition():
    # C D E F and D E F G: whole and half steps fall elsewhere.
    kin = found("s:0,1,2,3 s:4,3,2,1 e:0,2 q:4", "s:1,2,3,4 s:5,4,3,2 e:1,3 q:5")
    assert all(k.relation != "transposed" for k in kin)


def test_near_twins_name_the_notes_that_differ():
    (kin,) = [k for k in found(FIGURE, "s:0,1,2,3 s:4,3,2,1 q:0 q:5") if k.relation == "near"]
    (difference,) = kin.differs
    assert (difference.index, difference.a, difference.b) == (9, "G5", "A5")
    assert kin.interval == 0


def test_a_transposition_whose_first_note_changed_is_still_near():
    one, other = a_part(FIGURE), a_part("s:2,1,2,3 s:4,3,2,1 q:0 q:4")
    two = transposed(other, diatonic=1, chromatic=2)
    part = replace(one, measures=(one.measures[0], replace(two.measures[0], index=1, number="2")))
    (kin,) = find_kin([part])
    assert (kin.relation, kin.interval, kin.differs[0].index) == ("near", 2, 0)


def test_notes_that_differ_throughout_are_not_near():
    kin = found("s:0,1,2,3 s:4,3,2,1 e:0,2 q:4", "s:7,2,5,1 s:3,6,0,4 e:5,1 q:0")
    assert {k.relation for k in kin} <= {"same-rhythm"}


def test_twice_as_slow_is_augmented():
    (kin,) = found("q:0,2,4,1", "h:0,2", "h:4,1")
    assert (kin.relation, kin.scale) == ("augmented", 2)
    assert (kin.b.first, kin.b.last) == (1, 2)


def test_across_parts_and_transpositions_the_sound_decides():
    flute = a_part(FIGURE, "q:0,2,4,7")
    clarinet = replace(
        transposed(flute, diatonic=1, chromatic=2),
        id="P2",
        transposition=Transposition(diatonic=-1, chromatic=-2),
    )
    (kin,) = find_kin([flute, clarinet])
    assert (kin.relation, kin.interval, kin.b.part) == ("identical", 0, 1)
    assert len(kin.b) == 2


def test_a_rest_is_like_nothing():
    assert found("w:r", "w:r", "w:r") == []


@given(
    st.lists(
        st.sampled_from([FIGURE, "q:0,2,4,7", "h:0 h:4", "w:r", "e:0,1,2,3,4,5,6,7"]), max_size=12
    )
)
def test_every_identical_link_holds_note_by_note(measures: list[str]):
    if not measures:
        return
    part = a_part(*measures)
    for kin in find_kin([part]):
        if kin.relation != "identical":
            continue
        for k in range(len(kin.a)):
            one, two = part.measures[kin.a.first + k], part.measures[kin.b.first + k]
            assert [(n.at, n.duration, n.pitch) for n in one.notes] == [
                (n.at, n.duration, n.pitch) for n in two.notes
            ]
        assert kin.a.last < kin.b.first


@given(st.lists(st.integers(40, 80), min_size=3, max_size=9), st.integers(-12, 12))
def test_the_commonest_shift_of_a_moved_line_is_how_far_it_was_moved(pitches: list[int], far: int):
    line = [Attack(i, 1, p, "") for i, p in enumerate(pitches)]
    assert commonest_shift(line, [a._replace(midi=a.midi + far) for a in line]) == far


@pytest.mark.parametrize(
    ("half_steps", "said"),
    [
        (2, "a whole step higher"),
        (-12, "an octave lower"),
        (-16, "an octave and a major third lower"),
    ],
)
def test_intervals_are_said_as_musicians_say_them(half_steps: int, said: str):
    assert interval_said(half_steps) == said
