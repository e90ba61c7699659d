"""The work of a sandbox process. All imports stand here, so that a forked box starts at once."""

from collections.abc import Callable, Mapping
from concurrent.futures.process import BrokenProcessPool
from errno import EDQUOT, ENOSPC
from uuid import UUID

import verovio  # noqa: F401 - loaded before boxes are forked, so that none waits for it
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.vocabulary import JobKind
from crumb.jobs.helpers import each_with_help
from crumb.services.jobs import TOO_MUCH, Abandoned, Try
from crumb.services.music import imports
from crumb.services.pages import reading_pages
from crumb.services.sheets import printing
from crumb.services.takes import takes
from crumb.settings import get_settings
from crumb.store.files import get_files, get_sounds
from crumb.store.session import new_session
from crumb.store.unit_of_work import unit_of_work

Work = Callable[[Session], None]

_FAULTS: Mapping[str, str] = {
    JobKind.IMPORT: "Crumb had a fault while reading this file; nothing was stored.",
    JobKind.SHEETS: "Crumb had a fault while printing.",
    JobKind.PAGES: "Crumb had a fault while reading these pages; nothing was stored.",
}
"""A take is not here: its student does not wait for it, so the worker gives it another try."""
_DISK = "There is no room left on the server's disk; nothing was stored."


def work_off(job_id: UUID, kind: str, number: int) -> None:
    """Do one job."""
    attempt = Try(job_id, number, new_session)
    works: dict[str, Work] = {
        JobKind.IMPORT: lambda s: imports.bring_in(s, attempt, get_files(), each_with_help),
        JobKind.TAKE: lambda s: takes.make_playable(s, attempt, get_sounds()),
        JobKind.PAGES: lambda s: reading_pages.read_pages(s, attempt, get_files()),
        JobKind.SHEETS: lambda s: printing.print_job(
            s, attempt, get_files(), get_settings().public_url
        ),
    }
    carry_out(attempt, kind, works[kind])


def carry_out(attempt: Try, kind: str, work: Work) -> None:
    """Do the work of one try in one unit; a failure is kept in words, and nothing else is kept.

    Raises:
        DBAPIError: the database went away: another try may find it there.
        Exception: a fault of ours, after it was told.
    """
    try:
        with unit_of_work(attempt.new_session) as session:
            work(session)
    except Abandoned:
        return
    except CrumbError as error:
        attempt.failed(error.message)
    except DBAPIError:
        raise
    except Exception as error:
        if kind not in _FAULTS:
            raise
        _tell(attempt, kind, error)


def _tell(attempt: Try, kind: str, fault: Exception) -> None:
    """End a try in words; a fault of ours goes on, so that the log has it."""
    if isinstance(fault, MemoryError | RecursionError | BrokenProcessPool):
        attempt.failed(TOO_MUCH.format("memory"))
    elif isinstance(fault, OSError) and fault.errno in (ENOSPC, EDQUOT):
        attempt.failed(_DISK)
    else:
        attempt.failed(_FAULTS[kind])
        if not isinstance(fault, OSError):
            raise fault
