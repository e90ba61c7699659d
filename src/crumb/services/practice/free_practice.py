"""Free practice: repetitions of chunks as written, without an assignment."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.evidence.plausibility import ExpectedPass
from crumb.core.intake.facts import UnassignedEvidence
from crumb.core.score.position import Span
from crumb.core.score.slicing import played_quarters, span_sounds
from crumb.services.access import Actor
from crumb.services.library.marks import part_for
from crumb.services.library.pieces import PartInHand
from crumb.services.maps.chunks import get_chunk


@dataclass(frozen=True, slots=True)
class FreeRepetition:
    """One repetition of a chunk as written, with no drill that asked for it."""

    id: UUID
    part_id: UUID
    chunk_id: UUID
    tempo: Fraction | None
    is_clean: bool
    at: datetime


def freely(
    session: Session, actor: Actor, played: Sequence[FreeRepetition]
) -> list[UnassignedEvidence]:
    """Free practice of parts that the student was sent, ready to be handed in.

    Raises:
        NotFound: a part or chunk that is not theirs to see.
    """
    noted = []
    for one in played:
        hand = part_for(session, actor, one.part_id)
        chunk = get_chunk(session, hand, one.chunk_id)
        noted.append(
            UnassignedEvidence(
                id=one.id,
                part_id=one.part_id,
                span=chunk.span,
                at=one.at,
                tempo=one.tempo,
                is_clean=one.is_clean,
                expected=_expected(hand, chunk.span),
            )
        )
    return noted


def _expected(hand: PartInHand, span: Span) -> ExpectedPass:
    beat = hand.part.measures[span.start.index].time.beat
    attacks = len({s.at for s in span_sounds(hand.part, span) if not s.grace})
    return ExpectedPass(played_quarters(hand.part, span), attacks, beat, hand.row.goal_bpm, None)
