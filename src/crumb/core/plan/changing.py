"""An ask with lower goals, or with chunks left as they are: what offers try, and wishes apply."""

from collections.abc import Mapping
from dataclasses import replace
from fractions import Fraction

from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan.model import ChunkState, PlanAsk


def capped(ask: PlanAsk, tempo: int) -> PlanAsk:
    """The same with no goal faster than a tempo."""
    return replace(ask, chunks=tuple(_slower(c, Fraction(tempo)) for c in ask.chunks))


def left_out(ask: PlanAsk, left: Mapping[str, int | None]) -> PlanAsk:
    """The same with some chunks, by id, left at a tempo, or (None) out.

    Where one is out, nothing joins its neighbours.
    """
    found: list[ChunkState] = []
    is_gap = False
    for chunk in ask.chunks:
        tempo = left.get(chunk.id)
        if chunk.id in left and tempo is None:
            if found:
                found[-1] = replace(found[-1], seam_out=True)
            is_gap = True
            continue
        here = chunk if tempo is None else _slower(chunk, Fraction(tempo))
        found.append(replace(here, seam_in=True) if is_gap else here)
        is_gap = False
    return replace(ask, chunks=tuple(found))


def _slower(chunk: ChunkState, tempo: Fraction) -> ChunkState:
    """A chunk with a lower goal; what was shown at that tempo stands at it."""
    if chunk.goal <= tempo:
        return chunk
    is_shown = chunk.solid is not None and chunk.solid >= tempo
    return replace(chunk, goal=tempo, level=max(chunk.level, AT_TEMPO) if is_shown else chunk.level)
