"""Passages that are no chunk of any map: joined chunks, lines, spans in anybody's words."""

from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.score.address import find_span
from crumb.core.score.position import Span, whole
from crumb.core.split.chunk_map import with_landing
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.evidence import levels
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, MapView, chunks_of, get_chunk, keep_chunks
from crumb.store.queries import mastery as ask


@dataclass(frozen=True, slots=True)
class Pointed:
    """A passage: words, or a first and a last chunk, or (nothing) all of the part."""

    words: str = ""
    first: UUID | None = None
    last: UUID | None = None


def keep(session: Session, actor: Actor, part_id: UUID, pointed: Pointed) -> ChunkView:
    """A passage as something to work on, with everybody's level on it; the same one each time.

    It lands on the note after it where there is one, as chunks do.

    Raises:
        BadAddress: the words name no place.
        NotFound: no such part, or a chunk that is not of it.
        NotAccepted: the chunks stand the wrong way round.
    """
    hand = load_part(session, actor, part_id, for_change=True)
    return _kept(session, hand, _span(session, hand, pointed))


def keep_span(session: Session, actor: Actor, part_id: UUID, span: Span) -> ChunkView:
    """A stretch of a part as something to work on; see :func:`keep`."""
    return _kept(session, load_part(session, actor, part_id, for_change=True), span)


def _kept(session: Session, hand: PartInHand, bare: Span) -> ChunkView:
    span = with_landing(hand.part, bare, on=True)
    ids, made = keep_chunks(session, hand, [[span]])
    levels.refresh_chunks(session, hand, made)
    return get_chunk(session, hand, ids[0][0])


def _span(session: Session, hand: PartInHand, pointed: Pointed) -> Span:
    if pointed.words.strip():
        return find_span(hand.part, pointed.words)
    if pointed.first is None or pointed.last is None:
        return whole(hand.part)
    first, last = (get_chunk(session, hand, i).span for i in (pointed.first, pointed.last))
    if last.end <= first.start:
        raise NotAccepted("The last chunk stands before the first.")
    return Span(first.start, last.end)


def sent_beside(
    session: Session, hand: PartInHand, section_id: UUID, view: MapView
) -> tuple[ChunkView, ...]:
    """Passages a section was sent that are no chunks of its map, in the order of the part."""
    known = {chunk.id for chunk in view.chunks}
    spans = {(chunk.span.start, chunk.span.end) for chunk in view.chunks}
    ids = [i for i in ask.chunks_sent_to(session, hand.row.id, section_id) if i not in known]
    found = (c for c in chunks_of(session, hand, ids) if (c.span.start, c.span.end) not in spans)
    return tuple(sorted(found, key=lambda chunk: (chunk.span.start, chunk.span.end)))
