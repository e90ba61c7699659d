"""Who waits for whom: every writer of levels takes its locks here, in one order.

Parts first, in the order of their ids, then the student. Whoever stores evidence shares its parts;
whoever changes what levels there are (chunks, goals, versions) has its part alone. Locks go with
the transaction.
"""

from collections.abc import Iterable
from uuid import UUID

from sqlalchemy import text
from sqlalchemy.orm import Session

_SHARED = text("select pg_advisory_xact_lock_shared(hashtextextended(:id, 1))")
_ALONE = text("select pg_advisory_xact_lock(hashtextextended(:id, 1))")
_STUDENT = text("select pg_advisory_xact_lock(hashtextextended(:id, 2))")


def share_parts(session: Session, part_ids: Iterable[UUID]) -> None:
    """Keep anybody from changing what levels there are on these parts."""
    for part_id in sorted(set(part_ids)):
        session.execute(_SHARED, {"id": str(part_id)})


def have_part(session: Session, part_id: UUID) -> None:
    """Keep anybody from storing evidence on this part meanwhile."""
    session.execute(_ALONE, {"id": str(part_id)})


def have_parts(session: Session, part_ids: Iterable[UUID]) -> None:
    """Keep anybody from storing evidence on any of these parts meanwhile."""
    for part_id in sorted(set(part_ids)):
        have_part(session, part_id)


def have_student(session: Session, student_id: UUID) -> None:
    """Keep anybody else from storing evidence of this student meanwhile."""
    session.execute(_STUDENT, {"id": str(student_id)})
