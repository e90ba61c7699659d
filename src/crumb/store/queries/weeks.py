"""Queries of a week: days, minutes, takes and logs of each student."""

from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID

from sqlalchemy import Date, Integer, cast, func, select
from sqlalchemy.orm import Session

from crumb.core.evidence.diary import DiaryKind
from crumb.core.evidence.model import Source
from crumb.store import tables as t

ByDay = dict[UUID, dict[date, int]]
_A_ZONE = timedelta(hours=14)
"""No place on earth is further from UTC: a day there lies within this of ours."""


def seconds_by_day(session: Session, students: Sequence[UUID], first: date, last: date) -> ByDay:
    """Seconds in the diary, by student and day."""
    seconds = func.sum(cast(t.Diary.said["seconds"].astext, Integer))
    rows = session.execute(
        select(t.Diary.student_id, t.Diary.local_day, seconds)
        .where(
            t.Diary.student_id.in_(students),
            t.Diary.local_day.between(first, last),
            t.Diary.kind == DiaryKind.MINUTES,
        )
        .group_by(t.Diary.student_id, t.Diary.local_day)
    )
    return _by_day(rows)


def played_by_day(session: Session, students: Sequence[UUID], first: date, last: date) -> ByDay:
    """Repetitions that were counted at home, by student and day."""
    begin = datetime.combine(first, time(), UTC) - _A_ZONE
    end = datetime.combine(last, time(), UTC) + timedelta(days=1) + _A_ZONE
    rows = session.execute(
        select(t.Evidence.student_id, t.Evidence.local_day, func.count())
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .where(
            t.Evidence.student_id.in_(students),
            t.Evidence.played_at.between(begin, end),
            t.Evidence.local_day.between(first, last),
            t.Evidence.what == "repetition",
            t.Evidence.source != Source.REHEARSED,
            t.Retraction.evidence_id.is_(None),
        )
        .group_by(t.Evidence.student_id, t.Evidence.local_day)
    )
    return _by_day(rows)


def takes_by_day(
    session: Session, students: Sequence[UUID], first: date, last: date, zone: str
) -> ByDay:
    """Takes that were handed in, by student and day of the program."""
    day = cast(func.timezone(zone, t.Take.handed_in_at), Date)
    rows = session.execute(
        select(t.Take.student_id, day, func.count())
        .where(t.Take.student_id.in_(students), day.between(first, last))
        .group_by(t.Take.student_id, day)
    )
    return _by_day(rows)


def logs_in(session: Session, students: Sequence[UUID], first: date, last: date) -> set[UUID]:
    """Students who wrote their two lines of the week."""
    return set(
        session.scalars(
            select(t.Diary.student_id)
            .where(
                t.Diary.student_id.in_(students),
                t.Diary.local_day.between(first, last),
                t.Diary.kind == DiaryKind.JOURNAL,
            )
            .distinct()
        )
    )


def _by_day(rows: Iterable[Any]) -> ByDay:
    found: ByDay = {}
    for student, day, count in rows:
        found.setdefault(student, {})[day] = count
    return found
