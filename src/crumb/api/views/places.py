"""Places and chunks, from and to the wire."""

from fractions import Fraction

from crumb.api.schemas.common import PositionOut
from crumb.api.schemas.splitting import (
    ChunkOut,
)
from crumb.core.score.position import Position
from crumb.services.maps.chunks import ChunkView


def position_out(position: Position) -> PositionOut:
    """A position."""
    return PositionOut(index=position.index, at=str(position.at))


def position_in(position: PositionOut) -> Position:
    """A position from the wire."""
    return Position(position.index, Fraction(position.at))


def chunk_out(chunk: ChunkView) -> ChunkOut:
    """A chunk."""
    return ChunkOut(
        id=chunk.id,
        label=chunk.label,
        tab=chunk.tab,
        start=position_out(chunk.span.start),
        end=position_out(chunk.span.end),
        landing=chunk.span.landing,
    )
