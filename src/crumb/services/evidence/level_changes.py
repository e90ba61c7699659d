"""What new evidence changes: levels on every chunk inside it, in later versions of the part too.

A chunk costs one step of its fold for each new thing, however long its history. Only where
something older than what was folded in arrives, or something is taken back, is a history read and
folded anew.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID

from crumb.core.evidence.model import Evidence
from crumb.core.mastery.replay import ReplayState, advance_state, replay, standing_of, where_of
from crumb.core.score.matching import carried_span, carried_through
from crumb.core.score.position import Span
from crumb.store.codecs.evidence import evidence_from, span_from
from crumb.store.codecs.mastery import mastery_row
from crumb.store.pipeline import Script, batch
from crumb.store.queries import record_evidence as ask
from crumb.store.queries.record_evidence import ChunkRow, PartRow, State


@dataclass(frozen=True, slots=True)
class PartChanges:
    """What happened on one part: what is new there, and where something was taken back."""

    new: tuple[Evidence, ...] = ()
    gone: tuple[Span, ...] = ()

    @property
    def spans(self) -> set[Span]:
        """Everywhere something happened."""
        return {*self.gone, *(one.span for one in self.new)}


def ranges_of(spans: Mapping[UUID, Iterable[Span]]) -> dict[UUID, tuple[int, int]]:
    """The measures that some spans lie in, first and last, by part."""
    found = {}
    for part_id, mine in spans.items():
        listed = list(mine)
        if listed:
            found[part_id] = (
                min(span.start.index for span in listed),
                max(span.end.index for span in listed),
            )
    return found


def in_later_versions(
    touched: Mapping[UUID, PartChanges], parts: Mapping[UUID, PartRow]
) -> dict[UUID, PartChanges]:
    """The same, with what it is in later versions of its parts."""
    found = dict(touched)
    todo = list(touched)
    while todo:
        here = todo.pop()
        for later in parts.values():
            if later.replaces == here:
                found[later.id] = _carried(found[here], later.carried)
                todo.append(later.id)
    return found


def _carried(touched: PartChanges, moved: dict[int, int]) -> PartChanges:
    new = ((one, carried_span(one.span, moved)) for one in touched.new)
    gone = (carried_span(span, moved) for span in touched.gone)
    return PartChanges(
        tuple(replace(one, span=span) for one, span in new if span is not None),
        tuple(span for span in gone if span is not None),
    )


def levels_after(
    student_id: UUID, touched: Mapping[UUID, PartChanges], state: State, gone: set[UUID]
) -> Script[list[dict[str, Any]]]:
    """The rows of every level that changes.

    Args:
        student_id: whose.
        touched: what happened, later versions included.
        state: what there was; its folds are those of the parts and measures concerned.
        gone: ids of what is being taken back.
    """
    rows: list[dict[str, Any]] = []
    for part_id, what in touched.items():
        again: list[ChunkRow] = []
        for chunk in state.folds:
            if chunk.part_id != part_id:
                continue
            if not any(where_of(span, chunk.target.span) for span in what.spans):
                continue
            after = _after(chunk, what)
            if after is None:
                again.append(chunk)
            elif after != chunk.kept:
                rows.append(_row(student_id, chunk, after))
        if again:
            history = yield from history_on(part_id, student_id)
            kept = [one for one in (*history, *what.new) if UUID(int=one.id) not in gone]
            made = replay([chunk.target for chunk in again], kept)
            rows += [_row(student_id, chunk, made[chunk.target.span]) for chunk in again]
    return rows


def _row(student_id: UUID, chunk: ChunkRow, kept: ReplayState) -> dict[str, Any]:
    return mastery_row(student_id, chunk.chunk_id, kept, standing_of(kept, chunk.target))


def _after(chunk: ChunkRow, what: PartChanges) -> ReplayState | None:
    """A chunk's fold with what is new; None if all of it must be folded anew."""
    here = chunk.target.span
    if chunk.kept is None or any(where_of(span, here) for span in what.gone):
        return None
    kept = chunk.kept
    for one in what.new:
        if where_of(one.span, here):
            if kept.comes_after(one):
                return None
            kept = advance_state(kept, one, chunk.target)
    return kept


def history_on(part_id: UUID, student_id: UUID) -> Script[list[Evidence]]:
    """All that a student played on a part and its earlier versions, as it lies on the part now."""
    found: list[Evidence] = []
    moves: list[dict[int, int]] = []
    here: UUID | None = part_id
    while here is not None:
        rows, before = yield batch(ask.on_part(here, student_id), ask.earlier(here))
        for row in rows:
            one = evidence_from(span_from(*row[:4]), row[4:])
            span = carried_through(one.span, moves)
            if span is not None:
                found.append(replace(one, span=span))
        replaces, carried = before[0]
        moves.insert(0, {int(a): b for a, b in carried.items()})
        here = replaces
    return found
