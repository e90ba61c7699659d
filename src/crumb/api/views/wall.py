"""Cells of the Wall, as they go over the wire."""

from crumb.api.schemas.wall import CellOut
from crumb.services.standings.wall import Cell


def cell_out(cell: Cell) -> CellOut:
    """Where a student stands on a chunk."""
    return CellOut(level=cell.level, why=cell.why, last_played_at=cell.last_played_at)
