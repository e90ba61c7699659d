"""Erase pieces and takes whose time is over; one unit of work for each.

One that cannot be erased is told in the log and left for the next run: it holds up no other.
"""

import logging
from collections.abc import Callable, Iterable
from datetime import UTC, datetime
from uuid import UUID

from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session

from crumb.services.music import deletion
from crumb.services.takes import takes
from crumb.store.files import FileStore, Sounds
from crumb.store.queries import pieces
from crumb.store.queries import takes as old_takes
from crumb.store.unit_of_work import NewSession, unit_of_work

log = logging.getLogger("crumb.jobs")


def erase_pieces(
    new_session: NewSession, files: FileStore, sounds: FileStore, *, now: datetime | None = None
) -> int:
    """Erase pieces that were taken away more than a week ago; how many there were."""
    moment = (now or datetime.now(UTC)) - deletion.KEPT_FOR
    with new_session() as session:
        found = pieces.taken_away_before(session, moment)

    def erase(session: Session, piece_id: UUID) -> bool:
        return deletion.erase(session, files, sounds, piece_id, moment)

    return _each(new_session, found, erase)


def erase_takes(new_session: NewSession, sounds: Sounds) -> int:
    """Erase takes whose weeks are over; how many there were."""
    with new_session() as session:
        found = old_takes.over(session)
    return _each(new_session, found, lambda session, take: takes.erase(session, sounds, take))


def _each(
    new_session: NewSession, ids: Iterable[UUID], erase: Callable[[Session, UUID], bool]
) -> int:
    count = 0
    for one in ids:
        try:
            with unit_of_work(new_session) as session:
                count += erase(session, one)
        except OperationalError:
            raise  # the database is away: that stops everybody
        except Exception:
            log.exception("not erased", extra={"id": str(one)})
    return count
