"""Queries of evidence and climbs: read in the order played, written by one statement."""

from collections.abc import Collection, Iterable, Iterator, Mapping, Sequence
from datetime import date
from typing import Any
from uuid import UUID

from sqlalchemy import ScalarSelect, func, select
from sqlalchemy.orm import Session

from crumb.core.evidence.model import Doubt, Evidence, Source, What
from crumb.core.intake.climbs import ClimbRepetition
from crumb.core.intake.facts import ClimbState
from crumb.core.score.position import Span
from crumb.store import tables as t
from crumb.store.codecs.evidence import COLUMNS, evidence_from, span_from
from crumb.store.codecs.intake import climb_state_from
from crumb.store.pipeline import Script, Statement, batch, run
from crumb.store.queries.record_evidence import put_all

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


def is_played_more(session: Session, part_id: UUID, limit: int) -> bool:
    """Whether more than so many things were played on a part, its other versions included."""
    versions = select(t.PiecePart.id).where(t.PiecePart.root_id == _root(part_id))
    some = select(1).where(t.Evidence.part_id.in_(versions)).limit(limit + 1).subquery()
    return (session.scalar(select(func.count()).select_from(some)) or 0) > limit


def _root(part_id: UUID) -> ScalarSelect[UUID]:
    return select(t.PiecePart.root_id).where(t.PiecePart.id == part_id).scalar_subquery()


def parts_in_order(session: Session, only: Collection[UUID] | None) -> Sequence[UUID]:
    """Every part, or those of ``only``."""
    query = select(t.PiecePart.id).order_by(t.PiecePart.id)
    return session.scalars(query if only is None else query.where(t.PiecePart.id.in_(only))).all()


def items_in_order(session: Session, only: Collection[UUID] | None) -> Sequence[UUID]:
    """Every drill that was sent, or those on the parts of ``only``."""
    query = select(t.AssignmentItem.id).order_by(t.AssignmentItem.id)
    if only is not None:
        query = query.join(t.Assignment).where(t.Assignment.part_id.in_(only))
    return session.scalars(query).all()


def put(
    session: Session,
    *,
    evidence: Sequence[Mapping[str, Any]] = (),
    mastery: Sequence[Mapping[str, Any]] = (),
    climbs: Sequence[Mapping[str, Any]] = (),
) -> None:
    """Write evidence, and put levels and climbs in the place of those that are kept.

    What has an id that is there already stays as it is. Levels and climbs go in one order, so that
    no two transactions wait for each other.
    """
    session.flush()
    mastery = sorted(mastery, key=lambda row: (row["student_id"], row["chunk_id"]))
    climbs = sorted(climbs, key=lambda row: (row["item_id"], row["student_id"]))
    for some in _in_lots(evidence):
        run(session, _only(put_all(evidence=some, mastery=(), climbs=(), gone=())))
    for some in _in_lots(mastery):
        run(session, _only(put_all(evidence=(), mastery=some, climbs=(), gone=())))
    for some in _in_lots(climbs):
        run(session, _only(put_all(evidence=(), mastery=(), climbs=some, gone=())))


_AT_ONCE = 1000
"""Rows of a statement: a whole school's levels on a part are more than one takes."""


def _in_lots(rows: Sequence[Mapping[str, Any]]) -> Iterator[Sequence[Mapping[str, Any]]]:
    return (rows[start : start + _AT_ONCE] for start in range(0, len(rows), _AT_ONCE))


def _only(ask: Statement) -> Script[None]:
    yield batch(ask)


def climbs(session: Session, student_id: UUID, item_ids: Iterable[UUID]) -> dict[UUID, ClimbState]:
    """A student's climbs on some drills, by item; drills not begun are left out."""
    rows = session.execute(
        select(*t.ClimbRow.__table__.columns).where(
            t.ClimbRow.student_id == student_id, t.ClimbRow.item_id.in_(list(item_ids))
        )
    )
    return {row["item_id"]: climb_state_from(row) for row in rows.mappings()}  # type: ignore[arg-type]


def climbs_on(session: Session, item_id: UUID) -> dict[UUID, ClimbState]:
    """Everybody's climbs on a drill."""
    rows = session.execute(
        select(*t.ClimbRow.__table__.columns).where(t.ClimbRow.item_id == item_id)
    )
    return {row["student_id"]: climb_state_from(row) for row in rows.mappings()}  # type: ignore[arg-type]


def played_on(session: Session, item_id: UUID) -> dict[UUID, list[ClimbRepetition]]:
    """Repetitions of a sent drill that move the climb: by student, in the order played."""
    rows = session.execute(
        select(
            t.Evidence.student_id,
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
            t.Evidence.what == What.REPETITION,
            t.Evidence.doubt.in_(("", Doubt.JUMP)),
            t.Retraction.evidence_id.is_(None),
        )
        .order_by(t.Evidence.played_at, t.Evidence.id)
    )
    found: dict[UUID, list[ClimbRepetition]] = {}
    for student_id, step, tempo, is_clean, at, id_, source in rows:
        one = ClimbRepetition(at, id_.int, step or 0, tempo, bool(is_clean), Source(source))
        found.setdefault(student_id, []).append(one)
    return found


def players_of(session: Session, item_id: UUID) -> set[UUID]:
    """Students who played a sent drill or have a climb on it."""
    played = select(t.Evidence.student_id).where(t.Evidence.item_id == item_id).distinct()
    climbing = select(t.ClimbRow.student_id).where(t.ClimbRow.item_id == item_id)
    return {*session.scalars(played), *session.scalars(climbing)}


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


def evidence_rows(
    session: Session, part_id: UUID, student_id: UUID, near: Span | None
) -> list[tuple[t.Evidence, bool, str]]:
    """A student's rows on a part, retracted ones too: the row, whether it is, its judge's name.

    ``near``: only what lies in the same measures.
    """
    query = (
        select(t.Evidence, t.Retraction.evidence_id, t.Person.name)
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .outerjoin(t.Person, t.Person.id == t.Evidence.by_id)
        .where(t.Evidence.student_id == student_id, t.Evidence.part_id == part_id)
    )
    if near is not None:
        query = query.where(
            t.Evidence.start_index <= near.end.index, t.Evidence.end_index >= near.start.index
        )
    rows = session.execute(query)
    return [(row, retracted is not None, judge or "") for row, retracted, judge in rows]


def days_drilled(
    session: Session, student_id: UUID, chunk_ids: Iterable[UUID], since: date
) -> list[tuple[UUID, str, date]]:
    """Chunk, drill and day of each day on which a student practised it."""
    rows = session.execute(
        select(t.AssignmentItem.chunk_id, t.AssignmentItem.drill, t.Evidence.local_day)
        .join(t.Evidence, t.Evidence.item_id == t.AssignmentItem.id)
        .where(
            t.Evidence.student_id == student_id,
            t.AssignmentItem.chunk_id.in_(chunk_ids),
            t.Evidence.local_day >= since,
        )
        .distinct()
    )
    return list(rows)
