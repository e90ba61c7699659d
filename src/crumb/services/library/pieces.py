"""Pieces and parts as they are kept."""

from dataclasses import dataclass, replace
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import NoNotation
from crumb.core.instruments.table import Instrument, instrument_named, instrument_of
from crumb.core.pages.part import with_printed
from crumb.core.score.glance import main_beat
from crumb.core.score.model import Part
from crumb.core.score.page_map import PageMap, with_page_map
from crumb.formats.musicxml.reader import read_part
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.lru_cache import LruCache
from crumb.store.codecs.pages import places_from_json
from crumb.store.queries import locks
from crumb.store.queries import pieces as ask
from crumb.store.tables import Piece, PiecePart


@dataclass(frozen=True, slots=True)
class PartInHand:
    """A stored part with its notation read."""

    row: PiecePart
    part: Part

    @property
    def beat(self) -> Fraction:
        """The beat the goal tempo counts, in quarter notes: that of the first full measure."""
        return main_beat(self.part)

    @property
    def instrument(self) -> Instrument:
        """The instrument: the director's word, else the notation's."""
        if self.row.played_on:
            return instrument_named(self.row.played_on)
        return instrument_of(self.part)


_parts: LruCache[tuple[UUID, str, str], Part] = LruCache(256)
"""Parts read last. Notation never changes, so they stay true."""


def _read(session: Session, row: PiecePart) -> Part:
    """The notation of a row, played on what the row says: that is the one truth about it."""
    key = (row.id, row.played_on, repr(row.page_map))
    known = _parts.get(key)
    if known is not None:
        return known
    notation = ask.notation_of(session, row.id)
    if not notation:
        raise NoNotation("This piece was deleted. What students played on it is kept.")
    part = read_part(notation.encode())
    if row.played_on:
        part = replace(part, instrument=row.played_on)
    if row.page_map is not None:
        lines, pages = (row.page_map.get(name, []) for name in ("lines", "pages"))
        part = with_page_map(part, PageMap(tuple(lines), tuple(pages)))
    if row.on_pages is not None:
        part = with_printed(part, places_from_json(row.on_pages))
    return _parts.keep(key, part)


def list_pieces(session: Session, actor: Actor) -> list[tuple[Piece, list[PiecePart]]]:
    """Pieces of the program as they stand, newest first, each with its parts in score order."""
    by_piece: dict[UUID, list[PiecePart]] = {}
    for part in ask.parts_of(session, actor.program_id):
        by_piece.setdefault(part.piece_id, []).append(part)
    found = ask.pieces_of(session, actor.program_id)
    return [(piece, by_piece.get(piece.id, [])) for piece in found]


def piece_with_parts(
    session: Session, actor: Actor, piece_id: UUID
) -> tuple[Piece, list[PiecePart]]:
    """A piece with its parts in score order.

    Raises:
        NotFound: not here.
    """
    return get_piece(session, actor, piece_id), list(ask.parts_in(session, piece_id))


def get_piece(session: Session, actor: Actor, piece_id: UUID) -> Piece:
    """A piece of the program.

    Raises:
        NotFound: not here.
    """
    piece = ask.piece_of(session, actor.program_id, piece_id)
    if piece is None:
        raise NotFound("There is no such piece.")
    return piece


def load_part(
    session: Session, actor: Actor, part_id: UUID, *, for_change: bool = False
) -> PartInHand:
    """A part of the program, locked until the transaction ends if it is to be changed.

    Raises:
        NotFound: not here.
    """
    if for_change:
        locks.have_part(session, part_id)
    row = ask.part_of(session, actor.program_id, part_id, for_change=for_change)
    if row is None:
        raise NotFound("There is no such part.")
    return PartInHand(row, _read(session, row))


def load_kept(session: Session, part_id: UUID) -> PartInHand:
    """A part by its id alone, for work that belongs to no person."""
    row = ask.any_part(session, part_id)
    return PartInHand(row, _read(session, row))


def check_goal(goal: Fraction) -> Fraction:
    """A goal tempo somebody can play.

    Raises:
        NotAccepted: outside 20 to 300.
    """
    if not 20 <= goal <= 300:
        raise NotAccepted("A goal tempo lies between 20 and 300 beats a minute.")
    return goal
