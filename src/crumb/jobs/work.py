"""What is done in a box. Everything it needs is imported here, once, for all boxes."""

from uuid import UUID

import verovio  # noqa: F401 - loaded before boxes are forked, so that none waits for it

from crumb.jobs.helpers import each_with_help
from crumb.services.ensemble import takes
from crumb.services.jobs import Try
from crumb.services.music import importing
from crumb.services.sheets import printing
from crumb.settings import get_settings
from crumb.store.files import get_files, get_sounds
from crumb.store.session import new_session


def work_off(job_id: UUID, kind: str, number: int) -> None:
    """Do one job."""
    attempt = Try(job_id, number, new_session)
    if kind == "import":
        importing.work_off(attempt, get_files(), each_with_help)
    elif kind == "take":
        takes.work_off(attempt, get_sounds())
    else:
        printing.work_off(attempt, get_files(), get_settings().public_url)
