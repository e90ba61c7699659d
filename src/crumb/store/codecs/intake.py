"""Codec of the facts that a decision about a hand-in rests on.

The queries (``queries.record_evidence``) answer documents with their values by name.
"""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from crumb.core.evidence.model import Kind, Rhythm, Source
from crumb.core.evidence.plausibility import Neighbour, Neighbours
from crumb.core.intake.climbs import ClimbRepetition
from crumb.core.intake.facts import (
    Before,
    ChunkFacts,
    ClimbState,
    PartFacts,
    SentStepFacts,
    StoredEvidence,
)
from crumb.core.mastery.chunk import Edges
from crumb.core.mastery.replay import Target
from crumb.core.score.position import Span
from crumb.store.codecs.evidence import exact, span_from
from crumb.store.codecs.mastery import LEVEL_RULES, climb_from, kept_from, rules_from

Document = Mapping[str, Any]


def before_from(document: Document) -> Before:
    """The state before a hand-in."""
    parts = {part.id: part for part in map(_part, document["parts"])}
    known = [_stored(row) for row in document["known"]]
    return Before(
        known={row.id: row for row in known},
        climbs={UUID(row["item_id"]): climb_state_from(row) for row in document["climbs"]},
        neighbours=tuple(
            Neighbours(_neighbour(near["before"]), _neighbour(near["after"]))
            for near in document["neighbours"]
        ),
        parts=parts,
        chunks=tuple(_chunk(row, parts[UUID(row["part_id"])]) for row in document["chunks"]),
    )


def _neighbour(row: Document | None) -> Neighbour | None:
    at = _moment(row["at"]) if row else None
    return None if row is None or at is None else Neighbour(at, row["is_clean"])


def step_facts_from(steps: Sequence[Document]) -> dict[int, SentStepFacts]:
    """The steps of a drill that was sent, by their place."""
    return {
        step["place"]: SentStepFacts(
            name=step["name"],
            kind=Kind(step["kind"]),
            as_written=step["as_written"],
            is_aided=step["is_aided"],
            rhythm=Rhythm(step["rhythm"]),
            span=_span(step),
            quarters=exact(step["quarters"]) / exact(step["pace"]),
            attacks=step["attacks"],
        )
        for step in steps
    }


def climb_state_from(row: Document) -> ClimbState:
    """A climb as it is stored, with the last repetition in it."""
    last_id, last_at = _id(row["last_id"]), _moment(row["last_played_at"])
    is_begun = last_id is not None and last_at is not None
    return ClimbState(climb_from(row), (last_at, last_id.int) if is_begun else None)  # type: ignore[union-attr,arg-type]


def repetitions_from(rows: Iterable[Sequence[Any]]) -> list[ClimbRepetition]:
    """Rows of what was played on a drill: step, tempo, whether clean, moment, id, source."""
    return [
        ClimbRepetition(
            at,
            id_.int,
            step or 0,
            None if tempo is None else exact(tempo),
            bool(is_clean),
            Source(source),
        )
        for step, tempo, is_clean, at, id_, source in rows
    ]


def _stored(row: Document) -> StoredEvidence:
    return StoredEvidence(
        UUID(row["id"]),
        UUID(row["student_id"]),
        UUID(row["part_id"]),
        _id(row["item_id"]),
        _span(row),
    )


def _part(row: Document) -> PartFacts:
    return PartFacts(
        UUID(row["id"]),
        exact(row["goal_bpm"]),
        _id(row["replaces_id"]),
        {int(before): after for before, after in row["carried"].items()},
        rules_from(row["mastery_rules"]),
    )


def _chunk(row: Document, part: PartFacts) -> ChunkFacts:
    edges = Edges(not row["opens"], not row["closes"])
    target = Target(_span(row), part.goal, part.rules, edges)
    state = None
    if row["rules"] is None or row["rules"] == LEVEL_RULES:
        state = kept_from(
            row["fold"] or {},
            target,
            clean=row["clean"] or 0,
            slips=row["slips"] or 0,
            last_at=_moment(row["last_played_at"]),
            last_id=_id(row["last_id"]),
        )
    return ChunkFacts(part.id, UUID(row["id"]), target, state)


def _span(row: Document) -> Span:
    return span_from(row["start_index"], row["start_at"], row["end_index"], row["end_at"])


def _id(value: str | UUID | None) -> UUID | None:
    return value if value is None or isinstance(value, UUID) else UUID(value)


def _moment(value: str | datetime | None) -> datetime | None:
    return datetime.fromisoformat(value) if isinstance(value, str) else value
