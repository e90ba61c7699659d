"""Any settings on any music: a drill that adds up, or a refusal in a sentence."""

from itertools import pairwise

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from crumb.core.drills import CATALOGUE, cycle_seconds, make_drill, passage_of
from crumb.core.drills.gaps import gapped_step
from crumb.core.drills.ladder_fit import fitted, start_of
from crumb.core.drills.model import LEVELS, Parameter
from crumb.core.errors import CrumbError
from tests.builders import SIXTEENTHS, F, a_part, span
from tests.core.drills.test_helpers import for_instrument
from tests.drill_arithmetic import wrong_in_itself

PARTS = [
    a_part(SIXTEENTHS, "q:0,r,9,1"),
    a_part("e:0,1,2,3,4,5", "q.:0 e:r,2,3", time="6/8"),
    a_part("t:0,1,2,3,4,5 h:5", "q:5 t:4,3,2 h:1"),
    a_part("q:0", "q:1", "q:2", time="1/4"),
    a_part("e:0,1,2,3,4", "e:4,3,2,1,0", time="5/8"),
    for_instrument("Violin", "e:0,1,2,3 q:9,2", "q:r,3 h:1"),
    for_instrument("Snare drum", "s:0,0,0,0 e:0,0 q:0 q:r", "q:0 e:0,0 h:0"),
    for_instrument("Marimba", "s:0,2,4,6,7,6,4,2 q:0,r"),
]
ODD = st.sampled_from(
    (
        "²|auto|1|0|-1|999|1+|1+4|R L|0 1 2|1/3 1/8|∞|shift, leap|A4|C9|Bb-1|1,2|35|i m a m|scale||"
        + "a" * 120
    ).split("|")
)


def values_for(parameter: Parameter) -> st.SearchStrategy[object]:
    if parameter.choices:
        return st.sampled_from(parameter.choices)
    if parameter.is_text:
        return ODD
    return st.integers(parameter.low, parameter.high)


def settings_for(name: str) -> st.SearchStrategy[dict[str, object]]:
    kind = next(k for k in CATALOGUE if k.name == name)
    return st.fixed_dictionaries({}, optional={p.name: values_for(p) for p in kind.parameters})


@pytest.mark.parametrize("name", [kind.name for kind in CATALOGUE])
@settings(max_examples=25, suppress_health_check=[HealthCheck.too_slow], deadline=None)
@given(data=st.data(), part=st.sampled_from(PARTS), level=st.sampled_from(LEVELS))
def test_any_settings_make_a_drill_that_adds_up_or_are_refused_in_a_sentence(
    name, data, part, level
):
    given_settings = data.draw(settings_for(name))
    where = span(part, 0, len(part.measures) - 1)
    passage = passage_of(part, where)
    try:
        drill = make_drill(part, where, name, given_settings, level=level, passage=passage)
    except CrumbError as refusal:
        said = refusal.message
        drill = None
    if drill is None:
        assert said.endswith((".", ")."))
        return
    other_pitches = {"backward", "groove"} & set(map(str, given_settings.values()))
    wrong = wrong_in_itself(passage, drill)
    assert [w for w in wrong if not (other_pitches and "pitches are not" in w)] == []
    beat = part.measures[0].time.beat
    assert 0 < cycle_seconds(drill.steps, tempo=F(80), beat=beat) <= 60 * 60
    found = fitted(drill.steps, start=start_of(drill.steps, F(90)), goal=F(90), beat=beat)
    assert found.climb.rungs[-1] == 90
    for step in drill.steps:
        assert len(step.name) <= 80
        assert list(step.clicks) == sorted(step.clicks)


# Silence in a passage ---------------------------------------------------------------------------


@given(
    st.lists(st.integers(-3, 9), min_size=8, max_size=8),
    st.sets(st.integers(1, 7), min_size=1, max_size=4),
    st.sampled_from([F(4), F(2), F(1), F(1, 2), F(1, 4)]),
)
def test_silence_moves_what_comes_after_it_and_nothing_else(row, places, gap):
    part = a_part("e:" + ",".join(map(str, row)))
    passage = passage_of(part, span(part, 0, 0))
    step = gapped_step(passage, sorted(places), gap, name="Gaps", said="gap", repetitions=1)
    assert [s.pitch.name for s in step.sounds] == [
        s.pitch.name for s in make_drill(part, span(part, 0, 0), "alone", {}).steps[0].sounds
    ]
    assert step.quarters == 4 + gap * len(places)
    for number, (before, after) in enumerate(pairwise(step.sounds), 1):
        assert after.at - before.at == F(1, 2) + (gap if number in places else 0)
    if gap < 1:  # on the printed beats, with a breath before each
        marks = [n.articulations for m in step.part.measures for n in m.notes]
        breaths = {i + 1 for i, found in enumerate(marks) if "breath-mark" in found}
        assert breaths == places
