"""Codec of levels and climbs: the replay state behind a level, and the ladder."""

from base64 import b64decode, b64encode
from collections.abc import Mapping
from datetime import UTC, date, datetime
from fractions import Fraction
from typing import Any
from uuid import UUID

from crumb.core.evidence.model import Source
from crumb.core.mastery.chunk import DEFAULTS, Fold, Row, Rules, Standing
from crumb.core.mastery.replay import ReplayState, Target, nothing
from crumb.core.mastery.secure import Belief, Secure
from crumb.core.mastery.spacing import SpacingState as Spaced
from crumb.core.tempo.climb import Climb
from crumb.store.codecs.evidence import exact
from crumb.store.tables import Mastery

LEVEL_RULES = 5
"""Which rules a level was worked out by; those of before are worked out anew."""
WAITS = 0
"""Stands in the place of the rules while a level waits to be recomputed."""
SET_ASIDE = -1
"""The same where recomputing failed: it is not tried again until more is played."""


def rules_to_json(rules: Rules) -> dict[str, Any] | None:
    """A program's rules; None if they are the usual ones."""
    if rules == DEFAULTS:
        return None
    return {
        "in_a_row": rules.in_a_row,
        "steady": str(rules.steady),
        "linked": str(rules.linked),
        "confirming": sorted(rules.confirming),
    }


def rules_from(kept: dict[str, Any] | None) -> Rules:
    """Stored rules."""
    if not kept:
        return DEFAULTS
    return Rules(
        kept["in_a_row"],
        Fraction(kept["steady"]),
        Fraction(kept["linked"]),
        frozenset(Source(source) for source in kept["confirming"]),
    )


def fold_to_json(fold: Fold) -> dict[str, Any]:
    """A fold; what is usual is left out."""
    kept = {
        "belief": b64encode(fold.belief.weights).decode() if fold.belief.day else None,
        "passes": fold.belief.passes,
        "day": _day(fold.belief.day),
        "fastest": _tempo(fold.belief.fastest),
        "notes": fold.notes,
        "rhythm": fold.rhythm,
        "has_notes": fold.has_notes,
        "has_rhythm": fold.has_rhythm,
        "chunk": _row(fold.chunk),
        "in": _row(fold.seam_in),
        "out": _row(fold.seam_out),
        "solid": _tempo(fold.solid),
        "best": _tempo(fold.best),
        "heard": fold.heard,
        "confirmed": fold.is_confirmed,
        "reached": _day(fold.reached),
        "cold": _day(fold.cold),
        "cap": fold.cap,
        "kept": None if fold.kept is None else _spaced(fold.kept),
        "last": _day(fold.last),
        "count": fold.repetitions,
        "first": fold.first,
        "missed": None if fold.missed is None else _spaced(fold.missed),
        "ear_slips": fold.ear_slips or None,
    }
    return {name: value for name, value in kept.items() if value is not None and value is not False}


def fold_from(kept: dict[str, Any], target: Target) -> Fold:
    """A stored fold."""
    prior = nothing(target).fold.belief
    weights = b64decode(kept["belief"]) if "belief" in kept else prior.weights
    return Fold(
        belief=Belief(
            weights, kept["passes"], _as_day(kept.get("day")), _as_tempo(kept.get("fastest"))
        ),
        notes=kept["notes"],
        rhythm=kept["rhythm"],
        has_notes=kept.get("has_notes", False),
        has_rhythm=kept.get("has_rhythm", False),
        chunk=_as_row(kept.get("chunk")),
        seam_in=_as_row(kept.get("in")),
        seam_out=_as_row(kept.get("out")),
        solid=_as_tempo(kept.get("solid")),
        best=_as_tempo(kept.get("best")),
        heard=kept.get("heard"),
        is_confirmed=kept.get("confirmed", False),
        reached=_as_day(kept.get("reached")),
        cold=_as_day(kept.get("cold")),
        cap=kept.get("cap"),
        kept=_as_spaced(kept.get("kept")),
        last=_as_day(kept.get("last")),
        repetitions=kept["count"],
        first=kept.get("first"),
        missed=_as_spaced(kept.get("missed")),
        ear_slips=kept.get("ear_slips", 0),
    )


