"""Housekeeping for whoever looks after the server: ``crumb-admin``.

upgrade                 bring the database up to date, and write down what old sendings were
rebuild-levels          work every level and climb out anew; exit 1 if what was stored differed
backup FILE             everything into one file: every table, every upload, with checksums
restore FILE            out of it again, into an empty database and folder, and prove it equal
verify FILE             hold a backup against what is here
sweep                   delete uploads and recordings that no row of the database names
"""

import sys
from pathlib import Path

from alembic import command
from alembic.config import Config

from crumb.jobs.recomputing import freeze_all, rebuild
from crumb.jobs.sweeping import sweep
from crumb.settings import get_settings
from crumb.store.backup import NotEmpty, NotEqual, back_up, restore, verify
from crumb.store.files import get_files, get_sounds
from crumb.store.queries import mastery
from crumb.store.session import get_engine, new_session


def _upgrade() -> int:
    command.upgrade(Config(str(_ini())), "head")
    count = freeze_all(new_session)
    with new_session() as session:
        has_other_rules = bool(mastery.waiting(session))
    if count or has_other_rules:  # climbs follow the rules of today, too
        rebuild(new_session)
    if count:
        sys.stdout.write(f"{count} drills that were sent before were written down.\n")
    return 0


def _ini() -> Path:
    for folder in (Path.cwd(), Path(__file__).resolve().parents[2]):
        if (folder / "alembic.ini").exists():
            return folder / "alembic.ini"
    raise FileNotFoundError("alembic.ini")


def _rebuild() -> int:
    differing = rebuild(new_session)
    for one in differing:
        sys.stdout.write(
            f"{one.what} of student {one.student_id} on {one.of}: stored {one.stored},"
            f" now {one.true}\n"
        )
    sys.stdout.write(f"{len(differing)} levels and climbs differed from their evidence.\n")
    return 1 if differing else 0


def _with_file(name: str, path: Path) -> int:
    engine, folder = get_engine(), get_settings().files_dir
    try:
        if name == "backup":
            told = back_up(engine, folder, path)
        elif name == "restore":
            told = restore(engine, folder, path)
        else:
            told = verify(engine, folder, path)
    except (NotEqual, NotEmpty, OSError) as error:
        sys.stderr.write(f"{error}\n")
        return 1
    sys.stdout.write(f"{told}\n")
    return 0


def main(arguments: list[str] | None = None) -> int:
    """Run one command."""
    match sys.argv[1:] if arguments is None else arguments:
        case ["upgrade"]:
            return _upgrade()
        case ["rebuild-levels"]:
            return _rebuild()
        case ["sweep"]:
            count = sweep(new_session, get_files(), get_sounds())
            sys.stdout.write(f"{count} files were no row's any more and are gone.\n")
            return 0
        case [("backup" | "restore" | "verify") as name, path]:
            return _with_file(name, Path(path))
    sys.stderr.write(f"{__doc__}")
    return 2


if __name__ == "__main__":
    sys.exit(main())
