"""Erase pieces and takes whose time is over, one by one."""

from datetime import UTC, datetime

from crumb.jobs.one_by_one import one_by_one
from crumb.services.music import deletion
from crumb.services.takes import takes
from crumb.store.files import FileStore, Sounds
from crumb.store.queries import pieces
from crumb.store.queries import takes as old_takes
from crumb.store.unit_of_work import NewSession


def erase_pieces(
    new_session: NewSession, files: FileStore, sounds: FileStore, *, now: datetime | None = None
) -> int:
    """Erase pieces that were taken away more than a week ago; how many there were."""
    moment = (now or datetime.now(UTC)) - deletion.KEPT_FOR
    with new_session() as session:
        found = pieces.taken_away_before(session, moment)
    return one_by_one(
        new_session, found, lambda s, piece: deletion.erase(s, files, sounds, piece, moment)
    )


def erase_takes(new_session: NewSession, sounds: Sounds) -> int:
    """Erase takes whose weeks are over; how many there were."""
    with new_session() as session:
        found = old_takes.over(session)
    return one_by_one(new_session, found, lambda s, take: takes.erase(s, sounds, take))
