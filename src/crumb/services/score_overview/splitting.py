"""Split a passage in every part of a score, and undo that."""

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import ChunkEditRefused
from crumb.core.score.address import find_span
from crumb.core.score.naming import span_label
from crumb.core.score_overview import splitting
from crumb.core.score_overview.passages import ScorePassage, passages
from crumb.core.score_overview.splitting import PartOfScore, Propose
from crumb.core.split.nested import NestedMap
from crumb.services.access import Actor
from crumb.services.errors import ChangedMeanwhile, NotAccepted
from crumb.services.library.pieces import PartInHand
from crumb.services.library.surveys import survey_of
from crumb.services.maps import versions
from crumb.services.maps.chunks import nested_in_force, view_map
from crumb.services.maps.edits import Change
from crumb.services.score_overview.overview import hands_of
from crumb.store.queries import locks

_NAME = "Split together"


@dataclass(frozen=True, slots=True)
class SplitPart:
    """The result for one part: how many chunks it has now, and its map's version.

    ``version`` None: it rests there, and stays as it is.
    """

    part_id: UUID
    part: str
    chunks: int
    version: int | None


@dataclass(frozen=True, slots=True)
class SplitRequest:
    """A wish to split: ``words`` say the passage, empty for the whole score.

    ``by`` is ``measures`` (so many a chunk), ``phrases`` or ``load``.
    """

    words: str = ""
    by: str = "load"
    measures: int = 4


def split(session: Session, actor: Actor, piece_id: UUID, wish: SplitRequest) -> list[SplitPart]:
    """Divide a passage, or all of the score, in every part.

    Raises:
        NotFound: no such piece.
        BadAddress: the words name no place.
        NotAccepted: nothing here to split.
    """
    hands = hands_of(session, actor, piece_id)
    if not hands:
        raise NotAccepted("This piece has no part with notes that somebody plays.")
    chosen = _chosen(hands, wish.words)
    maps = [nested_in_force(session, hand) for hand in hands]
    score = [
        PartOfScore(hand.part, survey_of(hand), nested)
        for hand, (_, nested) in zip(hands, maps, strict=True)
    ]
    made = splitting.split_together(score, chosen, _proposal(wish.by, wish.measures))
    locks.have_parts(session, [hand.row.id for hand in hands])  # all, in their one order
    return [
        _put(session, actor, hand, version, after)
        for hand, (version, _), after in zip(hands, maps, made, strict=True)
    ]


def _put(
    session: Session, actor: Actor, hand: PartInHand, version: int, after: NestedMap | None
) -> SplitPart:
    """One part split; one that rests there, or was edited just now, stays as it is."""
    part_id, name = hand.row.id, hand.row.name
    if after is not None:
        with suppress(ChunkEditRefused, ChangedMeanwhile), session.begin_nested():
            view = versions.apply(session, actor, part_id, version, Change(_NAME, lambda _: after))
            return SplitPart(part_id, name, len(view.chunks), view.version)
    return SplitPart(part_id, name, len(view_map(session, hand).chunks), None)


def take_back(
    session: Session, actor: Actor, piece_id: UUID, maps: Sequence[tuple[UUID, int]]
) -> list[str]:
    """Undo a split of every part that was not edited since; names those that were."""
    hands = {hand.row.id: hand for hand in hands_of(session, actor, piece_id)}
    locks.have_parts(session, hands)
    kept = []
    for part_id, version in maps:
        hand = hands.get(part_id)
        if hand is None:
            raise NotAccepted("This part is not of this piece.")
        if view_map(session, hand).version != version:
            kept.append(hand.row.name)
            continue
        versions.step_through(session, actor, part_id, version, back=True)
    return kept


def _chosen(hands: Sequence[PartInHand], words: str) -> Sequence[ScorePassage]:
    found = passages([hand.part for hand in hands])
    if not words.strip():
        return found
    part = next((h.part for h in hands if any(m.rehearsal for m in h.part.measures)), hands[0].part)
    named = next((p for p in found if words.strip() in (p.name, p.name.partition(" ")[0])), None)
    if named is not None:
        return (named,)
    span = find_span(part, words)
    last = span.end.index + (1 if span.end.at > 0 else 0)
    return (ScorePassage(span.start.index, last, span_label(part, span)),)


def _proposal(by: str, measures: int) -> Propose:
    if by == "measures":
        return splitting.every(measures)
    return splitting.by_load if by == "load" else splitting.by_phrases
