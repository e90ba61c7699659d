"""A student's history on a part, for what must be replayed while something is handed in."""

from dataclasses import replace
from uuid import UUID

from crumb.core.evidence.model import Evidence
from crumb.core.score.matching import carried_through
from crumb.store.codecs.evidence import evidence_from, span_from
from crumb.store.pipeline import Script, batch
from crumb.store.queries import record_evidence as ask


def part_history(part_id: UUID, student_id: UUID) -> Script[list[Evidence]]:
    """All that a student played on a part and its earlier versions, as it lies on the part now."""
    found: list[Evidence] = []
    moves: list[dict[int, int]] = []
    here: UUID | None = part_id
    while here is not None:
        rows, ((replaces, carried),) = yield batch(ask.on_part(here, student_id), ask.earlier(here))
        for start_index, start_at, end_index, end_at, *rest in rows:
            one = evidence_from(span_from(start_index, start_at, end_index, end_at), rest)
            span = carried_through(one.span, moves)
            if span is not None:
                found.append(replace(one, span=span))
        moves.insert(0, ask.moves_of(carried))
        here = replaces
    return found
