"""How players stand on a passage, from how they stand on the chunks that belong to it."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from crumb.core.rehearsal.planner import PlayerNow
from crumb.core.score.position import Span
from crumb.core.score_overview.passages import ScorePassage

_MOSTLY = 0.75
"""So much of a passage has to be alike for its kin to gain from it."""


@dataclass(frozen=True, slots=True)
class ChunkNow:
    """A player on one chunk; a seam that a chunk does not have counts as shown."""

    level: int = 0
    seam_in: bool = False
    seam_out: bool = False
    secure: float | None = None


def player_on(
    chunks: Iterable[ChunkNow], *, is_absent: bool = False, is_away_next: bool = False
) -> PlayerNow:
    """A player on a passage stands as on the weakest chunk of it; on none of it: at nothing."""
    here = list(chunks)
    known = [one.secure for one in here if one.secure is not None]
    return PlayerNow(
        level=min((one.level for one in here), default=0),
        joins=all(one.seam_in and one.seam_out for one in here),
        secure=min(known, default=None),
        is_absent=is_absent,
        is_away_next=is_away_next,
    )


def chunks_of(spans: Sequence[Span], passage: ScorePassage) -> list[int]:
    """Which chunks belong to a passage: those that begin in it, else one that goes all through."""
    inside = [place for place, span in enumerate(spans) if _begins_in(span, passage)]
    if inside:
        return inside
    whole = passage.span
    return [
        p for p, span in enumerate(spans) if span.start <= whole.start and span.end >= whole.end
    ]


def _begins_in(span: Span, passage: ScorePassage) -> bool:
    """A pickup belongs with what follows it, on this side of the barline or on that."""
    is_pickup = span.start.at > 0 and span.end.index > span.start.index + 1
    return passage.first <= span.start.index + is_pickup < passage.last


def alike(
    links: Iterable[tuple[int, int, int, int]], passages: Sequence[ScorePassage]
) -> list[frozenset[int]]:
    """Which passages are alike for most of their length, by place.

    Args:
        links: first and last measure of two stretches that are alike, both included.
        passages: of the score.
    """
    kin: list[set[int]] = [set() for _ in passages]
    for a_first, a_last, b_first, b_last in links:
        a, b = _mostly(a_first, a_last, passages), _mostly(b_first, b_last, passages)
        if a is not None and b is not None and a != b:
            kin[a].add(b)
            kin[b].add(a)
    return [frozenset(one) for one in kin]


def _mostly(first: int, last: int, passages: Sequence[ScorePassage]) -> int | None:
    for place, passage in enumerate(passages):
        both = min(last + 1, passage.last) - max(first, passage.first)
        if both >= _MOSTLY * (passage.last - passage.first):
            return place
    return None
