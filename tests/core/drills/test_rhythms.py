"""Rhythm variations. Values, counts and burst tempos are common practice, no source."""

from dataclasses import replace
from itertools import cycle, islice
from math import lcm

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import burst_of, coverage, cycle_seconds, make_drill, passage_of
from crumb.core.drills.patterns import (
    PATTERNS,
    comes_round_after,
    long_short_ways,
    read_pattern,
    rotated,
)
from crumb.core.errors import BadSetting, DrillDoesNotFit
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, span

SIXTEEN = a_part(SIXTEENTHS, "w:0")
RUN = span(SIXTEEN, 0, 0, landing=True)


def values(step):
    return [s.duration for s in step.sounds]


def pitches(step):
    return [s.pitch.name for s in step.sounds]


TABLE = {
    "long-short": "3/4 1/4",
    "short-long": "1/4 3/4",
    "long-short-short": "1/2 1/4 1/4",
    "short-short-long": "1/4 1/4 1/2",
    "short-long-short": "1/4 1/2 1/4",
    "even-threes": "1/3 1/3 1/3",
    "long-quick-three": "1/2 1/6 1/6 1/6",
    "quick-three-long": "1/6 1/6 1/6 1/2",
    "sway-a": "1/2 1/2 1/4 1/4",
    "sway-b": "1/2 1/4 1/4 1/2",
    "sway-c": "1/4 1/4 1/2 1/2",
    "sway-quick-four": "1/2 1/2 1/8 1/8 1/8 1/8",
    "fives": "1/5 1/5 1/5 1/5 1/5",
}


@pytest.mark.parametrize(("name", "text"), TABLE.items())
def test_each_rhythm_of_the_table_is_strung_along_the_run_and_its_landing_held(name, text):
    step = make_drill(SIXTEEN, RUN, name, {}).steps[0]
    expected = list(islice(cycle([F(v) for v in text.split()]), 16))
    assert values(step)[:15] == expected[:15]
    beat = step.part.measures[0].time.beat
    assert values(step)[15:] == [expected[-1] + -sum(expected) % beat, F(1)]
    assert pitches(step) == pitches(make_drill(SIXTEEN, RUN, "alone", {}).steps[0])
    assert set(PATTERNS) == set(TABLE)


# Dotted bursts at goal tempo; long and quick three on sixteenths at two thirds of it.
@pytest.mark.parametrize(
    ("name", "share"),
    [("long-short", F(1)), ("long-quick-three", F(2, 3)), ("sway-quick-four", F(1, 2))],
)
def test_the_tempo_at_which_the_quick_notes_are_as_fast_as_the_goal(name, share):
    step = make_drill(SIXTEEN, RUN, name, {}).steps[0]
    assert burst_of(step, F(106)) == 106 * share


def test_three_over_four_meets_again_after_twelve_and_five_after_twenty():
    assert comes_round_after(3, 4) == 12
    assert comes_round_after(5, 4) == 20
    said = make_drill(SIXTEEN, RUN, "long-short-short", {}).steps[0].say
    assert "after 12 notes" in said


@given(st.integers(1, 12), st.integers(1, 12))
def test_a_pattern_comes_round_exactly_where_both_begin(k, group):
    after = comes_round_after(k, group)
    assert after == lcm(k, group)
    starts = [i for i in range(1, after + 1) if i % k == 0 and i % group == 0]
    assert starts == [after]


@pytest.mark.parametrize(("notes", "ways"), [(3, 6), (4, 14), (5, 30)])
def test_long_and_short_come_in_two_to_the_n_less_two_ways_one_long_first(notes, ways):
    found = long_short_ways(notes)
    assert len(found) == len(set(found)) == ways
    assert [sum(way) for way in found[:notes]] == [1] * notes
    assert [way.index(True) for way in found[:notes]] == list(range(notes))


