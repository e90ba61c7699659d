"""How long a cycle of each planned drill is, on spans of music21's corpus.

The plan reckons with these lengths before it knows the notes (``core/plan/blocks.py``).
"""

from statistics import median

import pytest

from checks.sizes import Size
from crumb.core.drills import cycle_seconds
from crumb.core.plan import blocks
from crumb.core.plan.rates import pass_seconds
from crumb.core.score.slicing import played_quarters
from tests.formats.drill_sweep import made, passage_at, places
from tests.sizes import SIZE

SPANS = 100 if SIZE is Size.FULL else 30
FITS = 8
"""On fewer spans than this a median says nothing."""


@pytest.fixture(scope="module")
def passages():
    found = [passage_at(place) for place in places(SPANS, 3)]
    return [one for one in found if played_quarters(one.part, one.span) >= 4]


@pytest.mark.parametrize("drill", sorted(blocks.KNOWN_DRILLS))
def test_the_plan_knows_how_long_a_cycle_is(passages, drill):
    lengths = []
    for passage in passages:
        exercise = made(passage, drill)
        if exercise is not None:
            tempo = passage.working_tempo
            cycle = cycle_seconds(exercise.steps, tempo=tempo, beat=passage.beat)
            quarters = played_quarters(passage.part, passage.span)
            lengths.append(float(cycle) / pass_seconds(quarters, passage.beat, float(tempo)))
    if len(lengths) < FITS:
        pytest.skip(f"{drill} fits only {len(lengths)} of these spans")
    assert median(lengths) == pytest.approx(blocks.passes_of(drill), rel=0.25)
