"""Answers about what needs a director today."""

from datetime import date
from uuid import UUID

from crumb.api.schemas.desk import DateAheadOut, DeskLineOut, DeskOut
from crumb.services.desk import DeskView


def desk_out(found: DeskView, today: date) -> DeskOut:
    """What needs a director."""
    return DeskOut(
        more=found.more,
        put_off=found.put_off,
        lines=[
            DeskLineOut(
                key=line.key,
                kind=line.kind,
                say=line.say,
                why=line.why,
                student_ids=[UUID(actor.id) for actor in line.students],
                students=[actor.name for actor in line.students],
                part_id=UUID(line.part) if line.part else None,
                chunk_id=UUID(line.chunk) if line.chunk else None,
            )
            for line in found.lines
        ],
        dates=[
            DateAheadOut(
                plan_id=one.plan_id,
                piece_id=one.piece_id,
                piece=one.piece,
                part=one.part,
                section=one.section,
                on=one.on,
                days=(one.on - today).days,
            )
            for one in found.dates
        ],
    )
