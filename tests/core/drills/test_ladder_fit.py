"""Ladders that fit a day. Five or six rungs are common practice, no source."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import (
    CATALOGUE,
    burst_of,
    climb_seconds,
    cycle_seconds,
    drill_kind,
    make_drill,
    passage_of,
)
from crumb.core.drills.ladder_fit import fitted, rungs_within, start_of
from crumb.core.drills.model import LEVELS
from crumb.core.errors import CrumbError, DrillDoesNotFit
from crumb.core.score.written import parse_span
from crumb.core.tempo.ladder import ladder, start_tempo
from crumb.demo.etude import clarinet_etude
from tests import pace
from tests.builders import SIXTEENTHS, F, a_part, reread, span
from tests.sizes import sample

ETUDE = reread(clarinet_etude())
TWO_MEASURES = parse_span(ETUDE, "9-10+")


def steps_of(name, **settings):
    return make_drill(ETUDE, TWO_MEASURES, name, settings).steps


def test_two_measures_with_the_standard_set_take_a_quarter_of_an_hour_not_an_hour_and_a_half():
    steps = steps_of("standard-set", passes=7, variation_repetitions=4)
    by_twos = climb_seconds(steps, rungs=ladder(start=F(64), goal=F(106), step=F(2)), beat=F(1))
    assert by_twos > 90 * 60
    found = fitted(steps_of("standard-set"), start=F(64), goal=F(106), beat=F(1))
    assert len(found.climb.rungs) in (5, 6)
    assert found.climb.seconds <= 20 * 60
    assert found.finer is not None
    assert found.finer.step == 2
    assert found.finer.seconds > found.climb.seconds


@pytest.mark.parametrize("level", LEVELS)
@pytest.mark.parametrize("name", [kind.name for kind in CATALOGUE])
def test_every_drill_with_its_usual_settings_climbs_two_measures_in_twenty_minutes(name, level):
    passage = passage_of(ETUDE, TWO_MEASURES)
    try:
        drill = make_drill(ETUDE, TWO_MEASURES, name, {}, level=level, passage=passage)
    except CrumbError:
        return
    found = fitted(drill.steps, start=start_of(drill.steps, F(106)), goal=F(106), beat=F(1))
    rungs = drill.climbed(found.climb.rungs)
    assert climb_seconds(drill.steps, rungs=rungs, beat=F(1)) <= 20 * 60


@given(st.integers(30, 120), st.integers(0, 120), st.integers(3, 60))
def test_a_fitted_ladder_runs_from_start_to_goal_and_fits_whenever_one_can(start, rise, minutes):
    steps = steps_of("backward")
    found = fitted(steps, start=F(start), goal=F(start + rise), beat=F(1), minutes=minutes)
    rungs = found.climb.rungs
    assert (rungs[0], rungs[-1]) == (start, start + rise)
    assert len(rungs) <= 6
    assert list(rungs) == sorted(set(rungs))
    assert found.climb.seconds == climb_seconds(steps, rungs=rungs, beat=F(1))
    if found.climb.seconds <= minutes * 60:
        held = rungs_within(steps, rungs=rungs, beat=F(1), seconds=F(minutes * 60))
        assert held == len(rungs)
    else:
        assert len(rungs) <= 4
    if found.shorter is not None:
        assert len(found.shorter.rungs) < len(rungs)
        assert found.shorter.seconds < found.climb.seconds


def test_what_a_day_holds_is_counted_rung_by_rung():
    steps = steps_of("alone")
    rungs = (F(60), F(80), F(100))
    first = climb_seconds(steps, rungs=rungs[:1], beat=F(1))
    assert rungs_within(steps, rungs=rungs, beat=F(1), seconds=first) == 1
    assert rungs_within(steps, rungs=rungs, beat=F(1), seconds=first - 1) == 0
    assert rungs_within(steps, rungs=rungs, beat=F(1), seconds=F(9999)) == 3


@pytest.mark.parametrize("name", [k.name for k in CATALOGUE if k.family == "Rhythm variations"])
@pytest.mark.parametrize("music", [SIXTEENTHS, "e:0,1,2,3,4,5,6,7", "t:0,1,2,3,4,5,6,7,8,9,8,7"])
def test_every_variation_starts_below_its_burst(name, music):
    part = a_part(music)
    try:
        steps = make_drill(part, span(part, 0, 0), name, {}).steps
    except CrumbError:
        return
    goal = F(100)
    start = start_of(steps, goal)
    bursts = [burst for step in steps if (burst := burst_of(step, goal)) is not None]
    assert all(start < burst for burst in bursts)
    assert start <= start_tempo(goal)


def test_reading_and_listening_climb_no_ladder():
    part = replace(ETUDE)
    for name in ("name-it", "count-it", "pitches-only", "warm-up", "hand-order"):
        drill = make_drill(part, TWO_MEASURES, name, {})
        assert drill.climbed((F(60), F(80), F(100))) == (60,)
    assert make_drill(part, TWO_MEASURES, "stops", {}).climbed((F(60), F(100))) == (100,)


LONG = a_part(
    *[
        SIXTEENTHS,
        "e:0,1,2,3,4,5,6,7",
        "q:0,1 s:0,1,2,3,4,5,6,7",
        "s:0,1,2,3 q:4,r s:7,6,5,4",
    ]
    * 50
)


@pytest.mark.parametrize("name", sample([kind.name for kind in CATALOGUE]))
def test_two_hundred_measures_are_drilled_or_refused_in_a_moment(name):
    answer = []

    def ask():
        try:
            answer.append(make_drill(LONG, span(LONG, 0, 199), name, {}))
        except DrillDoesNotFit as refusal:
            answer.append(refusal.message)

    took = pace.seconds(ask)
    drill = answer[0]
    if isinstance(drill, str):
        assert took < 150 * pace.sums()  # a second, where four thousand sums take 7 ms
        assert drill.endswith(".")
        return
    through = cycle_seconds(drill.steps, tempo=F(80), beat=F(1))
    assert through <= 60 * 60 or drill_kind(name).for_pieces


def test_four_hours_of_articulation_are_a_refusal_with_an_offer():
    with pytest.raises(DrillDoesNotFit, match=r"minutes: take a smaller chunk. \d+ measures"):
        make_drill(LONG, span(LONG, 0, 199), "articulation", {})
