"""Cells of the Wall, as they go over the wire."""

from collections.abc import Iterable, Mapping

from crumb.api.schemas.wall import (
    CellOut,
    CureOut,
    DayStoodOut,
    HeardOut,
    JoinsOut,
    Seams,
    SecureOut,
)
from crumb.core.drills import drill_kind
from crumb.core.mastery.course import DayStood
from crumb.core.plan.cures import Cure
from crumb.services.wall.cell_evidence import Joins, Resting
from crumb.services.wall.cells import Cell
from crumb.store.tables import Heard

SEAMS: Mapping[tuple[bool, bool], Seams] = {
    (False, False): "",
    (True, False): "in",
    (False, True): "out",
    (True, True): "both",
}


def cell_out(cell: Cell) -> CellOut:
    """Standing of a student on a chunk."""
    return CellOut(
        level=cell.level,
        why=cell.why,
        last_played_at=cell.last_played_at,
        next=cell.next,
        seam_in=cell.seam_in,
        seam_out=cell.seam_out,
        due_on=cell.due_on,
    )


def days_out(days: Iterable[DayStood]) -> list[DayStoodOut]:
    """How it went from day to day."""

    def rounded(tempo: float | None) -> float | None:
        return None if tempo is None else round(tempo, 1)

    return [
        DayStoodOut(
            day=one.day,
            level=one.level,
            secure=rounded(one.secure),
            low=rounded(one.low),
            high=rounded(one.high),
            solid=None if one.solid is None else float(one.solid),
        )
        for one in days
    ]


def joins_out(joins: Joins) -> JoinsOut:
    """How far the seams are."""
    return JoinsOut(into=joins.into, out=joins.out, of=joins.of, tempo=float(joins.tempo))


def cure_out(cure: Cure) -> CureOut:
    """Something that can be heard, and what mends it."""
    return CureOut(
        key=cure.key,
        heard=cure.heard,
        likely=cure.likely,
        drills=[drill_kind(name).title for name in cure.drills],
        advice=cure.advice,
    )


def heard_out(row: Heard, cure: Cure, by: str) -> HeardOut:
    """A fault that was heard, and who heard it."""
    return HeardOut(
        id=row.id,
        cure=cure_out(cure),
        by=by,
        said_at=row.said_at,
        is_of_section=row.section_id is not None,
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
