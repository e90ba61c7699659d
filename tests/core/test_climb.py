import json
from pathlib import Path

import pytest

from crumb.core.tempo.climb import ClimbPlan, ClimbStep, Played, advance, climb, start_climb
from tests.builders import F

CASES = json.loads((Path(__file__).parent / "climb_cases.json").read_text())


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_the_climb(case):
    plan = ClimbPlan(
        tuple(ClimbStep(n, F(quarters), *more) for n, quarters, *more in case["steps"]),
        tuple(F(rung) for rung in case["rungs"]),
        F(1),
    )
    state = climb(
        plan, [Played(s, F(tempo), clean, F(at)) for s, tempo, clean, at in case["played"]]
    )
    assert {name: getattr(state, name) for name in case["after"]} == case["after"]


def test_a_step_the_drill_does_not_have_is_a_mistake_of_the_caller():
    plan = ClimbPlan((ClimbStep(1, F(4), False),), (F(60),), F(1))
    with pytest.raises(ValueError, match="no step 3"):
        advance(plan, start_climb(plan), Played(3, F(60), True, F(0)))
