"""Style of a passage: the director writes it, students read it before their first take."""

from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, get_chunk, span_of
from crumb.store.queries import tasks as ask


@dataclass(frozen=True, slots=True)
class StyleView:
    """A note on the style of a passage; ``label`` says where it holds."""

    chunk_id: UUID
    label: str
    text: str


def say(session: Session, actor: Actor, part_id: UUID, chunk_id: UUID, text: str) -> None:
    """Say how a passage is to be played; with no words nothing is said any more.

    Raises:
        NotFound: no such part or chunk.
    """
    chunk = get_chunk(session, load_part(session, actor, part_id), chunk_id)
    ask.set_style(session, part_id, chunk.id, text.strip(), actor.person_id)


def of(session: Session, hand: PartInHand, chunk: ChunkView) -> list[StyleView]:
    """Notes on the style of a chunk or of any passage that shares music with it."""
    return [
        StyleView(row.id, get_chunk(session, hand, row.id).label, brief.text)
        for brief, row in ask.styles_of(session, hand.row.id)
        if span_of(row).touches(chunk.span)
    ]
