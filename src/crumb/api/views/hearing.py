"""Hearings, for the wire."""

from collections.abc import Mapping
from uuid import UUID

from crumb.api.schemas.practice import LastHearingOut, MyPartOut
from crumb.api.views.places import chunk_out
from crumb.api.views.wall import cell_out
from crumb.services.hearing import LastHeard
from crumb.services.wall.grid import MapOfPart


def last_hearing_out(last: LastHeard | None) -> LastHearingOut | None:
    """The last judgement, if there is one."""
    if last is None:
        return None
    row = last.hearing
    return LastHearingOut(
        level=row.level,
        by=last.by,
        heard_at=row.heard_at,
        went_well=row.went_well,
        one_thing=row.one_thing,
        missing=row.missing,
    )


def my_part_out(one: MapOfPart, title: str, heard: Mapping[UUID, LastHeard]) -> MyPartOut:
    """A student's part with their levels, and what was said of each chunk."""
    hand, chunks, cells = one
    return MyPartOut(
        part_id=hand.row.id,
        title=title,
        part=hand.row.name,
        chunks=[chunk_out(c) for c in chunks],
        cells=[cell_out(c) for c in cells],
        heard=[last_hearing_out(heard.get(c.id)) for c in chunks],
    )
