"""What was forecast against what came: ``./bench forecast``, forty learners of each family.

Beside it stand two plain ways: the base rate of the family, and a logistic curve on the share of
goal, days and open chunks, fitted to the very answers that it is judged on.
"""

import sys
from collections.abc import Sequence
from concurrent.futures import ProcessPoolExecutor

import numpy as np
from numpy.typing import NDArray
from tests.core.learners import FAMILIAR, MODELS, Told, promised

from bench.sizes import size

Numbers = NDArray[np.float64]
_STEPS, _PENALTY = 60, 0.05


def main() -> int:
    """Measure and print."""
    count = int(sys.argv[2]) if len(sys.argv) > 2 else size(40, 2)
    cases = [(model, seed) for model in MODELS for seed in range(count)]
    with ProcessPoolExecutor(2) as pool:
        told = list(pool.map(promised, cases, chunksize=4))
    chance = np.array([one.chance for one in told])
    came = np.array([float(one.came) for one in told])
    plain = _logistic(told, came)
    for model in MODELS:
        here = np.array([case[0] == model for case in cases])
        base = float(came[here].mean())
        known = "" if model in FAMILIAR else ", held out"
        print(
            f"{model}{known}: told {chance[here].mean():.2f}, came {base:.2f}; Brier "
            f"{_brier(chance[here], came[here]):.3f}, logistic "
            f"{_brier(plain[here], came[here]):.3f}, base rate {base * (1 - base):.3f}"
        )
    print(f"all: Brier {_brier(chance, came):.3f}, logistic {_brier(plain, came):.3f}")
    for low in range(10):
        here = (chance >= low / 10) & (chance < (low + 1) / 10)
        if here.any():
            print(
                f"told {low * 10} to {low * 10 + 10} %: {here.sum()} times, on average "
                f"{chance[here].mean():.0%}, came {came[here].mean():.0%}"
            )
    return 0


def _brier(chance: Numbers, came: Numbers) -> float:
    return float(np.mean((chance - came) ** 2))


def _logistic(told: Sequence[Told], came: Numbers) -> Numbers:
    """Chances by the plain curve, fitted by Newton's method."""
    facts = np.array(
        [[1, 5 * one.share, one.days / 10, one.open / 4, one.share * one.days / 10] for one in told]
    )
    weights = np.zeros(facts.shape[1])
    found: Numbers = np.full(len(told), 0.5)
    for _ in range(_STEPS):
        steepness = found * (1 - found) + 1e-6
        curvature = facts.T @ (facts * steepness[:, None]) + _PENALTY * np.eye(len(weights))
        weights += np.linalg.solve(curvature, facts.T @ (came - found) - _PENALTY * weights)
        found = 1 / (1 + np.exp(-facts @ weights))
    return found
