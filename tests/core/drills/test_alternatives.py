"""What a slip was and what it asks for; other ways where a ladder stalls; scales for a day."""

from datetime import UTC, date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st

from crumb.core.drills import CATALOGUE
from crumb.core.drills.alternatives import alternatives_for, equivalents
from crumb.core.evidence.diary import DiaryKind, Line, seconds_by_category
from crumb.core.evidence.slips import LABELS, SlipKind, judged, symptoms_of
from crumb.core.plan.cures import CURES
from crumb.core.score.position import Position, Span
from crumb.core.score.slicing import bars_of
from crumb.core.tempo.ladder import ladder, usual_step
from tests.builders import SIXTEENTHS, F, a_part

NAMES = [kind.name for kind in CATALOGUE]


@pytest.mark.parametrize("name", NAMES)
def test_another_school_is_of_another_family(name: str):
    family = next(kind.family for kind in CATALOGUE if kind.name == name)
    others = alternatives_for(name)
    assert others
    assert all(one.kind.family != family and one.why for one in others)


@pytest.mark.parametrize("name", NAMES)
def test_what_does_the_same_work_is_another_drill_at_the_same_kind_of_tempo(name: str):
    here = next(kind for kind in CATALOGUE if kind.name == name)
    for one in equivalents(name):
        assert one.kind.name != name
        assert (one.kind.at_goal, one.kind.stays) == (here.at_goal, here.stays)


@pytest.mark.parametrize("name", NAMES)
def test_every_drill_judges_something(name: str):
    assert judged(name)


def test_a_pass_for_one_layer_lets_the_others_go():
    # Common practice, no source: tune is not judged in a bowing pass, dynamics not with the click.
    assert SlipKind.TUNE not in judged("one-layer", {"layer": "bow or tongue"})
    assert SlipKind.DYNAMICS in judged("one-layer", {"layer": "dynamics"})
    assert SlipKind.DYNAMICS not in judged("every-note")
    assert judged("alone") == frozenset(SlipKind)


def test_three_of_a_kind_ask_for_a_cure_that_there_is():
    keys = {cure.key for cure in CURES}
    for kind in SlipKind:
        assert LABELS[kind]
        assert symptoms_of([kind] * 2) == ()
        assert set(symptoms_of([kind] * 3)) <= keys
    often = [SlipKind.RHYTHM] * 3 + [SlipKind.SHIFT] * 5
    assert symptoms_of(often) == ("leap", "rhythm")


@given(st.integers(30, 200), st.integers(0, 150), st.sampled_from(["percent", "traditional"]))
def test_a_scale_for_a_day_has_few_rungs_and_ends_at_the_goal(start: int, more: int, scale: str):
    goal = F(start + more)
    step = usual_step(F(start), goal, scale)
    assert step is not None
    rungs = ladder(start=F(start), goal=goal, step=step, scale=scale)
    assert (rungs[0], rungs[-1]) == (F(start), goal)
    assert list(rungs) == sorted(set(rungs))
    if scale == "traditional" or F(start) >= F(6, 10) * goal:
        assert len(rungs) <= 6


def test_bars_are_told_from_where_a_span_begins():
    part = a_part("q:4", *[SIXTEENTHS, "q:0,2 h:4"] * 2)  # a pickup of one beat
    whole = Span(Position(0, F(0)), Position(4, F(4)))
    assert bars_of(part, whole) == (0, 1, 5, 9, 13)
    inside = Span(Position(1, F(2)), Position(3, F(1)))
    assert bars_of(part, inside) == (2, 6)


def test_minutes_are_summed_by_what_they_went_into():
    at, day = datetime(2026, 1, 1, tzinfo=UTC), date(2026, 1, 1)

    def spent(category: str, seconds: int) -> Line:
        return Line(at, day, DiaryKind.MINUTES, {"category": category, "seconds": seconds})

    tired = Line(at, day, DiaryKind.FEELING, {"what": "tired"})
    lines = [spent("focus", 60), tired, spent("pleasure", 30), spent("focus", 15)]
    assert seconds_by_category(lines) == {"focus": 75, "pleasure": 30}
