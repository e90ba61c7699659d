"""The evidence behind a cell of the Wall."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.mastery.chunk import Standing
from crumb.core.mastery.course import DayStood, Passes, course, passes
from crumb.core.mastery.length import longest_at_goal
from crumb.core.mastery.replay import Target
from crumb.core.score.naming import place_label, span_label
from crumb.core.score.position import Span
from crumb.services.access import Actor
from crumb.services.evidence.history import HistoryEntry, touching
from crumb.services.evidence.levels import chunks_of_part, graded
from crumb.services.evidence.standing import shown
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, get_chunk
from crumb.services.people.roster import get_student
from crumb.services.wall.cells import Cell
from crumb.services.wall.grid import cell_of
from crumb.store.queries.diary import Told, told_slips

_MOST_TOLD = 300
"""Repetitions that are told one by one; more are a scroll that nobody makes."""


@dataclass(frozen=True, slots=True)
class Resting:
    """The evidence of a level: all that touches the chunk, newest first, and its tempos.

    ``older`` are there that are not told one by one. ``tempos`` is None where nothing was played as
    written with a click.
    """

    student: str
    chunk: ChunkView
    cell: Cell
    kept: list[HistoryEntry]
    older: int
    goal: Fraction
    tempos: Standing | None
    days: list[DayStood]
    passes: list[Passes]
    slips: list[tuple[str, int]]
    """Where slips fell in smaller pieces of the chunk, the most first."""
    joins: "Joins"
    longest: Span | None
    """The longest stretch of the chunk that went at goal."""


@dataclass(frozen=True, slots=True)
class Joins:
    """Clean crossings in a row into a chunk and out of it, of how many, at what tempo or more.

    None: there is no such seam.
    """

    into: int | None
    out: int | None
    of: int
    tempo: Fraction


def evidence(
    session: Session, actor: Actor, part_id: UUID, student_id: UUID, chunk_id: UUID, today: date
) -> Resting:
    """The evidence behind the level of a student on a chunk."""
    hand = load_part(session, actor, part_id)
    student = get_student(session, actor, student_id)
    chunk = get_chunk(session, hand, chunk_id)
    cell = cell_of(session, hand, student_id, chunk, today)
    kept = touching(session, part_id, student_id, chunk.span)
    found = shown(session, hand, student_id, [chunk_id], today).get(chunk_id)
    tempos = found if found is not None and found.passes else None
    told = told_slips(session, [student_id], part_id, date.min)
    part = graded(session, hand.row.id)
    target = dict(chunks_of_part(session, part))[chunk.id]
    played = [one.evidence for one in kept if not one.is_retracted]
    return Resting(
        student.name,
        chunk,
        cell,
        kept[:_MOST_TOLD],
        max(len(kept) - _MOST_TOLD, 0),
        hand.row.goal_bpm,
        tempos,
        days=course(target, played),
        passes=passes(played),
        slips=_slips(hand, chunk, kept, told[student_id]),
        joins=_joins(target, found),
        longest=longest_at_goal(hand.part, target, played),
    )


def _joins(target: Target, found: Standing | None) -> Joins:
    into, out = (0, 0) if found is None else (found.joined_in, found.joined_out)
    return Joins(
        into=into if target.edges.into else None,
        out=out if target.edges.out else None,
        of=target.rules.in_a_row,
        tempo=target.goal * target.rules.linked,
    )


def _slips(
    hand: PartInHand,
    chunk: ChunkView,
    kept: Sequence[HistoryEntry],
    told: Sequence[Told],
) -> list[tuple[str, int]]:
    """By the notes that were named, and by the smaller things that were played."""
    here = (at for at, _ in told if at is not None and chunk.span.start <= at < chunk.span.end)
    counted = Counter(place_label(hand.part, at) for at in here)
    for one in kept:
        if one.row.is_clean is False and not (one.is_retracted or one.row.doubt):
            span = one.span
            if chunk.span.covers(span) and (span.start, span.end) != (
                chunk.span.start,
                chunk.span.end,
            ):
                counted[span_label(hand.part, span)] += 1
    return counted.most_common(8)