def test_a_hold_cycle_is_even_then_each_held_then_even_and_every_note_has_its_turn():
    drill = make_drill(SIXTEEN, RUN, "hold-cycle", {"group": 4})
    assert [s.name for s in drill.steps] == [
        "Even",
        *(f"Hold {i} of 4" for i in (1, 2, 3, 4)),
        "Even, as written",
    ]
    assert coverage(passage_of(SIXTEEN, RUN), drill) == (16, 16)
    assert drill.steps[-1].as_written


def test_one_held_note_of_four_leaves_twelve_notes_without_their_turn():
    drill = make_drill(SIXTEEN, RUN, "hold", {"hold": 1})
    assert coverage(passage_of(SIXTEEN, RUN), drill) == (4, 16)


@pytest.mark.parametrize(("level", "count"), [("beginner", 2), ("intermediate", 5)])
def test_a_younger_player_gets_fewer_passes(level, count):
    steps = make_drill(SIXTEEN, RUN, "standard-set", {}, level=level).steps
    assert len(steps) == count
    assert steps[-1].as_written


def test_the_whole_standard_set_has_seven_passes_in_its_order():
    steps = make_drill(SIXTEEN, RUN, "standard-set", {}, level="advanced").steps
    assert [s.name for s in steps] == [
        "Long-short",
        "Short-long",
        "Long-short-short",
        "Short-short-long",
        "Even triplets",
        "Long and quick three",
        "As written",
    ]


def test_where_the_music_is_dotted_already_that_pass_is_even_instead():
    part = a_part("e.:0 s:1 e.:2 s:3 e.:4 s:5 e.:6 s:7")
    steps = make_drill(part, span(part, 0, 0), "standard-set", {"passes": 4}).steps
    assert [s.name for s in steps][:2] == ["Even", "Short-long"]
    assert set(values(steps[0])) == {F(1, 4)}
    with pytest.raises(DrillDoesNotFit, match="four equal notes"):
        make_drill(part, span(part, 0, 0), "long-short", {})


def test_triplets_are_not_varied_into_what_is_printed():
    from tests.formats.test_drill_exports import a_triplet_part

    part = a_triplet_part()
    with pytest.raises(DrillDoesNotFit, match="printed already"):
        make_drill(part, span(part, 0, 0), "even-threes", {})


def test_a_rotation_begins_the_pattern_later():
    assert rotated((F(1), F(2), F(3)), 1) == (F(2), F(3), F(1))
    step = make_drill(SIXTEEN, RUN, "sway-quick-four", {"rotation": 2}).steps[0]
    assert values(step)[:6] == [F(1, 8)] * 4 + [F(1, 2)] * 2


def test_run_backward_the_last_note_comes_first_and_the_landing_stays_last():
    forward = pitches(make_drill(SIXTEEN, RUN, "alone", {}).steps[0])
    step = make_drill(SIXTEEN, RUN, "retrograde", {}).steps[0]
    assert pitches(step) == [*forward[:16][::-1], forward[16]]
    dotted = make_drill(SIXTEEN, RUN, "long-short", {"notes": "backward"}).steps[0]
    assert pitches(dotted) == pitches(step)


@pytest.mark.parametrize(
    "text", ["", "x", "1/0", "1/7 -1", "9", "1/11", "1e9", "1 " * 17, "²", "1/²"]
)
def test_an_own_pattern_that_nobody_can_write_is_refused_in_words(text):
    with pytest.raises(BadSetting):
        make_drill(SIXTEEN, RUN, "own-pattern", {"values": text})


@given(
    st.lists(
        st.sampled_from(["1/2", "1/4", "1/8", "1/3", "1/6", "1", "3/4"]), min_size=1, max_size=8
    )
)
def test_any_own_pattern_keeps_the_pitches_and_lasts_as_long_as_its_values(row):
    step = make_drill(SIXTEEN, RUN, "own-pattern", {"values": " ".join(row)}).steps[0]
    expected = list(islice(cycle([F(v) for v in row]), 16))
    assert values(step)[:15] == expected[:15]
    assert values(step)[15] >= expected[15]
    assert step.quarters >= sum(expected) + 1
    assert read_pattern(" ".join(row)) == tuple(F(v) for v in row)
    for measure in step.part.measures:
        assert sum(n.duration for n in measure.notes) == measure.nominal


