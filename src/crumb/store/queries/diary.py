"""Queries of diaries and slip places."""

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Any
from uuid import UUID

from sqlalchemy import case, select
from sqlalchemy.dialects.postgresql import distinct_on, insert
from sqlalchemy.orm import Session

from crumb.core.evidence.diary import Feeling
from crumb.core.score.position import Position
from crumb.store import tables as t
from crumb.store.codecs.evidence import exact

_MOST_NEWS = 200


def keep_slips(session: Session, rows: Sequence[dict[str, Any]]) -> None:
    """Keep where slips fell; the same twice is kept once."""
    if rows:
        session.execute(insert(t.SlipPlace).on_conflict_do_nothing(index_elements=["id"]), rows)


def keep_lines(session: Session, rows: Sequence[dict[str, Any]]) -> None:
    """Keep lines of a diary; the same twice is kept once."""
    if rows:
        session.execute(insert(t.Diary).on_conflict_do_nothing(index_elements=["id"]), rows)


def slips_of(
    session: Session, student_id: UUID, ids: Iterable[UUID]
) -> dict[UUID, tuple[UUID, bool | None]]:
    """Repetitions of a student among some ids: their part, and whether they were clean."""
    rows = session.execute(
        select(t.Evidence.id, t.Evidence.part_id, t.Evidence.is_clean).where(
            t.Evidence.id.in_(list(ids)), t.Evidence.student_id == student_id
        )
    )
    return {row[0]: (row[1], row[2]) for row in rows}


def sent_to(session: Session, student_id: UUID, items: Iterable[UUID]) -> set[UUID]:
    """Which of some drills a student was sent."""
    return set(
        session.scalars(
            select(t.AssignmentItem.id)
            .join(
                t.AssignmentStudent,
                t.AssignmentStudent.assignment_id == t.AssignmentItem.assignment_id,
            )
            .where(
                t.AssignmentItem.id.in_(list(items)), t.AssignmentStudent.student_id == student_id
            )
        )
    )


Told = tuple[Position | None, str]
"""Where a slip fell, if that was said, and what it was."""


def told_slips(
    session: Session, students: Sequence[UUID], part_id: UUID, since: date
) -> dict[UUID, list[Told]]:
    """Slips as students said them of late: of each place the newest."""
    place = (t.SlipPlace.evidence_id, t.SlipPlace.at_index, t.SlipPlace.at_offset)
    newest = (
        select(
            t.Evidence.student_id,
            *place,
            t.SlipPlace.what,
        )
        .join(t.Evidence, t.Evidence.id == t.SlipPlace.evidence_id)
        .outerjoin(t.Retraction, t.Retraction.evidence_id == t.Evidence.id)
        .where(
            t.Evidence.student_id.in_(students),
            t.Evidence.part_id == part_id,
            t.Evidence.local_day >= since,
            t.Retraction.evidence_id.is_(None),
        )
        .order_by(*place, t.SlipPlace.id.desc())
        .ext(distinct_on(*place))
    )
    found: dict[UUID, list[Told]] = {student_id: [] for student_id in students}
    for student_id, _, index, offset, what in session.execute(newest):
        at = None if index is None else Position(index, exact(offset))
        found[student_id].append((at, what))
    return found


def lines_of(
    session: Session, program_id: UUID, student_id: UUID, since: date
) -> Sequence[t.Diary]:
    """A student's diary, the newest first."""
    return session.scalars(
        select(t.Diary)
        .where(
            t.Diary.program_id == program_id,
            t.Diary.student_id == student_id,
            t.Diary.local_day >= since,
        )
        .order_by(t.Diary.at.desc(), t.Diary.id.desc())
    ).all()


def lines_in(
    session: Session, program_id: UUID, kinds: Sequence[str], since: date
) -> list[tuple[t.Diary, str]]:
    """Lines of some kinds from a whole program, with their students' names.

    That it hurts comes first, then what is tight, then the newest; no more than a page holds.
    """
    what = t.Diary.said["what"].astext
    urgency = case((what == Feeling.HURTS.value, 0), (what == Feeling.TIGHT.value, 1), else_=2)
    rows = session.execute(
        select(t.Diary, t.Person.name)
        .join(t.Person, t.Person.id == t.Diary.student_id)
        .where(
            t.Diary.program_id == program_id,
            t.Diary.kind.in_(kinds),
            t.Diary.local_day >= since,
        )
        .order_by(urgency, t.Diary.at.desc(), t.Diary.id.desc())
        .limit(_MOST_NEWS)
    )
    return [(row, name) for row, name in rows]
