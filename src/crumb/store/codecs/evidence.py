"""Codec of evidence: rows to the core's `Evidence` and back."""

from collections.abc import Sequence
from datetime import tzinfo
from fractions import Fraction
from functools import lru_cache
from typing import Any
from uuid import UUID

from crumb.core.evidence.model import Doubt, Evidence, Kind, Rhythm, Source, What
from crumb.core.score.position import Position, Span

RULES = 2
"""Which rules a repetition was judged under; raised when doubts or levels are told differently."""


@lru_cache(maxsize=4096)
def exact(number: str | Fraction) -> Fraction:
    """The few offsets and tempos there are come back all the time."""
    return Fraction(number)


def span_from(first: int, at: str | Fraction, last: int, end: str | Fraction) -> Span:
    """A span from its four columns."""
    return Span(Position(first, exact(at)), Position(last, exact(end)))


COLUMNS = (
    "played_at",
    "id",
    "what",
    "tempo_bpm",
    "is_clean",
    "kind",
    "as_written",
    "is_aided",
    "rhythm",
    "source",
    "level",
    "doubt",
    "local_day",
)
"""What is read of evidence beside its span, in this order."""


def evidence_from(span: Span, row: Sequence[Any]) -> Evidence:
    """The span and the ``COLUMNS`` of a row."""
    at, id_, what, tempo, is_clean, kind, as_written, is_aided, rhythm, source, *rest = row
    level, doubt, day = rest
    return Evidence(
        span=span,
        at=at,
        id=id_.int,
        what=What(what),
        tempo=None if tempo is None else exact(tempo),
        is_clean=bool(is_clean),
        kind=Kind(kind),
        as_written=as_written,
        is_aided=is_aided,
        rhythm=Rhythm(rhythm),
        source=Source(source),
        level=level,
        doubt=Doubt(doubt),
        day=day,
    )


def evidence_row(
    one: Evidence,
    *,
    program_id: UUID,
    student_id: UUID,
    part_id: UUID,
    zone: tzinfo,
    item_id: UUID | None = None,
    step: int | None = None,
    step_name: str = "",
    by_id: UUID | None = None,
    reason: str = "",
) -> dict[str, Any]:
    """A row of evidence.

    Args:
        one: what was played.
        program_id: whose student it was.
        student_id: who played.
        part_id: on what.
        zone: the program's, which says on which day it was.
        item_id: the drill that asked for it, if any did.
        step: which step of that drill.
        step_name: its name.
        by_id: who judged, for a hearing.
        reason: why rungs were left out, in the student's words.
    """
    return {
        "id": UUID(int=one.id),
        "program_id": program_id,
        "student_id": student_id,
        "part_id": part_id,
        "what": one.what,
        "item_id": item_id,
        "step": step,
        "step_name": step_name,
        "kind": one.kind,
        "as_written": one.as_written,
        "is_aided": one.is_aided,
        "rhythm": one.rhythm,
        "start_index": one.span.start.index,
        "start_at": one.span.start.at,
        "end_index": one.span.end.index,
        "end_at": one.span.end.at,
        "tempo_bpm": one.tempo,
        "is_clean": None if one.what is What.HEARING else one.is_clean,
        "level": one.level,
        "by_id": by_id,
        "reason": reason[:400],
        "played_at": one.at,
        "local_day": one.day or one.at.astimezone(zone).date(),
        "source": one.source,
        "doubt": one.doubt,
        "rules": RULES,
    }
