"""Technique tags of chunks: found, said by hand, and searched over a program's music."""

from collections.abc import Sequence
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.survey.tags import TAGS, tags_found, with_hand
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.library.pieces import PartInHand, list_pieces, load_part
from crumb.services.library.surveys import survey_of
from crumb.services.maps.chunks import ChunkView, get_chunk, view_map
from crumb.store.queries import tags as queries

_MOST_FOUND = 200


@dataclass(frozen=True, slots=True)
class Tagged:
    """A chunk with its tags; those in ``by_hand`` were said by a person."""

    chunk: ChunkView
    tags: tuple[str, ...]
    by_hand: frozenset[str]


@dataclass(frozen=True, slots=True)
class Found:
    """A chunk that has a tag, and where it is."""

    piece: str
    part_id: UUID
    part: str
    chunk: ChunkView


def tagged(session: Session, hand: PartInHand, chunks: Sequence[ChunkView]) -> list[Tagged]:
    """Chunks of a part with their tags."""
    said = queries.said_of(session, [chunk.id for chunk in chunks])
    measures = survey_of(hand).measures
    return [
        Tagged(
            chunk,
            tuple(with_hand(tags_found(hand.part, measures, chunk.span), said[chunk.id])),
            frozenset(tag for tag, is_on in said[chunk.id].items() if is_on),
        )
        for chunk in chunks
    ]


def of_chunk(session: Session, actor: Actor, part_id: UUID, chunk_id: UUID) -> Tagged:
    """A chunk of a part, of whatever map and depth, with its tags.

    Raises:
        NotFound: not here.
    """
    hand = load_part(session, actor, part_id)
    return tagged(session, hand, [get_chunk(session, hand, chunk_id)])[0]


def say(
    session: Session, actor: Actor, part_id: UUID, chunk_id: UUID, tag: str, *, is_on: bool
) -> Tagged:
    """Add a tag to a chunk or take it off, whatever the survey finds.

    Raises:
        NotFound: no such chunk.
        NotAccepted: no such tag.
    """
    _check(tag)
    hand = load_part(session, actor, part_id)
    chunk = get_chunk(session, hand, chunk_id)
    queries.say(session, chunk.id, tag, actor.person_id, is_on=is_on)
    return tagged(session, hand, [chunk])[0]


def _check(tag: str) -> None:
    if tag not in TAGS:
        raise NotAccepted("There is no such technique.")


def search(session: Session, actor: Actor, tag: str) -> list[Found]:
    """Chunks of all music of the program that have a tag, newest piece first.

    Raises:
        NotAccepted: no such tag.
    """
    _check(tag)
    found: list[Found] = []
    for piece, rows in list_pieces(session, actor):
        for row in rows:
            if row.is_set_aside:
                continue
            hand = load_part(session, actor, row.id)
            here = tagged(session, hand, view_map(session, hand).chunks)
            found.extend(
                Found(piece.title, row.id, row.name, one.chunk) for one in here if tag in one.tags
            )
            if len(found) >= _MOST_FOUND:
                return found[:_MOST_FOUND]
    return found
