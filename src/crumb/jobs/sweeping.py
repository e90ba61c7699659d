"""Hold files against the database, and delete those that no row names.

A process that is killed between saving a file and committing its row leaves one. The database is
asked after the files were listed, and what is young stays: a file that is being saved has no row
yet.
"""

from crumb.store.files import FolderStore, Sounds
from crumb.store.queries import files as named
from crumb.store.unit_of_work import NewSession

YOUNG_SECONDS = 6 * 3600.0
"""Longer than any request or job holds a file whose row is not committed."""


def sweep(
    new_session: NewSession,
    files: FolderStore,
    sounds: Sounds,
    *,
    young_seconds: float = YOUNG_SECONDS,
) -> int:
    """Delete uploads and recordings that no row names; how many there were."""
    count = 0
    for store, ask in ((files, named.uploads), (sounds, named.sounds)):
        old = store.older_than(young_seconds)
        with new_session() as session:
            gone = old - ask(session) if old else set()
        count += sum(store.forget_older(key, young_seconds) for key in gone)
    return count
