"""The levels that new evidence changes, in later versions of the part too.

A chunk costs one step for each new thing, however long its history. Only where something older than
what it came to arrives, or something is taken back, must its history be replayed.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from uuid import UUID

from crumb.core.evidence.model import Evidence
from crumb.core.intake.facts import ChunkFacts, PartFacts
from crumb.core.mastery.replay import ReplayState, advance_state, where_of
from crumb.core.mastery.replay import replay as replay_chunks
from crumb.core.score.matching import carried_span
from crumb.core.score.position import Span

ChunkLevel = tuple[ChunkFacts, ReplayState]
"""A chunk and what its evidence comes to now."""


@dataclass(frozen=True, slots=True)
class PartChanges:
    """Changes on one part: new evidence, and chunks on which evidence was retracted."""

    new: tuple[Evidence, ...] = ()
    gone: tuple[Span, ...] = ()

    @property
    def spans(self) -> set[Span]:
        """Everywhere something happened."""
        return {*self.gone, *(one.span for one in self.new)}


@dataclass(frozen=True, slots=True)
class LevelChanges:
    """Levels that moved by one step each, and chunks whose history must be replayed, by part."""

    advanced: tuple[ChunkLevel, ...]
    to_replay: Mapping[UUID, tuple[ChunkFacts, ...]]


def measures_of(spans: Mapping[UUID, Iterable[Span]]) -> dict[UUID, tuple[int, int]]:
    """The measures that some spans lie in, first and last, by part."""
    found = {}
    for part_id, mine in spans.items():
        listed = list(mine)
        if listed:
            first = min(span.start.index for span in listed)
            found[part_id] = (first, max(span.end.index for span in listed))
    return found


def in_later_versions(
    changes: Mapping[UUID, PartChanges], parts: Mapping[UUID, PartFacts]
) -> dict[UUID, PartChanges]:
    """The same, with what it is in later versions of its parts."""
    found = dict(changes)
    todo = list(changes)
    while todo:
        here = todo.pop()
        for later in parts.values():
            if later.replaces == here:
                found[later.id] = _carried(found[here], later.carried)
                todo.append(later.id)
    return found


def _carried(changes: PartChanges, moved: Mapping[int, int]) -> PartChanges:
    moves = dict(moved)
    new = ((one, carried_span(one.span, moves)) for one in changes.new)
    gone = (carried_span(span, moves) for span in changes.gone)
    return PartChanges(
        tuple(replace(one, span=span) for one, span in new if span is not None),
        tuple(span for span in gone if span is not None),
    )


def advance_levels(
    changes: Mapping[UUID, PartChanges], chunks: Sequence[ChunkFacts]
) -> LevelChanges:
    """The levels that changes make, where one step each is enough.

    Args:
        changes: what happened, by part, later versions included.
        chunks: all that the measures concerned lie in.
    """
    advanced: list[ChunkLevel] = []
    to_replay: dict[UUID, tuple[ChunkFacts, ...]] = {}
    for chunk in chunks:
        here = changes.get(chunk.part_id)
        if here is None or not any(where_of(s, chunk.target.span) for s in here.spans):
            continue
        after = _advanced(chunk, here)
        if after is None:
            to_replay[chunk.part_id] = (*to_replay.get(chunk.part_id, ()), chunk)
        elif after != chunk.state:
            advanced.append((chunk, after))
    return LevelChanges(tuple(advanced), to_replay)


def _advanced(chunk: ChunkFacts, changes: PartChanges) -> ReplayState | None:
    """A chunk's state with what is new; None if its history must be replayed."""
    span, state = chunk.target.span, chunk.state
    if state is None or any(where_of(gone, span) for gone in changes.gone):
        return None
    for one in changes.new:
        if where_of(one.span, span):
            if state.comes_after(one):
                return None
            state = advance_state(state, one, chunk.target)
    return state


def replay_levels(
    chunks: Sequence[ChunkFacts],
    history: Iterable[Evidence],
    changes: PartChanges,
    gone: set[UUID],
) -> list[ChunkLevel]:
    """The levels of some chunks of one part, replayed from its history and what is new.

    Args:
        chunks: of the part.
        history: all that the student played on it, as it lies on the part now.
        changes: what happened on it.
        gone: ids of what is being taken back.
    """
    kept = [one for one in (*history, *changes.new) if UUID(int=one.id) not in gone]
    made = replay_chunks([chunk.target for chunk in chunks], kept)
    return [(chunk, made[chunk.target.span]) for chunk in chunks]
