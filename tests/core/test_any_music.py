"""What holds of survey, kin and order of playing whatever music it is."""

from collections import Counter
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from crumb.core.instruments.table import INSTRUMENTS
from crumb.core.score.model import Barline, Direction, Part
from crumb.core.score.pitch import moved
from crumb.core.score.playing import playing_order, playing_seconds
from crumb.core.similarity.finding import find_kin
from crumb.core.similarity.fingerprints import sketch
from crumb.core.similarity.model import Relation, Stretch
from crumb.core.survey import strings
from crumb.core.survey.load import survey
from crumb.core.survey.model import Survey
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread

MEASURES = [
    EIGHTHS,
    SIXTEENTHS,
    "q:0,2,4,7",
    "q:0,2,4,6",
    "q:1,3,5,8",
    "h:0 h:4",
    "w:r",
    "e:0,7,0,7,1,8,1,8",
    "s:0,2,1,3 q:2 e:r,4 q:3#",
    "e:r q:4 q:3 q:2b e:1",
    "q:0~ q:0 h:5",
    "s:0,1,2,3,0,1,2,3,0,1,2,3,0,1,3,2",
]
music = st.lists(st.sampled_from(MEASURES), min_size=1, max_size=10).map(lambda m: a_part(*m))
instruments = st.sampled_from(INSTRUMENTS)
goals = st.integers(40, 180).map(F)
anything = settings(max_examples=80)


# The survey --------------------------------------------------------------------------------------


@anything
@given(music, instruments, goals)
def test_every_spot_stands_on_a_note_or_mark_of_its_measure_and_says_why(part, on, goal):
    for measure in survey(part, on, goal_quarters=goal).measures:
        source = part.measures[measure.index]
        ids = {note.id for note in source.notes}
        for spot in measure.spots:
            assert spot.at.index == measure.index
            assert 0 <= spot.at.at < source.length
            assert spot.why
            assert spot.weight > 0
            assert not spot.note_id or spot.note_id in ids


