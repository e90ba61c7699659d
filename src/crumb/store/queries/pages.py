"""Queries of pages that were brought in."""

from collections.abc import Sequence
from uuid import UUID

from sqlalchemy import delete, func, select, text
from sqlalchemy.dialects.postgresql import distinct_on
from sqlalchemy.orm import Session

from crumb.core.vocabulary import JobKind
from crumb.store.tables import Job, PageRow, PageSet


def set_of(
    session: Session, program_id: UUID, set_id: UUID, *, for_change: bool = False
) -> PageSet | None:
    """A set of a program; locked if it is to be changed."""
    query = select(PageSet).where(PageSet.id == set_id, PageSet.program_id == program_id)
    return session.scalar(query.with_for_update() if for_change else query)


def any_set(session: Session, set_id: UUID) -> PageSet | None:
    """A set, whosever it is."""
    return session.get(PageSet, set_id)


def sets_of(session: Session, program_id: UUID) -> Sequence[PageSet]:
    """The sets of a program, newest first."""
    return session.scalars(
        select(PageSet).where(PageSet.program_id == program_id).order_by(PageSet.made_at.desc())
    ).all()


def pages_of(session: Session, set_id: UUID) -> Sequence[PageRow]:
    """The pages of a set, in order."""
    return session.scalars(
        select(PageRow).where(PageRow.set_id == set_id).order_by(PageRow.place)
    ).all()


def page_of(
    session: Session, program_id: UUID, page_id: UUID, *, for_change: bool = False
) -> PageRow | None:
    """A page of a program; locked if it is to be changed."""
    query = select(PageRow).where(PageRow.id == page_id, PageRow.program_id == program_id)
    return session.scalar(query.with_for_update() if for_change else query)


def latest_jobs(session: Session, set_ids: Sequence[UUID]) -> dict[UUID, Job]:
    """The latest job of each set."""
    found = session.scalars(
        select(Job)
        .where(Job.kind == JobKind.PAGES, Job.page_set_id.in_(set_ids))
        .order_by(Job.page_set_id, Job.made_at.desc(), Job.id)
        .ext(distinct_on(Job.page_set_id))
    )
    return {job.page_set_id: job for job in found if job.page_set_id is not None}


def delete_set(session: Session, set_id: UUID) -> None:
    """Delete a set with its pages and its jobs; the sweep lets go of the pictures."""
    session.execute(delete(Job).where(Job.page_set_id == set_id))
    session.execute(delete(PageRow).where(PageRow.set_id == set_id))
    session.execute(delete(PageSet).where(PageSet.id == set_id))


def delete_sets_of_piece(session: Session, piece_id: UUID) -> None:
    """Delete the sets that a piece was made of."""
    for set_id in session.scalars(select(PageSet.id).where(PageSet.piece_id == piece_id)).all():
        delete_set(session, set_id)


def bytes_of(session: Session, program_id: UUID) -> int:
    """How many bytes a program's pages have."""
    found = session.scalar(select(func.sum(PageSet.bytes)).where(PageSet.program_id == program_id))
    return int(found or 0)


_FILES = text(
    """
    select source ->> 'key' from page_set, jsonb_array_elements(sources) source
    union select picture from page where picture <> ''
    union select key from part, jsonb_array_elements_text(on_pages -> 'pages') key
      where on_pages is not null
    """
)


def files_named(session: Session) -> set[str]:
    """Keys of the files and pictures that sets, pages and parts name."""
    return set(session.scalars(_FILES))
