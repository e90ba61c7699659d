"""A cell of the Wall."""

from dataclasses import dataclass
from datetime import date, datetime


@dataclass(frozen=True, slots=True)
class Cell:
    """One student's standing on one chunk."""

    level: int
    why: str
    last_played_at: datetime | None
    next: str
    seam_in: bool = False
    seam_out: bool = False
    due_on: date | None = None