@anything
@given(music, instruments, goals)
def test_beats_fill_the_measure_and_add_up_to_its_load(part, on, goal):
    found = survey(part, on, goal_quarters=goal)
    assert len(found.measures) == len(part.measures)
    for measure in found.measures:
        source = part.measures[measure.index]
        assert len(measure.beats) == -(-source.length // source.time.beat)
        assert min(measure.beats) >= 0
        assert abs(sum(measure.beats) - measure.load) < 1e-9
    assert found.measures[found.crux].load == max(m.load for m in found.measures)


@anything
@given(music, instruments, goals)
def test_spots_are_told_in_the_order_of_the_music(part, on, goal):
    for measure in survey(part, on, goal_quarters=goal).measures:
        places = [(spot.at.at, spot.kind) for spot in measure.spots]
        assert places == sorted(places)


@anything
@given(music, instruments, goals)
def test_no_kind_is_told_so_often_in_a_measure_that_nobody_reads_it(part, on, goal):
    reading = {"accidental", "changed-note", "enharmonic", "pattern-break", "rest-count"}
    for measure in survey(part, on, goal_quarters=goal).measures:
        told = Counter(spot.kind for spot in measure.spots if spot.kind not in reading)
        assert all(times <= 3 for times in told.values())


def of_measures(found: Survey, count: int) -> list[tuple[float, ...]]:
    return [m.beats for m in found.measures[:count]]


@anything
@given(music, instruments, goals, st.sampled_from(MEASURES))
def test_what_comes_after_leaves_what_was_before_as_hard_as_it_was(part, on, goal, more):
    # A string player and a trombonist choose places with what comes next in mind.
    assume(on.family != "trombone" and on.family not in strings.OPEN)
    tail = replace(
        a_part(more).measures[0], index=len(part.measures), number=str(len(part.measures))
    )
    longer = replace(part, measures=(*part.measures, tail))
    count = len(part.measures)
    after, before = (
        [sum(beats) for beats in of_measures(survey(p, on, goal_quarters=goal), count)]
        for p in (longer, part)
    )
    assert after == pytest.approx(before)


@anything
@given(music, instruments, goals)
def test_a_part_that_went_through_a_file_is_as_hard_as_before(part, on, goal):
    assume(part.attack_count)  # a file without a note is none
    kept, back = (survey(p, on, goal_quarters=goal) for p in (part, reread(part)))
    assert of_measures(kept, len(part.measures)) == of_measures(back, len(part.measures))


@anything
@given(music, instruments, goals)
def test_objectives_name_measures_that_have_such_a_spot(part, on, goal):
    found = survey(part, on, goal_quarters=goal)
    for objective in found.objectives:
        assert objective.measures == tuple(sorted(set(objective.measures)))
        for index in objective.measures:
            assert objective.kind in {spot.kind for spot in found.measures[index].spots}


# Kin ---------------------------------------------------------------------------------------------


def attacks(part: Part, stretch: Stretch) -> list[tuple[Fraction, Fraction, int]]:
    """Offset, length and height of what is struck, from the start of the stretch."""
    found: list[tuple[Fraction, Fraction, int]] = []
    for index in range(stretch.first, stretch.last + 1):
        begin = part.starts[index] - part.starts[stretch.first]
        found += [
            (begin + note.at, note.duration, note.pitch.midi)
            for note in part.measures[index].notes
            if note.is_attack and note.pitch
        ]
    return found


@anything
@given(music)
def test_each_measure_is_explained_at_most_once_and_by_an_earlier_one(part):
    explained: Counter[int] = Counter()
    for kin in find_kin([part]):
        assert kin.relation in Relation
        assert kin.a.first < kin.b.first
        assert kin.a.last < kin.b.first
        explained.update(range(kin.b.first, kin.b.last + 1))
    assert all(times == 1 for times in explained.values())


@anything
@given(music)
def test_what_is_transposed_is_so_note_by_note(part):
    for kin in find_kin([part]):
        if kin.relation not in ("identical", "transposed"):
            continue
        one, two = attacks(part, kin.a), attacks(part, kin.b)
        assert [(at, length, height + kin.interval) for at, length, height in one] == two
        assert (kin.interval == 0) is (kin.relation == "identical")


@anything
@given(music)
def test_near_twins_name_at_most_a_quarter_of_their_notes(part):
    for kin in find_kin([part]):
        if kin.relation == "near":
            count = len(attacks(part, kin.a))
            assert 1 <= len(kin.differs) <= max(1, count // 4)
            assert all(0 <= d.index < count and d.a != d.b for d in kin.differs)


@anything
@given(music, st.integers(1, 6))
def test_the_same_part_for_another_player_is_all_kin_of_the_first(part, steps):
    """Two players who sound alike from different notation."""
    low = replace(
        part,
        transposition=replace(part.transposition, chromatic=-steps, diatonic=0),
        measures=tuple(
            replace(
                m,
                notes=tuple(
                    replace(n, pitch=moved(n.pitch, diatonic=0, chromatic=steps)) if n.pitch else n
                    for n in m.notes
                ),
            )
            for m in part.measures
        ),
    )
    heard = [[(a.at, a.length, a.midi) for a in row] for row in sketch(part).attacks]
    assert [[(a.at, a.length, a.midi) for a in row] for row in sketch(low).attacks] == heard
    sounding = {i for i, row in enumerate(heard) if row}
    links = [k for k in find_kin([part, low]) if k.b.part == 1 and k.relation == "identical"]
    covered = {i for k in links for i in range(k.b.first, k.b.last + 1)}
    assert sounding <= covered


# The order of playing ----------------------------------------------------------------------------

signs = st.sampled_from(
    [
        Barline("left", repeat="forward"),
        Barline("right", repeat="backward"),
        Barline("right", repeat="backward", times=3),
        Barline("left", ending="1", ending_type="start"),
        Barline("right", ending="1", ending_type="stop", repeat="backward"),
        Barline("left", ending="2", ending_type="start"),
        Barline("right", ending="2", ending_type="discontinue"),
    ]
)
marks = st.sampled_from(
    [Direction(F(0), "jump", text) for text in ("dacapo", "dalsegno", "tocoda", "fine")]
    + [Direction(F(0), kind, kind) for kind in ("segno", "coda")]
    + [Direction(F(0), "words", text) for text in ("D.S. al Coda", "Fine", "to Coda")]
)


@st.composite
def signposted(draw):
    """Whole notes with signs strewn over them, sensible or not."""
    part = a_part(*["w:0"] * draw(st.integers(1, 8)))
    measures = [
        replace(
            m,
            barlines=tuple(draw(st.lists(signs, max_size=2))),
            directions=tuple(draw(st.lists(marks, max_size=2))),
        )
        for m in part.measures
    ]
    return replace(part, measures=tuple(measures))


@settings(max_examples=300)
@given(signposted())
def test_whatever_the_signs_playing_comes_to_an_end_inside_the_part(part: Part):
    order = playing_order(part)
    assert len(order) <= 20_000
    assert all(0 <= index < len(part.measures) for index in order)
    assert order[:1] == [0] or any(b.ending for b in part.measures[0].barlines)


@given(st.integers(1, 30), st.integers(1, 5))
def test_a_part_without_signs_lasts_as_long_as_its_measures(count: int, minute: int):
    part = a_part(*["w:0"] * count)
    silent = replace(part, measures=tuple(replace(m, tempo=None) for m in part.measures))
    seconds = playing_seconds(silent, playing_order(silent), unsaid=F(60 * minute))
    assert seconds == F(4 * count, minute)


@settings(max_examples=100)
@given(signposted())
def test_the_time_of_playing_is_the_sum_over_the_order(part: Part):
    order = playing_order(part)
    plain = sum(
        (
            part.measures[i].length * 60 / part.measures[i].tempo.quarters
            for i in order
            if part.measures[i].tempo
        ),
        F(0),
    )
    assert playing_seconds(part, order, unsaid=F(100)) == plain
