"""Erase pieces and takes whose time is over; one unit of work for each."""

from datetime import UTC, datetime

from crumb.services.music import deletion
from crumb.services.takes import takes
from crumb.store.files import FileStore, Sounds
from crumb.store.unit_of_work import NewSession, unit_of_work


def erase_pieces(
    new_session: NewSession, files: FileStore, sounds: FileStore, *, now: datetime | None = None
) -> int:
    """Erase pieces that were taken away more than a week ago; how many there were."""
    count = 0
    while True:
        with unit_of_work(new_session) as session:
            if not deletion.erase_oldest(session, files, sounds, now or datetime.now(UTC)):
                return count
        count += 1


def erase_takes(new_session: NewSession, sounds: Sounds) -> int:
    """Erase takes whose weeks are over; how many there were."""
    count = 0
    while True:
        with unit_of_work(new_session) as session:
            erased = takes.erase_old(session, sounds)
        if not erased:
            return count
        count += erased
