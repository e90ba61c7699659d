"""Histories of evidence by student, in the order played, earlier versions included."""

from collections.abc import Iterator
from dataclasses import dataclass, replace
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Evidence
from crumb.core.score.matching import carried_through
from crumb.core.score.position import Span
from crumb.store.codecs.evidence import COLUMNS, evidence_from, span_from
from crumb.store.pipeline import run
from crumb.store.queries.evidence import evidence_on, evidence_rows
from crumb.store.queries.record_evidence import earlier_version
from crumb.store.tables import Evidence as EvidenceRow


def by_student(
    session: Session, part_id: UUID, student_id: UUID | None = None
) -> dict[UUID, list[Evidence]]:
    """Evidence that counts on a part, by student, in no order: a fold sorts it.

    What was played on an earlier version of the part counts where the music is the same.
    """
    found: dict[UUID, list[Evidence]] = {}
    for version, moved in _versions(session, part_id):
        spans: dict[Span, Span | None] = {}
        for student, one in evidence_on(session, version, student_id):
            span = one.span
            if span not in spans:
                spans[span] = carried_through(span, moved)
            here = spans[span]
            if here is not None:
                kept = one if here == span else replace(one, span=here)
                found.setdefault(student, []).append(kept)
    return found


def _versions(session: Session, part_id: UUID) -> Iterator[tuple[UUID, list[dict[int, int]]]]:
    """A part and every earlier version of it, with the moves that lead from there to here."""
    moves: list[dict[int, int]] = []
    here: UUID | None = part_id
    while here is not None:
        yield here, list(moves)
        here, carried = run(session, earlier_version(here))
        moves.insert(0, carried)


@dataclass(frozen=True, slots=True)
class HistoryEntry:
    """A stored piece of evidence: where it lies on the part as it is now, and what became of it."""

    row: EvidenceRow
    span: Span
    is_retracted: bool
    by: str
    """Name of the judge of a hearing."""

    @property
    def evidence(self) -> Evidence:
        """As the rules want it."""
        return evidence_from(self.span, [getattr(self.row, name) for name in COLUMNS])


def touching(session: Session, part_id: UUID, student_id: UUID, chunk: Span) -> list[HistoryEntry]:
    """Everything that touches a chunk, newest first; earlier versions of the part included."""
    found: list[HistoryEntry] = []
    for version, moved in _versions(session, part_id):
        # In an earlier version the same music may lie anywhere.
        near = None if moved else chunk
        for row, is_retracted, judge in evidence_rows(session, version, student_id, near):
            span = carried_through(_span(row), moved)
            if span is not None and span.touches(chunk):
                found.append(HistoryEntry(row, span, is_retracted, judge))
    return sorted(found, key=lambda one: (one.row.played_at, one.row.id), reverse=True)


def _span(row: EvidenceRow) -> Span:
    return span_from(row.start_index, row.start_at, row.end_index, row.end_at)
