"""The page map and a piece's objectives; the director says both."""

from collections.abc import Sequence
from dataclasses import asdict
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.score.page_map import PageMap, read_page_map
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.library import pieces
from crumb.services.library.pieces import PartInHand
from crumb.store.tables import Piece

MOST_OBJECTIVES = 3
_MOST_LETTERS = 80


def set_page_map(
    session: Session, actor: Actor, part_id: UUID, lines: str, pages: str
) -> PartInHand:
    """Say where the lines and pages of a part start; nothing at all: as the file says.

    Raises:
        NotFound: not here.
        CrumbError: no such measure.
    """
    hand = pieces.load_part(session, actor, part_id, for_change=True)
    said = read_page_map(hand.part, lines, pages)
    named = {name: list(indexes) for name, indexes in asdict(said).items()}
    hand.row.page_map = named if said != PageMap() else None
    return pieces.load_part(session, actor, part_id)


def set_objectives(session: Session, actor: Actor, piece_id: UUID, said: Sequence[str]) -> Piece:
    """Say what a piece is about, in three lines at most.

    Raises:
        NotFound: not here.
        NotAccepted: too many or too long.
    """
    piece = pieces.get_piece(session, actor, piece_id)
    lines = [line for line in (" ".join(one.split()) for one in said) if line]
    if len(lines) > MOST_OBJECTIVES:
        raise NotAccepted("Three objectives at most: nobody keeps more in mind.")
    if any(len(line) > _MOST_LETTERS for line in lines):
        raise NotAccepted(f"An objective holds {_MOST_LETTERS} letters at most.")
    piece.objectives = lines
    return piece