def test_accidentals_are_printed_where_the_new_barlines_ask_for_them():
    part = a_part("s:0#,1,0#,1,0#,1,0#,1,0#,1,0#,1,0#,1,0#,1")
    step = make_drill(part, span(part, 0, 0), "long-short", {}).steps[0]
    for measure in step.part.measures:
        printed = [n.accidental for n in measure.notes if n.pitch and n.pitch.alter == 1]
        assert printed[0] == "sharp"
        assert set(printed[1:]) == {""}


# Values scale with the run's own unit: common practice, no source.
@pytest.mark.parametrize(
    ("music", "meter", "first", "share"),
    [
        (EIGHTHS, "4/4", "3/2 1/2", F(1)),
        ("q:0,1,2,3", "4/4", "3 1", F(1)),
        ("t:0,1,2,3,4,5,6,7,8,9,8,7", "4/4", "3/4 1/4", F(3, 4)),
        ("e:0,1,2,3,4,5", "6/8", "3/2 1/2", F(1)),
    ],
)
def test_values_scale_with_the_unit_of_the_run(music, meter, first, share):
    part = a_part(music, time=meter)
    step = make_drill(part, span(part, 0, 0), "long-short", {}).steps[0]
    assert values(step)[:2] == [F(v) for v in first.split()]
    assert burst_of(step, F(110)) == 110 * share


def meters(step):
    return {measure.time.text for measure in step.part.measures}


@pytest.mark.parametrize(
    ("music", "time", "drill", "meter"),
    [
        (SIXTEENTHS, "4/4", "long-short", "4/4"),
        ("s:0,1,2,3,4,5,6,7,8,9,8,7", "6/8", "long-short", "3/4"),  # a pair is a quarter
        ("e:0,1,2,3,4,5", "6/8", "long-short-short", "2/4"),
        ("s:0,1,2,3,4,5,6,7,8,9,8,7", "3/4", "sway-a", "3/8"),
        (SIXTEENTHS, "4/4", "sway-quick-four", "3/8"),
        (SIXTEENTHS, "4/4", "hold", "3/8"),  # four of them, the first three long
        ("s:0,1,2,3", "1/4", "long-short", "2/4"),
        (EIGHTHS, "4/4", "hold", "3/4"),
    ],
)
def test_a_pattern_is_read_in_a_meter_whose_beat_it_fits(music, time, drill, meter):
    part = a_part(music, time=time)
    step = make_drill(part, span(part, 0, 0), drill, {}).steps[0]
    assert meters(step) == {meter}
    assert {n.tie for m in step.part.measures for n in m.notes} == {None}


def test_a_note_held_for_its_own_length_is_not_held():
    with pytest.raises(BadSetting, match="at least two"):
        make_drill(SIXTEEN, RUN, "hold", {"held_units": 1})


def test_only_a_length_asked_for_is_read_in_five_sixteenths():
    step = make_drill(SIXTEEN, RUN, "hold", {"group": 4, "held_units": 2}).steps[0]
    assert meters(step) == {"5/16"}


@pytest.mark.parametrize(
    ("music", "time", "group"),
    [
        (SIXTEENTHS, "4/4", 4),
        (EIGHTHS, "4/4", 4),
        ("e:0,1,2,3,4,5", "3/4", 6),
        ("e:0,1,2,3,4,5", "6/8", 3),
        ("s:0,1,2,3,4,5,6,7,8,9,8,7", "6/8", 6),
        ("t:0,1,2,3,4,5,6,7,8,9,8,7", "4/4", 3),
    ],
)
def test_groups_follow_the_meter_and_the_tuplets(music, time, group):
    part = a_part(music, time=time)
    drill = make_drill(part, span(part, 0, 0), "hold-cycle", {})
    assert drill.steps[1].name == f"Hold 1 of {group}"
    leaned = make_drill(part, span(part, 0, 0), "lean", {})
    assert leaned.steps[0].name == f"Lean on 1 of {group}"


