"""Variants of a planner request: other goals, or chunks left as they are."""

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction

from crumb.core.mastery.levels import AT_TEMPO, LINKED, STEADY
from crumb.core.plan.model import ChunkState, PlanAsk
from crumb.core.plan.rates import start_of


def capped(ask: PlanAsk, tempo: int) -> PlanAsk:
    """The same with no goal faster than a tempo."""
    return replace(ask, chunks=tuple(_slower(c, Fraction(tempo)) for c in ask.chunks))


def towards(ask: PlanAsk, tempo: int) -> PlanAsk:
    """The same with one goal for every chunk, lower or higher than it was."""
    return replace(ask, chunks=tuple(with_goal(c, Fraction(tempo)) for c in ask.chunks))


def with_goal(chunk: ChunkState, tempo: Fraction) -> ChunkState:
    """A chunk with another goal, and the level it has against that.

    The notes are as hard as they were: what can be expected at sight does not change with it.
    """
    return _slower(chunk, tempo) if tempo <= chunk.goal else _faster(chunk, tempo)


def left_out(ask: PlanAsk, left: Mapping[str, int | None]) -> PlanAsk:
    """The same with some chunks, by id, left at a tempo, or (None) out.

    Where one is out, nothing joins its neighbours.
    """
    found: list[ChunkState] = []
    is_gap = False
    for chunk in ask.chunks:
        tempo = left.get(chunk.id)
        if chunk.id in left and tempo is None:
            is_gap = True
            continue
        here = chunk if tempo is None else _slower(chunk, Fraction(tempo))
        found.append(replace(here, follows=False) if is_gap else here)
        is_gap = False
    return replace(ask, chunks=tuple(found))


def _faster(chunk: ChunkState, tempo: Fraction) -> ChunkState:
    """A chunk with a higher goal; one that was not shown at it does not stand there any more."""
    chunk = replace(chunk, sight=start_of(chunk))
    is_shown = chunk.solid is not None and chunk.solid >= tempo
    if is_shown or chunk.level < AT_TEMPO:
        return replace(chunk, goal=tempo)
    level = LINKED if chunk.seam_in and chunk.seam_out else STEADY
    return replace(chunk, goal=tempo, level=level)


def _slower(chunk: ChunkState, tempo: Fraction) -> ChunkState:
    """A chunk with a lower goal; what was shown at that tempo stands at it."""
    if chunk.goal <= tempo:
        return chunk
    is_shown = chunk.solid is not None and chunk.solid >= tempo
    level = max(chunk.level, AT_TEMPO) if is_shown else chunk.level
    return replace(chunk, goal=tempo, level=level, sight=start_of(chunk))
