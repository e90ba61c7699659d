"""The fold behind a level, and the climb, as they are stored."""

from datetime import UTC, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from crumb.core.mastery.levels import Fold, Standing
from crumb.core.tempo.climb import Climb
from crumb.store.tables import ClimbRow


def fold_to_json(fold: Fold) -> dict[str, Any]:
    """What the columns of a level do not say already; what is usual is left out."""
    kept: dict[str, Any] = {}
    if fold.row:
        kept["row"] = fold.row
    if fold.running:
        kept["running"] = [str(tempo) for tempo in fold.running]
    if fold.has_notes:
        kept["notes"] = True
    if fold.since is not None:
        kept["since"] = str(fold.since)
    if fold.heard is not None:
        kept["heard"] = fold.heard
    return kept


def fold_from(
    kept: dict[str, Any],
    *,
    clean: int,
    slips: int,
    proved: Fraction | None,
    last_at: datetime | None,
    last_id: UUID | None,
) -> Fold:
    """A stored fold."""
    since = kept.get("since")
    return Fold(
        clean=clean,
        slips=slips,
        row=kept.get("row", 0),
        running=tuple(Fraction(tempo) for tempo in kept.get("running", ())),
        has_notes=kept.get("notes", False),
        proved=proved,
        since=None if since is None else Fraction(since),
        heard=kept.get("heard"),
        last=None if last_at is None or last_id is None else (last_at, last_id.int),
    )


def mastery_row(student_id: UUID, chunk_id: UUID, fold: Fold, standing: Standing) -> dict[str, Any]:
    """A level with its fold, as a row."""
    return {
        "student_id": student_id,
        "chunk_id": chunk_id,
        "level": standing.level,
        "proved_bpm": fold.proved,
        "why": standing.why,
        "clean": fold.clean,
        "slips": fold.slips,
        "last_played_at": None if fold.last is None else fold.last[0].astimezone(UTC),
        "last_id": None if fold.last is None else UUID(int=fold.last[1]),
        "fold": fold_to_json(fold),
    }


def climb_row(
    item_id: UUID, student_id: UUID, climb: Climb, last: tuple[datetime, int] | None
) -> dict[str, Any]:
    """A climb as a row."""
    return {
        "item_id": item_id,
        "student_id": student_id,
        "tempo": climb.tempo,
        "reach": climb.reach,
        "step": climb.step,
        "in_a_row": climb.in_a_row,
        "slips_in_a_row": climb.slips_in_a_row,
        "done": sorted(climb.done),
        "cycles": climb.cycles,
        "is_finished": climb.is_finished,
        "told": climb.told,
        "last_at": climb.last_at,
        "last_played_at": None if last is None else last[0],
        "last_id": None if last is None else UUID(int=last[1]),
    }


def climb_from(row: ClimbRow) -> Climb:
    """A stored climb; the row has the columns of ``climb``."""
    return Climb(
        tempo=row.tempo,
        reach=row.reach,
        step=row.step,
        in_a_row=row.in_a_row,
        slips_in_a_row=row.slips_in_a_row,
        done=frozenset(row.done),
        cycles=row.cycles,
        is_finished=row.is_finished,
        last_at=row.last_at,
        told=row.told,
    )
