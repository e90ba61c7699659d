"""Plans against plain plans on simulated learners, and forecasts against what came of them.

Named, because it takes long: ``./bench plans`` (a hundred seeds), ``./bench plans 10``.
"""

import sys
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from statistics import mean

from tests.core.learners import MODELS, PLAIN, Learner, by_plan, promised

from bench.sizes import size

CLASSES = ((0.0, 0.3), (0.3, 0.7), (0.7, 1.01))


def _ours(case: tuple[str, int]) -> float:
    return by_plan(Learner(*case))


def _plain(case: tuple[str, int, str]) -> float:
    model, seed, name = case
    return PLAIN[name](Learner(model, seed))


def came_true(told: list[tuple[float, bool]]) -> Iterator[tuple[str, int, float, float]]:
    """By class of chance: its name, how many, what was told, what came true."""
    for low, high in CLASSES:
        here = [(chance, came) for chance, came in told if low <= chance < high]
        if here:
            name = f"{low:.0%} to {min(high, 1.0):.0%}"
            yield name, len(here), mean(c for c, _ in here), mean(float(t) for _, t in here)


def main() -> int:
    """Measure and print."""
    count = int(sys.argv[2]) if len(sys.argv) > 2 else size(100, 1)
    saved = []
    with ProcessPoolExecutor(2) as pool:
        for model in MODELS:
            cases = [(model, seed) for seed in range(count)]
            ours = mean(pool.map(_ours, cases))
            plain = {
                name: mean(pool.map(_plain, [(*case, name) for case in cases])) for name in PLAIN
            }
            best = min(plain.values())
            saved.append(1 - ours / best)
            others = ", ".join(f"{name} {minutes:.0f}" for name, minutes in plain.items())
            print(f"{model}: {ours:.0f} minutes; {others}; {saved[-1]:.0%} fewer than the best")
        print(f"mean {mean(saved):.0%}, worst {min(saved):.0%}")
        told = list(pool.map(promised, [(m, s) for m in MODELS for s in range(count)]))
    for name, many, said, true in came_true(told):
        print(f"told {name}: {many} times, {said:.0%} on average, {true:.0%} came true")
    return 0
