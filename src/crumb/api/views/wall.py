"""Cells of the Wall, as they go over the wire."""

from crumb.api.schemas.wall import CellOut, SecureOut
from crumb.services.standings.wall import Cell, Resting


def cell_out(cell: Cell) -> CellOut:
    """Where a student stands on a chunk."""
    return CellOut(
        level=cell.level,
        why=cell.why,
        last_played_at=cell.last_played_at,
        next=cell.next,
        seam_in=cell.seam_in,
        seam_out=cell.seam_out,
        due_on=cell.due_on,
    )


def secure_out(found: Resting) -> SecureOut | None:
    """The tempos of a student on a chunk; None where nothing tells of them."""
    if found.tempos is None:
        return None
    secure, solid, best = found.tempos.secure, found.tempos.solid, found.tempos.best_single
    return SecureOut(
        median=round(secure.median, 1),
        low=round(secure.low, 1),
        high=round(secure.high, 1),
        enough=secure.enough,
        goal=float(found.goal),
        solid=None if solid is None else float(solid),
        best=None if best is None else float(best),
    )
