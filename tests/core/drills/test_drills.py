from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import (
    CATALOGUE,
    burst_of,
    climb_seconds,
    cycle_seconds,
    drill_kind,
    fits,
    make_drill,
    passage_of,
)
from crumb.core.errors import BadSetting, DrillDoesNotFit, UnknownDrill
from crumb.core.score.model import Part
from crumb.core.score.position import Position, Span
from crumb.core.score.written import parse_span
from crumb.core.tempo.ladder import ladder
from crumb.demo.etude import clarinet_etude
from tests.builders import EIGHTHS, SIXTEENTHS, F, a_part, reread, span
from tests.drill_arithmetic import wrong_in_itself

ETUDE = reread(clarinet_etude())
RHYTHMS = ("long-short", "short-long", "hold")


def drill(part: Part, where: Span, name: str, **settings: object):
    return make_drill(part, where, name, settings)


def values(step) -> list[Fraction]:
    return [s.duration for s in step.sounds]


def pitches(step) -> list[str]:
    return [s.pitch.name for s in step.sounds if s.pitch]


def test_alone_is_the_chunk_as_written_to_be_proved():
    (step,) = drill(ETUDE, parse_span(ETUDE, "9-10+"), "alone").steps
    assert (step.kind, step.repetitions, step.as_written) == ("prove", 3, True)
    assert step.quarters == 9  # two measures and a landing of one beat
    assert [m.number for m in step.part.measures] == ["9", "10", "11"]


def test_long_short_on_sixteenths_has_exact_values():
    part = a_part(SIXTEENTHS, "w:0")
    step = drill(part, span(part, 0, 0, landing=True), "long-short").steps[0]
    assert values(step)[:4] == [F(3, 4), F(1, 4), F(3, 4), F(1, 4)]
    assert values(step)[-1] == 1  # the landing, held for a beat
    assert step.quarters == 9


def test_short_long_is_the_other_way_round():
    part = a_part(SIXTEENTHS)
    assert values(drill(part, span(part, 0, 0), "short-long").steps[0])[:2] == [F(1, 4), F(3, 4)]


@pytest.mark.parametrize("hold", [1, 2, 3, 4])
def test_hold_makes_one_note_of_each_group_long(hold):
    part = a_part(SIXTEENTHS)
    step = drill(part, span(part, 0, 0), "hold", hold=hold, group=4, held_units=3).steps[0]
    expected = [F(3, 4) if i % 4 == hold - 1 else F(1, 4) for i in range(16)]
    assert values(step) == expected
    assert step.quarters == sum(expected)


def test_a_pattern_that_does_not_fit_the_group_shifts_until_it_comes_round():
    part = a_part(SIXTEENTHS)
    step = drill(part, span(part, 0, 0), "hold", hold=1, group=3, held_units=2).steps[0]
    long_places = [i for i, v in enumerate(values(step)) if v >= F(1, 2)]
    assert long_places == [0, 3, 6, 9, 12, 15]
    assert [i for i in long_places if i % 4 == 0] == [0, 12]  # round again after twelve notes


def test_every_rhythm_set_ends_with_the_original():
    for name in RHYTHMS:
        last = drill(ETUDE, parse_span(ETUDE, "9+"), name).steps[-1]
        assert last.as_written
        assert last.kind == "prove"


# Dotted rhythms are at goal speed at goal tempo, whatever the run's unit.
def test_burst_tempo_follows_the_run():
    sixteenths, eighths = a_part(SIXTEENTHS), a_part(EIGHTHS)
    goal = F(106)
    on_16 = drill(sixteenths, span(sixteenths, 0, 0), "long-short").steps[0]
    on_8 = drill(eighths, span(eighths, 0, 0), "long-short").steps[0]
    assert burst_of(on_16, goal) == 106
    assert burst_of(on_8, goal) == 106
    alone = drill(eighths, span(eighths, 0, 0), "alone").steps[0]
    assert burst_of(alone, goal) is None


def test_backward_by_beat_grows_from_the_end_one_beat_at_a_time():
    steps = drill(ETUDE, parse_span(ETUDE, "9+"), "backward").steps
    assert [s.quarters for s in steps] == [2, 3, 4, 5]
    assert [s.name for s in steps] == ["9 beat 4", "9 beats 3–4", "9 beats 2–4", "All of 9"]
    whole = pitches(steps[-1])
    for step in steps:
        assert pitches(step) == whole[-len(pitches(step)) :]


