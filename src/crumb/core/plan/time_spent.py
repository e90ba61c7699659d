"""Minutes that repetitions took, and the share of each chunk."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from math import fsum

from crumb.core.plan.rates import pass_seconds
from crumb.core.score.position import Span

_USUAL_QUARTERS, _USUAL_TEMPO = Fraction(8), Fraction(80)
"""Of a repetition that no drill asked for, or without a click (our own choice)."""


@dataclass(frozen=True, slots=True)
class Spent:
    """Repetitions of one span at one tempo; ``quarters`` each, where a drill said how long."""

    span: Span
    tempo: Fraction | None
    quarters: Fraction | None
    count: int


def minutes_by_span(spent: Iterable[Spent]) -> dict[Span, float]:
    """Minutes by what was played: few spans, however much was played; in whatever order."""
    found: dict[Span, list[float]] = {}
    for one in spent:
        quarters, tempo = one.quarters or _USUAL_QUARTERS, one.tempo or _USUAL_TEMPO
        minutes = one.count * pass_seconds(quarters, Fraction(1), float(tempo)) / 60
        found.setdefault(one.span, []).append(minutes)
    return {span: fsum(minutes) for span, minutes in found.items()}


def minutes_on(chunk: Span, spent: Mapping[Span, float]) -> float:
    """Minutes inside a chunk; of something longer, the share of one of its measures."""
    return fsum(
        minutes if chunk.covers(span) else minutes / max(span.measures, 1)
        for span, minutes in spent.items()
        if span.touches(chunk)
    )