def kept_from(
    fold: dict[str, Any],
    target: Target,
    *,
    clean: int,
    slips: int,
    last_at: datetime | None,
    last_id: UUID | None,
) -> ReplayState:
    """A stored fold with what orders it."""
    if last_at is None or last_id is None:
        return nothing(target)
    return ReplayState(fold_from(fold, target), clean, slips, (last_at, last_id.int))


def standing_as_stored(row: Mastery) -> Standing:
    """A standing by the rules that the row was worked out by, for a level that waits.

    The row has no chance at goal and no row of clean passes: both are as if nothing was played.
    """
    known = row.secure_bpm is not None
    tempos = (row.secure_bpm or 0.0, row.secure_low or 0.0, row.secure_high or 0.0)
    return Standing(
        level=row.level,
        seam_in=row.seam_in,
        seam_out=row.seam_out,
        secure=Secure(*tempos, enough=row.is_enough, at_goal=0.0),
        passes=row.clean + row.slips if known else 0,
        solid=row.proved_bpm,
        best_single=row.best_bpm,
        is_clean_last=False,
        due=row.due_on,
        next=row.next_step,
        why=row.why,
        joined_in=0,
        joined_out=0,
    )


def mastery_row(
    student_id: UUID, chunk_id: UUID, kept: ReplayState, standing: Standing
) -> dict[str, Any]:
    """A level with its fold, as a row. Secure tempo is that of the last day played."""
    known = standing.passes > 0
    return {
        "student_id": student_id,
        "chunk_id": chunk_id,
        "level": standing.level,
        "proved_bpm": standing.solid,
        "why": standing.why,
        "next_step": standing.next,
        "seam_in": standing.seam_in,
        "seam_out": standing.seam_out,
        "secure_bpm": round(standing.secure.median, 2) if known else None,
        "secure_low": round(standing.secure.low, 2) if known else None,
        "secure_high": round(standing.secure.high, 2) if known else None,
        "is_enough": standing.secure.enough,
        "best_bpm": standing.best_single,
        "due_on": standing.due,
        "clean": kept.clean,
        "slips": kept.slips,
        "last_played_at": None if kept.last is None else kept.last[0].astimezone(UTC),
        "last_id": None if kept.last is None else UUID(int=kept.last[1]),
        "fold": {} if kept.last is None else fold_to_json(kept.fold),
        "rules": LEVEL_RULES,
    }


def _row(row: Row) -> list[Any] | None:
    if row == Row():
        return None
    return [[str(tempo) for tempo in row.running], _tempo(row.proved)]


def _as_row(kept: list[Any] | None) -> Row:
    if kept is None:
        return Row()
    return Row(tuple(Fraction(tempo) for tempo in kept[0]), _as_tempo(kept[1]))


def _tempo(tempo: Fraction | None) -> str | None:
    return None if tempo is None else str(tempo)


def _as_tempo(kept: str | None) -> Fraction | None:
    return None if kept is None else Fraction(kept)


def _day(day: date | None) -> str | None:
    return None if day is None else day.isoformat()


def _as_day(kept: str | None) -> date | None:
    return None if kept is None else date.fromisoformat(kept)


def _spaced(kept: Spaced) -> list[Any]:
    return [kept.stability, kept.difficulty, _day(kept.last), _day(kept.due)]


def _as_spaced(kept: list[Any] | None) -> Spaced | None:
    if kept is None:
        return None
    return Spaced(kept[0], kept[1], date.fromisoformat(kept[2]), date.fromisoformat(kept[3]))


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


def climb_from(row: Mapping[str, Any]) -> Climb:
    """A stored climb from its values by name, whether they come as JSON or from the columns."""
    return Climb(
        tempo=exact(row["tempo"]),
        reach=exact(row["reach"]),
        step=row["step"],
        in_a_row=row["in_a_row"],
        slips_in_a_row=row["slips_in_a_row"],
        done=frozenset(row["done"]),
        cycles=row["cycles"],
        is_finished=row["is_finished"],
        told=row["told"],
        last_at=None if row["last_at"] is None else Fraction(row["last_at"]),
    )
