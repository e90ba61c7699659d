"""Queries of slip places: named by students, tapped by judges."""

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from crumb.core.score.position import Position
from crumb.store import tables as t
from crumb.store.codecs.evidence import exact


def told_on(
    session: Session, part_ids: Sequence[UUID], students: Sequence[UUID]
) -> list[tuple[UUID, Position]]:
    """Places of slips that students named and did not retract; each slip at its last place."""
    rows = session.execute(
        select(t.Evidence.part_id, t.SlipPlace.at_index, t.SlipPlace.at_offset)
        .join(t.Evidence, t.Evidence.id == t.SlipPlace.evidence_id)
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .where(
            t.Evidence.part_id.in_(part_ids),
            t.Evidence.student_id.in_(students),
            t.SlipPlace.at_index.is_not(None),
            t.Retraction.evidence_id.is_(None),
        )
        .order_by(t.SlipPlace.evidence_id, t.SlipPlace.id.desc())
        .ext(distinct_on(t.SlipPlace.evidence_id))
    )
    return [
        (part, Position(index, exact(offset))) for part, index, offset in rows if index is not None
    ]


def heard_on(
    session: Session, part_ids: Sequence[UUID], students: Sequence[UUID]
) -> Sequence[tuple[UUID, list[dict[str, Any]]]]:
    """Slips that were marked in hearings which still stand, with the part of each hearing."""
    rows = session.execute(
        select(t.Hearing.part_id, t.Hearing.slips)
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Hearing.evidence_id)
        .where(
            t.Hearing.part_id.in_(part_ids),
            t.Hearing.student_id.in_(students),
            t.Retraction.evidence_id.is_(None),
        )
    )
    return [(row[0], row[1]) for row in rows]
