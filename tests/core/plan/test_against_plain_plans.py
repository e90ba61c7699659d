"""Plans on simulated learners, a few of them: ``./bench plans`` tells a hundred of each model."""

from statistics import mean

import pytest

from tests.core.learners import MINUTES, MODELS, PLAIN, Learner, by_plan, promised
from tests.sizes import sample

SEEDS = sample((3, 5))


@pytest.mark.parametrize("model", sample(list(MODELS)))
def test_readiness_comes_in_fewer_days_and_minutes_than_by_any_plain_plan(model):
    ours = [by_plan(Learner(model, seed)) for seed in SEEDS]
    for name, plain in PLAIN.items():
        theirs = [plain(Learner(model, seed)) for seed in SEEDS]
        assert mean(o.minutes for o in ours) < 0.95 * mean(o.minutes for o in theirs), name
        assert mean(o.days for o in ours) < 1.1 * mean(o.days for o in theirs), name
    idle = sum(o.idle for o in ours) / (MINUTES * sum(o.days for o in ours))
    assert idle < 0.05


@pytest.mark.full
def test_what_was_likely_came_true_more_often_than_what_was_not():
    told = [promised((model, seed)) for model in MODELS for seed in range(8)]
    likely = [one.came for one in told if one.chance >= 0.7]
    unlikely = [one.came for one in told if one.chance < 0.3]
    assert mean(map(float, likely)) > 0.6
    assert mean(map(float, unlikely)) < 0.3
