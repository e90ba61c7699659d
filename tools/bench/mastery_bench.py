"""Levels kept up, levels made anew, and a school's plans: ``./bench mastery``.

Ratios are against the plain way in the same run: all of the history folded for each repetition.
"""

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from functools import partial
from random import Random
from time import perf_counter

from bench.sizes import size
from crumb.core.evidence.model import Evidence
from crumb.core.mastery.replay import (
    ReplayState,
    Target,
    advance_state,
    nothing,
    replay,
    standing_of,
)
from crumb.core.plan.build import make_plan
from crumb.core.plan.model import ChunkState, PlanAsk
from crumb.core.score.position import Position, Span
from crumb.store.codecs.mastery import fold_from, fold_to_json

CHUNKS = 20
STUDENTS = size(150, 4)
LONG = size(5000, 100)


def main() -> int:
    """Measure and print."""
    random = Random(5)  # noqa: S311 - invented practice
    targets = [
        Target(Span(Position(i, Fraction(0)), Position(i + 1, Fraction(0))), Fraction(100))
        for i in range(CHUNKS)
    ]
    here = targets[0]
    history = [_played(random, here.span, n) for n in range(LONG)]
    for length in (0, LONG):
        kept = replay([here], history[:length])[here.span] if length else nothing(here)
        one = _played(random, here.span, LONG + 1)
        took = _time(partial(_kept_up, kept, one, here), 200)
        print(f"one more after {length}: {took * 1000:.3f} ms (aim 2)")
    again = _time(lambda: replay([here], history), 1)
    print(f"the plain way, all of {LONG} anew: {again / took:.0f} times as long")
    rows = [_played(random, random.choice(targets).span, n) for n in range(20_000)]
    took = _time(lambda: replay(targets, rows), 1)
    print(f"made anew: {len(rows) / took:.0f} repetitions a second")
    asks = [_ask(random) for _ in range(STUDENTS)]
    took = _time(lambda: [make_plan(ask) for ask in asks], 1)
    hopeless = sum(not make_plan(ask).feasible for ask in asks)
    print(f"plans for {STUDENTS} students: {took:.1f} s (aim 5), {hopeless} of them with offers")
    return 0


def _kept_up(kept: ReplayState, one: Evidence, target: Target) -> None:
    """What a hand-in does with a chunk: read, fold, tell, write."""
    stored = fold_to_json(kept.fold)
    after = advance_state(kept, one, target)
    fold_from(stored, target)
    fold_to_json(after.fold)
    standing_of(after, target)


def _time(work: Callable[[], object], times: int) -> float:
    started = perf_counter()
    for _ in range(times):
        work()
    return (perf_counter() - started) / times


def _played(random: Random, span: Span, n: int) -> Evidence:
    at = datetime(2026, 9, 1, tzinfo=UTC) + timedelta(minutes=7 * n)
    return Evidence(
        span, at, n, tempo=Fraction(random.randint(50, 104)), is_clean=random.random() < 0.8
    )


def _ask(random: Random) -> PlanAsk:
    today = datetime(2026, 11, 2, tzinfo=UTC).date()
    chunks = []
    for place in range(CHUNKS):
        level = random.choice((0, 1, 2, 3, 3, 4, 5))
        secure = None if level == 0 else 100 * random.uniform(0.5, 1.02)
        chunks.append(
            ChunkState(
                str(place),
                Fraction(8),
                Fraction(100),
                load=random.uniform(1, 5),
                level=level,
                secure=secure,
                low=None if secure is None else secure * 0.92,
                high=None if secure is None else secure * 1.08,
            )
        )
    return PlanAsk(today, today + timedelta(days=random.randint(12, 40)), tuple(chunks))
