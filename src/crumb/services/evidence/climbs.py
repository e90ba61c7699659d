"""Where students stand on the ladders of what was sent: kept up to date like levels."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from crumb.core.evidence.model import Source
from crumb.core.tempo.climb import Climb, ClimbPlan, Played, advance, start_climb
from crumb.store.codecs.mastery import climb_from, climb_row
from crumb.store.queries.evidence import PlayedRow
from crumb.store.tables import ClimbRow


@dataclass(frozen=True, slots=True)
class Place:
    """A climb and the last repetition in it."""

    climb: Climb
    last: tuple[datetime, int] | None = None


def place_of(plan: ClimbPlan, row: ClimbRow | None) -> Place:
    """A stored climb; one that was not begun is at the foot of its ladder."""
    if row is None:
        return Place(start_climb(plan))
    is_begun = row.last_played_at is not None and row.last_id is not None
    last = (row.last_played_at, row.last_id.int) if is_begun else None  # type: ignore[union-attr]
    return Place(climb_from(row), last)  # type: ignore[arg-type]


def played(
    step: int, tempo: Fraction | None, is_clean: bool, at: datetime, source: Source
) -> Played:
    """A repetition as the climb sees it."""
    seconds = Fraction(int(at.timestamp() * 1000), 1000)
    return Played(step, tempo, is_clean, seconds, leaps=source is Source.PAPER)


def advanced(plan: ClimbPlan, place: Place, one: Played, order: tuple[datetime, int]) -> Place:
    """A place after one more repetition, which is no earlier than the last."""
    return Place(advance(plan, place.climb, one), order)


def climbed(plan: ClimbPlan, rows: Iterable[PlayedRow]) -> Place:
    """A climb worked out from all that was played and not taken back, in order."""
    place = Place(start_climb(plan))
    for row in rows:
        one = played(row.step, row.tempo, row.is_clean, row.at, Source(row.source))
        place = advanced(plan, place, one, (row.at, row.id.int))
    return place


def row_of(item_id: UUID, student_id: UUID, place: Place) -> dict[str, Any]:
    """A place as it is stored."""
    return climb_row(item_id, student_id, place.climb, place.last)
