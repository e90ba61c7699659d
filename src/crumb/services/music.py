"""Bringing music in, and having it engraved."""

import gzip
from collections import OrderedDict
from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, defer

from crumb.core.score.glance import main_beat
from crumb.core.score.model import Part
from crumb.formats.engraving import Layout, engrave, engraving_key
from crumb.formats.musicxml.reader import read_score
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.who import Who
from crumb.store.tables import Drawing, Piece, PiecePart


@dataclass(frozen=True, slots=True)
class PartInHand:
    """A stored part with its notation read."""

    row: PiecePart
    part: Part

    @property
    def beat(self) -> Fraction:
        """The beat the goal tempo counts, in quarter notes: that of the first full measure."""
        return main_beat(self.part)


@lru_cache(maxsize=256)
def _read(notation: str) -> Part:
    return read_score(notation.encode()).parts[0]


def list_pieces(session: Session, who: Who) -> list[tuple[Piece, list[PiecePart]]]:
    """Pieces of the program as they stand, newest first, each with its parts in score order."""
    pieces = session.scalars(
        select(Piece)
        .where(Piece.program_id == who.program_id, Piece.replaced_by_id.is_(None))
        .order_by(Piece.created_at.desc())
    ).all()
    parts = session.scalars(
        select(PiecePart)
        .where(PiecePart.program_id == who.program_id)
        .order_by(PiecePart.place)
        .options(defer(PiecePart.notation), defer(PiecePart.survey))
    ).all()
    by_piece: dict[UUID, list[PiecePart]] = {}
    for part in parts:
        by_piece.setdefault(part.piece_id, []).append(part)
    return [(piece, by_piece.get(piece.id, [])) for piece in pieces]


def piece_with_parts(session: Session, who: Who, piece_id: UUID) -> tuple[Piece, list[PiecePart]]:
    """A piece with its parts in score order.

    Raises:
        NotFound: not here.
    """
    parts = session.scalars(
        select(PiecePart)
        .where(PiecePart.piece_id == piece_id)
        .order_by(PiecePart.place)
        .options(defer(PiecePart.notation), defer(PiecePart.survey))
    ).all()
    return get_piece(session, who, piece_id), list(parts)


def get_piece(session: Session, who: Who, piece_id: UUID) -> Piece:
    """A piece of the program.

    Raises:
        NotFound: not here.
    """
    piece = session.scalar(
        select(Piece).where(Piece.id == piece_id, Piece.program_id == who.program_id)
    )
    if piece is None:
        raise NotFound("There is no such piece.")
    return piece


def load_part(session: Session, who: Who, part_id: UUID, *, for_change: bool = False) -> PartInHand:
    """A part of the program, locked until the transaction ends if it is to be changed.

    Raises:
        NotFound: not here.
    """
    query = select(PiecePart).where(PiecePart.id == part_id, PiecePart.program_id == who.program_id)
    row = session.scalar(query.with_for_update() if for_change else query)
    if row is None:
        raise NotFound("There is no such part.")
    return PartInHand(row, _read(row.notation))


def check_goal(goal: Fraction) -> Fraction:
    """A goal tempo somebody can play.

    Raises:
        NotAccepted: outside 20 to 300.
    """
    if not 20 <= goal <= 300:
        raise NotAccepted("A goal tempo lies between 20 and 300 beats a minute.")
    return goal


_recent: OrderedDict[str, str] = OrderedDict()
"""Drawings met last in this process; the database keeps them all."""
_MOST_RECENT = 256


def drawing(session: Session, part: Part, layout: Layout) -> str:
    """The engraving of some notation, drawn once and kept."""
    key = engraving_key(part, layout)
    known = _recent.get(key)
    if known is not None:
        return known
    # The column alone: a session that keeps every drawing it met would grow with them.
    kept = session.scalar(select(Drawing.svg).where(Drawing.key == key))
    if kept is not None:
        svg = gzip.decompress(kept).decode()
    else:
        svg = engrave(part, layout)
        packed = gzip.compress(svg.encode(), 6)
        session.execute(insert(Drawing).values(key=key, svg=packed).on_conflict_do_nothing())
        session.commit()
    _recent[key] = svg
    if len(_recent) > _MOST_RECENT:
        _recent.popitem(last=False)
    return svg