def test_each_run_starts_anew_on_its_beat():
    part = a_part("e:0 s:1,2,3,4,5,6 q:7,6", "e.:5 s:4,3,2,1,2,3,4,5 q:6 s:7")
    step = make_drill(part, span(part, 0, 1), "long-short-short", {}).steps[0]
    passage = passage_of(part, span(part, 0, 1))
    played = [event for event in passage.events if not event.is_rest]
    assert [len({run.unit}) for run in passage.runs] == [1, 1]
    for run in passage.runs:
        place = played.index(passage.events[run.first])
        assert step.sounds[place].at % 1 == 0
        assert [s.duration for s in step.sounds[place : place + 3]] == [F(1, 2), F(1, 4), F(1, 4)]
    assert not any(n.tie for m in step.part.measures for n in m.notes)


def test_percussion_gets_rests_and_never_ties():
    part = replace(a_part("s:0,1,2,3,4,5,6 e.:7 h:0"), instrument="Xylophone", name="Xylophone")
    for name in ("long-short-short", "hold-cycle", "fives", "standard-set", "each-note"):
        for step in make_drill(part, span(part, 0, 0), name, {}).steps[:-1]:
            assert not any(n.tie for m in step.part.measures for n in m.notes), name


def test_a_passage_of_several_units_is_told_when_each_is_as_fast_as_the_goal():
    part = a_part("t:0,1,2,3,4,5 s:0,1,2,3,4,5,6,7")
    step = make_drill(part, span(part, 0, 0), "long-short", {}).steps[0]
    assert "triplets at 75 %, sixteenths at 100 %" in step.say
    assert burst_of(step, F(100)) == 75


def test_a_hard_new_pattern_may_begin_slower():
    steps = make_drill(SIXTEEN, RUN, "long-short", {"ease": "yes"}).steps
    assert [(s.pace, s.repetitions) for s in steps] == [(F(85, 100), 1), (1, 4), (1, 3)]


def test_as_many_variations_as_the_minutes_hold_and_the_original_last():
    counts = []
    for minutes in (1, 2, 4, 8, 20):
        drill = make_drill(SIXTEEN, RUN, "standard-set", {"minutes": minutes})
        counts.append(len(drill.steps))
        assert drill.steps[-1].as_written
        lasts = cycle_seconds(drill.steps, tempo=F(80), beat=F(1)) / 60
        assert lasts <= minutes or len(drill.steps) == 1
    assert counts == sorted(counts)
    assert set(counts) <= {1, 2, 5, 7, 12}
    assert counts[-1] == 12


def test_threes_come_first_where_the_music_goes_in_threes():
    part = a_part("t:0,1,2,3,4,5,6,7,8,9,8,7")
    steps = make_drill(part, span(part, 0, 0), "standard-set", {"passes": 7}).steps
    assert [s.name for s in steps][:3] == [
        "Long-short-short",
        "Short-short-long",
        "Short-long-short",
    ]


@pytest.mark.parametrize(
    ("music", "found"),
    [
        ("s:r,0,1,2,3,4,5,6 h:7", [(1, 8)]),  # everywhere in band music
        ("s:0,1,2,3,r,4,5,6 h:7", [(0, 4)]),
        ("e:r,0,1,2,3,r,4,5", [(1, 5)]),
        ("e:r,r,0,1,2,3,4,5", [(2, 8)]),
    ],
)
def test_a_rest_as_long_as_its_notes_does_not_hide_a_run(music, found):
    part = a_part(music)
    runs = passage_of(part, span(part, 0, 0)).runs
    assert [(run.first, run.last) for run in runs] == found
    assert make_drill(part, span(part, 0, 0), "long-short", {}).steps
