"""Students' standing today, read from stored levels without any history."""

from collections.abc import Sequence
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.mastery.chunk import Edges, Standing
from crumb.core.mastery.replay import Target, standing_of
from crumb.core.score.position import Position, Span
from crumb.services.evidence.levels import graded
from crumb.services.library.pieces import PartInHand
from crumb.store.codecs.mastery import LEVEL_RULES, kept_from, standing_as_stored
from crumb.store.queries import mastery as ask


def shown(
    session: Session, hand: PartInHand, student_id: UUID, chunk_ids: Sequence[UUID], today: date
) -> dict[UUID, Standing]:
    """A student's standing on some chunks of a part as of today, without chunks never played.

    A level that waits to be recomputed is told as it was.
    """
    return shown_of(session, hand, [student_id], chunk_ids, today)[student_id]


def shown_of(
    session: Session,
    hand: PartInHand,
    students: Sequence[UUID],
    chunk_ids: Sequence[UUID],
    today: date,
) -> dict[UUID, dict[UUID, Standing]]:
    """The standing of several students at once; see :func:`shown`."""
    part = graded(session, hand.row.id)
    found: dict[UUID, dict[UUID, Standing]] = {student_id: {} for student_id in students}
    for chunk, row in ask.folds_on(session, students, chunk_ids):
        if row.rules != LEVEL_RULES:
            found[row.student_id][chunk.id] = standing_as_stored(row)
            continue
        span = Span(
            Position(chunk.start_index, chunk.start_at), Position(chunk.end_index, chunk.end_at)
        )
        target = Target(span, part.goal, part.rules, Edges(not chunk.opens, not chunk.closes))
        kept = kept_from(
            row.fold,
            target,
            clean=row.clean,
            slips=row.slips,
            last_at=row.last_played_at,
            last_id=row.last_id,
        )
        found[row.student_id][chunk.id] = standing_of(kept, target, today)
    return found