def test_backward_by_measure_has_a_step_a_measure():
    steps = drill(ETUDE, parse_span(ETUDE, "9-12"), "backward", unit="measure").steps
    assert [s.quarters for s in steps] == [4, 8, 12, 16]
    assert all(s.kind == "set" and s.repetitions == 5 for s in steps)


def test_a_chain_never_starts_on_a_rest_or_inside_a_note():
    part = a_part("q:0,r h:2", "w:1")
    steps = drill(part, span(part, 0, 1), "backward").steps
    assert [s.covers.start for s in steps] == [
        Position(1, F(0)),
        Position(0, F(2)),
        Position(0, F(0)),
    ]


@pytest.mark.parametrize("name", RHYTHMS)
def test_without_a_run_the_drill_says_so_and_offers_what_fits(name):
    part = a_part("q:0,1 h:2")
    with pytest.raises(DrillDoesNotFit, match=r"four equal notes.*“Alone”.*would fit"):
        drill(part, span(part, 0, 0), name)


def test_one_beat_cannot_be_chained():
    part = a_part(SIXTEENTHS)
    with pytest.raises(DrillDoesNotFit, match="no second beat"):
        drill(part, Span(Position(0, F(0)), Position(0, F(1))), "backward")


@pytest.mark.parametrize(
    ("name", "settings"),
    [
        ("hold", {"hold": 5, "group": 4}),
        ("hold", {"group": 99}),
        ("alone", {"repetitions": "many"}),
        ("backward", {"unit": "page"}),
        ("alone", {"colour": 1}),
    ],
)
def test_settings_outside_what_is_allowed_are_refused(name, settings):
    with pytest.raises(BadSetting):
        make_drill(ETUDE, parse_span(ETUDE, "9"), name, settings)


def test_an_unknown_drill_is_refused_with_the_names_there_are():
    with pytest.raises(UnknownDrill, match="alone"):
        drill_kind("upside-down")


# Cycle minutes: repetitions x (quarters x 60 / tempo + breath); common practice, no source.
def test_minutes_are_exact():
    part = a_part(EIGHTHS)
    made = drill(part, span(part, 0, 0), "alone")
    assert cycle_seconds(made.steps, tempo=F(82), beat=F(1)) == 3 * (F(240, 82) + 2)
    rungs = ladder(start=F(82), goal=F(106), step=F(4))
    total = climb_seconds(made.steps, rungs=rungs, beat=F(1))
    assert total == sum(3 * (F(240) / r + 2) for r in rungs)


degrees = st.lists(st.integers(-3, 9), min_size=16, max_size=16)


@given(degrees, st.sampled_from(RHYTHMS), st.integers(1, 3), st.integers(3, 6), st.integers(2, 4))
def test_a_rhythm_variation_keeps_every_pitch_in_order_and_fills_its_measures(
    row, name, hold, group, units
):
    part = a_part("s:" + ",".join(map(str, row)), "w:0")
    settings = {"hold": hold, "group": group, "held_units": units} if name == "hold" else {}
    where = span(part, 0, 0, landing=True)
    steps = make_drill(part, where, name, settings).steps
    original = pitches(steps[-1])
    assert pitches(steps[0]) == original
    for step in steps:
        for measure in step.part.measures:
            assert sum((n.duration for n in measure.notes), F(0)) == measure.nominal
    assert steps[0].quarters >= sum(values(steps[0]))


@given(st.integers(0, 60), st.integers(1, 4), st.sampled_from([k.name for k in CATALOGUE]))
def test_every_drill_fits_the_etude_or_refuses_in_a_sentence(first, count, name):
    where = Span(Position(first, F(0)), Position(min(first + count, 65), F(0)), landing=False)
    passage = passage_of(ETUDE, where)
    if not fits(passage, name):
        with pytest.raises(DrillDoesNotFit, match=r"\.$") as refusal:
            make_drill(ETUDE, where, name, {}, passage=passage)
        assert all(fits(passage, other) for other in refusal.value.facts["instead"])
        return
    made = make_drill(ETUDE, where, name, {}, passage=passage)
    assert all(step.sounds and step.quarters > 0 for step in made.steps)
    assert name == "seams" or all(where.covers(step.covers) for step in made.steps)
    assert wrong_in_itself(passage, made) == []


def test_every_entry_of_the_catalogue_says_what_a_teacher_asks():
    for kind in CATALOGUE:
        assert all((kind.use_when, kind.how, kind.clean_means, kind.on_slip, kind.needs))
