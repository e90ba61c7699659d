"""Where the demo's players slipped, as they named it: most at one turn of a run, some anywhere."""

from fractions import Fraction
from random import Random
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.score.position import Position, absolute, position_at, sounds
from crumb.services.access import Actor
from crumb.services.library.pieces import load_part
from crumb.store.codecs.evidence import span_from
from crumb.store.queries import diary
from crumb.store.tables import Evidence

_TURNS = (Position(13, Fraction(5, 4)), Position(13, Fraction(3, 2)), Position(13, Fraction(7, 4)))
_SHARE = 0.6
_MOST = 80


def name_some(session: Session, actor: Actor, part_id: UUID) -> None:
    """Say of the last slips on a part which note it was."""
    part = load_part(session, actor, part_id).part
    notes = sorted({sound.at for sound in sounds(part)})
    slipped = session.scalars(
        select(Evidence)
        .where(Evidence.part_id == part_id, Evidence.is_clean.is_(False))
        .order_by(Evidence.played_at.desc(), Evidence.id)
        .limit(_MOST)
    ).all()
    random = Random(part_id.int)  # noqa: S311 - an invented story
    rows = []
    for row in slipped:
        span = span_from(row.start_index, row.start_at, row.end_index, row.end_at)
        turns = [at for at in _TURNS if span.start <= at < span.end]
        start, end = absolute(part, span.start), absolute(part, span.end)
        here = [position_at(part, at) for at in notes if start <= at < end]
        at = random.choice(turns if turns and random.random() < _SHARE else here)
        rows.append(
            {
                "id": UUID(int=random.getrandbits(128), version=4),
                "evidence_id": row.id,
                "at_index": at.index,
                "at_offset": at.at,
                "what": "",
            }
        )
    diary.keep_slips(session, rows)
    session.flush()
