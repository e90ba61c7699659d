import json
from pathlib import Path
from random import Random
from statistics import fmean

import pytest

from crumb.core.tempo.climb import (
    LADDER,
    STAIRCASE,
    THREE_UP,
    ClimbPlan,
    ClimbStep,
    Played,
    advance,
    climb,
    start_climb,
    visited,
)
from tests.builders import F
from tests.sizes import sample

CASES = json.loads((Path(__file__).parent / "climb_cases.json").read_text())


def _step(n, quarters, unbroken, slip="down", free=False):
    return ClimbStep(n, F(quarters), unbroken, slip, free=free)


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_the_climb(case):
    plan = ClimbPlan(
        tuple(_step(*step) for step in case["steps"]),
        tuple(F(rung) for rung in case["rungs"]),
        F(1),
        case.get("way", LADDER),
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


@pytest.mark.parametrize("count", range(1, 14))
def test_three_up_one_back_comes_to_the_rungs_it_is_said_to_take_time_for(count):
    rungs = tuple(F(82 + 4 * place) for place in range(count))
    plan = ClimbPlan((ClimbStep(1, F(4), False),), rungs, F(1), THREE_UP)
    state, path = start_climb(plan), []
    while not state.is_finished:
        path.append(state.tempo)
        state = advance(plan, state, Played(0, state.tempo, True, F(6 * len(path))))
    assert tuple(path) == visited(rungs, THREE_UP)
    # Five rungs: 1 2 3 4, back to 3, 4, 5.
    assert len(path) == count + 2 * max((count - 3) // 2, 0)


def _clean_share(n: int, seed: int) -> float:
    """How often a player of known skill is clean where a staircase settles."""
    random = Random(seed)
    plan = ClimbPlan(
        (ClimbStep(n, F(4), False),), tuple(F(r) for r in range(40, 201)), F(1), STAIRCASE
    )
    state, chances = start_climb(plan), []
    for place in range(4000):
        chance = 1 / (1 + (float(state.tempo) / 110) ** 12)
        clean = random.random() < chance
        state = advance(plan, state, Played(0, state.tempo, clean, F(9 * place)))
        if place >= 500:
            chances.append(chance)
    return fmean(chances)


# Levitt, J. Acoust. Soc. Am. 49 (1971), 467-477, table I: one down after a slip, up after n clean.
@pytest.mark.parametrize(("n", "point"), sample([(2, 0.707), (3, 0.794), (4, 0.841)]))
def test_a_staircase_settles_where_levitt_says(n, point):
    shares = [_clean_share(n, seed) for seed in range(6)]
    assert fmean(shares) == pytest.approx(point, abs=0.02)
