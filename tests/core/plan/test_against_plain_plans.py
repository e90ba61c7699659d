"""Plans on simulated learners, a few of them: ``./bench plans`` tells a hundred of each model."""

from statistics import mean

import pytest

from tests.core.learners import MODELS, PLAIN, Learner, by_plan, promised
from tests.sizes import sample

SEEDS = sample((3, 5))


@pytest.mark.parametrize("model", sample(list(MODELS)))
def test_minutes_to_readiness_are_fewer_than_by_any_plain_plan(model):
    ours = mean(by_plan(Learner(model, seed)) for seed in SEEDS)
    for name, plain in PLAIN.items():
        theirs = mean(plain(Learner(model, seed)) for seed in SEEDS)
        assert ours < 0.95 * theirs, name


@pytest.mark.full
def test_what_was_likely_came_true_more_often_than_what_was_not():
    told = [promised((model, seed)) for model in MODELS for seed in range(8)]
    likely = [came for chance, came in told if chance >= 0.7]
    unlikely = [came for chance, came in told if chance < 0.3]
    assert mean(map(float, likely)) > 0.6
    assert mean(map(float, unlikely)) < 0.3
