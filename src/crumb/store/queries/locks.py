"""Locks: every writer of levels takes its locks here, in one order.

The id of the act first, if it has one; then parts, in the order of their roots; then students. A
part is locked by its root, the first version of it, for what is played on one version counts on the
later ones. Whoever stores evidence shares its parts (``queries.handing_in``); whoever changes what
levels there are (chunks, goals, versions) has its part alone. Locks go with the transaction.
"""

from collections.abc import Iterable
from uuid import UUID

from sqlalchemy import text
from sqlalchemy.orm import Session

_ALONE = text(
    """
    select pg_advisory_xact_lock(hashtextextended(root::text, 1))
    from (select distinct root_id as root from part where id = any(:ids) order by 1) in_order
    """
)
_SHARED = text(str(_ALONE).replace("_xact_lock(", "_xact_lock_shared("))
_STUDENT = text("select pg_advisory_xact_lock(hashtextextended(:id, 2))")
_KEY = text("select pg_advisory_xact_lock(hashtextextended(:id, 3))")


def have_key(session: Session, key: UUID) -> None:
    """Keep anybody else from doing the same act meanwhile; taken before any other lock."""
    session.execute(_KEY, {"id": str(key)})


def have_part(session: Session, part_id: UUID) -> None:
    """Keep anybody from storing evidence on this part meanwhile."""
    have_parts(session, [part_id])


def have_parts(session: Session, part_ids: Iterable[UUID]) -> None:
    """Keep anybody from storing evidence on any of these parts meanwhile."""
    session.execute(_ALONE, {"ids": list(part_ids)})


def share_parts(session: Session, part_ids: Iterable[UUID]) -> None:
    """Keep the levels there are on these parts, before evidence of several students is stored."""
    session.execute(_SHARED, {"ids": list(part_ids)})


def have_student(session: Session, student_id: UUID) -> None:
    """Keep anybody else from storing evidence of this student meanwhile."""
    session.execute(_STUDENT, {"id": str(student_id)})
