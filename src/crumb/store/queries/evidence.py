"""Evidence and what is kept of it: reading in the order played, writing once."""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from datetime import date, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Doubt, Evidence, Source, What
from crumb.core.score.position import Span
from crumb.store import tables as t
from crumb.store.codecs.evidence import COLUMNS, evidence_from, span_from

_SPAN = (
    t.Evidence.start_index,
    t.Evidence.start_at,
    t.Evidence.end_index,
    t.Evidence.end_at,
)


def evidence_on(
    session: Session, part_id: UUID, student_id: UUID | None = None
) -> Iterator[tuple[UUID, Evidence]]:
    """All that was played on a part and not taken back, with whose it is, in the order played."""
    query = (
        select(t.Evidence.student_id, *_SPAN, *(getattr(t.Evidence, name) for name in COLUMNS))
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .where(t.Evidence.part_id == part_id, t.Retraction.evidence_id.is_(None))
        .order_by(t.Evidence.played_at, t.Evidence.id)
    )
    if student_id is not None:
        query = query.where(t.Evidence.student_id == student_id)
    spans: dict[tuple[Any, ...], Span] = {}
    for student, *row in session.execute(query):
        where = tuple(row[:4])
        span = spans.get(where)
        if span is None:
            span = spans[where] = span_from(*where)
        yield student, evidence_from(span, row[4:])


def store(session: Session, rows: list[dict[str, Any]]) -> None:
    """Write evidence; what has an id that is there already stays as it is."""
    session.execute(insert(t.Evidence).on_conflict_do_nothing(index_elements=["id"]), rows)


def save_mastery(session: Session, rows: list[dict[str, Any]]) -> None:
    """Put levels in the place of those that are kept."""
    if not rows:
        return
    query = insert(t.Mastery)
    changed = {name: query.excluded[name] for name in rows[0] if name not in _MASTERY_KEY}
    session.execute(
        query.on_conflict_do_update(index_elements=_MASTERY_KEY, set_=changed),
        sorted(rows, key=lambda row: (row["student_id"], row["chunk_id"])),
    )


_MASTERY_KEY = ["student_id", "chunk_id"]
_CLIMB_KEY = ["item_id", "student_id"]


def climbs(session: Session, student_id: UUID, item_ids: Iterable[UUID]) -> dict[UUID, t.ClimbRow]:
    """Where a student stands on the ladders of some drills; one not begun is left out."""
    rows = session.execute(
        select(*t.ClimbRow.__table__.columns).where(
            t.ClimbRow.student_id == student_id, t.ClimbRow.item_id.in_(list(item_ids))
        )
    )
    return {row.item_id: row for row in rows}  # type: ignore[misc]


def save_climbs(session: Session, rows: list[dict[str, Any]]) -> None:
    """Put climbs in the place of those that are kept."""
    if not rows:
        return
    query = insert(t.ClimbRow)
    changed = {name: query.excluded[name] for name in rows[0] if name not in _CLIMB_KEY}
    session.execute(
        query.on_conflict_do_update(index_elements=_CLIMB_KEY, set_=changed),
        sorted(rows, key=lambda row: (row["item_id"], row["student_id"])),
    )


@dataclass(frozen=True, slots=True)
class PlayedRow:
    """What the climb needs of one repetition, with what orders it."""

    step: int
    tempo: Fraction | None
    is_clean: bool
    at: datetime
    id: UUID
    source: str


def played_on(session: Session, item_id: UUID, student_id: UUID) -> list[PlayedRow]:
    """What a student played on a drill that was sent, and that moves the climb, as played."""
    rows = session.execute(
        select(
            t.Evidence.step,
            t.Evidence.tempo_bpm,
            t.Evidence.is_clean,
            t.Evidence.played_at,
            t.Evidence.id,
            t.Evidence.source,
        )
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .where(
            t.Evidence.item_id == item_id,
            t.Evidence.student_id == student_id,
            t.Evidence.what == What.REPETITION,
            t.Evidence.doubt.in_(("", Doubt.JUMP)),
            t.Retraction.evidence_id.is_(None),
        )
        .order_by(t.Evidence.played_at, t.Evidence.id)
    )
    return [PlayedRow(r[0] or 0, r[1], bool(r[2]), r[3], r[4], r[5]) for r in rows]


def practice_days(
    session: Session, student_id: UUID, part_id: UUID, item_ids: Sequence[UUID]
) -> dict[UUID, list[date]]:
    """Of drills that were played: the last day of it and each day of practice since."""
    last = session.execute(
        select(t.Evidence.item_id, func.max(t.Evidence.local_day))
        .where(t.Evidence.student_id == student_id, t.Evidence.item_id.in_(item_ids))
        .group_by(t.Evidence.item_id)
    ).all()
    if not last:
        return {}
    days = session.scalars(
        select(t.Evidence.local_day)
        .where(
            t.Evidence.student_id == student_id,
            t.Evidence.part_id == part_id,
            t.Evidence.local_day >= min(day for _, day in last),
            t.Evidence.source != Source.REHEARSED,
        )
        .distinct()
    ).all()
    return {item_id: [d for d in days if d >= day] for item_id, day in last if item_id}
