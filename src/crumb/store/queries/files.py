"""Queries of the files that rows name."""

from datetime import timedelta

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from crumb.core.vocabulary import JobKind, JobState, TakeState
from crumb.store.queries import pages
from crumb.store.tables import Job, Piece, Take

SHEETS_FOR = timedelta(days=30)
"""Printed sheets have names on them: they stay as long as somebody might fetch them again."""


def uploads(session: Session) -> set[str]:
    """Keys of what a piece, a page or an open import has, and of sheets printed lately."""
    of_pieces = select(Piece.file_key).where(Piece.file_key != "")
    is_open = Job.state.in_((JobState.WAITING, JobState.WORKING))
    is_sheets = (Job.kind == JobKind.SHEETS) & (Job.ended_at > func.now() - SHEETS_FOR)
    jobs = select(Job.file_key).where(Job.file_key != "", or_(is_open, is_sheets))
    return set(session.scalars(of_pieces.union(jobs))) | pages.files_named(session)


def sounds(session: Session) -> set[str]:
    """Keys of the recordings of every take that did not fail."""
    return set(session.scalars(select(Take.sound).where(Take.state != TakeState.FAILED)))
