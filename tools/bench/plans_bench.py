"""Plans against plain plans on simulated learners, in days and in minutes: ``./bench plans``.

Named, because it takes long: a hundred seeds, or as many as are asked for (``./bench plans 10``).
The plan's constants were chosen with the first families in sight; the last ones were held out.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from statistics import mean

from tests.core.learners import FAMILIAR, MINUTES, MODELS, PLAIN, Learner, Outcome, by_plan

from bench.sizes import size


def _ours(case: tuple[str, int]) -> Outcome:
    return by_plan(Learner(*case))


def _plain(case: tuple[str, int, str]) -> Outcome:
    model, seed, name = case
    return PLAIN[name](Learner(model, seed))


def main() -> int:
    """Measure and print."""
    count = int(sys.argv[2]) if len(sys.argv) > 2 else size(100, 1)
    days, minutes, idle = [], [], []
    with ProcessPoolExecutor(2) as pool:
        for model in MODELS:
            cases = [(model, seed) for seed in range(count)]
            ours = list(pool.map(_ours, cases, chunksize=4))
            plain = {
                name: list(pool.map(_plain, [(*case, name) for case in cases], chunksize=4))
                for name in PLAIN
            }
            our_days = mean(o.days for o in ours)
            our_minutes = mean(o.minutes for o in ours)
            best_days = min(mean(o.days for o in one) for one in plain.values())
            best_minutes = min(mean(o.minutes for o in one) for one in plain.values())
            days.append(our_days / best_days)
            minutes.append(our_minutes / best_minutes)
            idle.append(sum(o.idle for o in ours) / (MINUTES * sum(o.days for o in ours)))
            known = "" if model in FAMILIAR else ", held out"
            print(
                f"{model}{known}: {our_days:.1f} days (best plain {best_days:.1f}, "
                f"ratio {days[-1]:.2f}), {our_minutes:.0f} minutes (best plain "
                f"{best_minutes:.0f}, ratio {minutes[-1]:.2f}), idle {idle[-1]:.1%}",
                flush=True,
            )
    held_out = slice(len(FAMILIAR), None)
    for name, ratios in (("days", days), ("minutes", minutes)):
        print(f"{name}, held out: mean ratio {mean(ratios[held_out]):.3f}")
    print(f"days: mean ratio {mean(days):.3f} (aim 0.85), worst {max(days):.2f} (aim 0.95)")
    print(
        f"minutes: mean ratio {mean(minutes):.3f} (aim 0.68), worst {max(minutes):.2f} (aim 0.78)"
    )
    print(f"idle: mean {mean(idle):.1%} (aim 2 %)")
    return 0
