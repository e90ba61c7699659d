import json
from pathlib import Path

import pytest

from crumb.core.tempo.climb import ClimbPlan, ClimbStep, Played, advance, climb, start_climb
from tests.builders import F

CASES = json.loads((Path(__file__).parent / "climb_cases.json").read_text())


def _step(n, quarters, unbroken, slip="down", free=False):
    return ClimbStep(n, F(quarters), unbroken, slip, free=free)


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_the_climb(case):
    plan = ClimbPlan(
        tuple(_step(*step) for step in case["steps"]),
        tuple(F(rung) for rung in case["rungs"]),
        F(1),
    )
    state = climb(
        plan,
        [
            Played(s, None if tempo is None else F(tempo), clean, F(at))
            for s, tempo, clean, at in case["played"]
        ],
    )
    assert {name: getattr(state, name) for name in case["after"]} == case["after"]


def test_a_step_the_drill_does_not_have_is_a_mistake_of_the_caller():
    plan = ClimbPlan((ClimbStep(1, F(4), False),), (F(60),), F(1))
    with pytest.raises(ValueError, match="no step 3"):
        advance(plan, start_climb(plan), Played(3, F(60), True, F(0)))


def test_on_paper_the_whole_ladder_lies_before_the_player_so_rungs_may_be_left_out():
    plan = ClimbPlan((ClimbStep(1, F(4), False),), tuple(F(r) for r in (60, 64, 68, 72)), F(1))
    state = climb(plan, [Played(0, F(72), True, F(0), leaps=True)])
    assert state.is_finished
