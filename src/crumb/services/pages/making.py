"""Make a piece of a set of pages, or a new version of the piece that was made of it before."""

from collections.abc import Sequence
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.instruments.table import instrument_named
from crumb.core.pages.part import OfPage, part_of_pages
from crumb.core.score.model import Part, Score
from crumb.formats.musicxml.writer import write_part
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.library.pieces import check_goal, get_piece
from crumb.services.music.imports import store_score
from crumb.services.pages.mending import parts_of
from crumb.services.pages.page_sets import get_set
from crumb.store.codecs.pages import measures_from_json
from crumb.store.files import FileStore
from crumb.store.queries import locks, pieces, seats
from crumb.store.queries import pages as ask
from crumb.store.tables import PageRow, PageSet, Piece


def make_piece(
    session: Session,
    files: FileStore,
    actor: Actor,
    set_id: UUID,
    *,
    title: str,
    composer: str,
    goal: Fraction,
) -> Piece:
    """The piece that the pages are.

    Where one was made of them before, this is its next version: what was sent and played moves to
    the measures that are still there.

    Raises:
        NotFound: no such set.
        NotAccepted: pages are still being read, or no page is in it; or a goal that cannot be.
        BadSetting: a part has no measure.
    """
    row = get_set(session, actor, set_id, for_change=True)
    pages = ask.pages_of(session, row.id)
    if not pages or any(page.measures is None for page in pages):
        raise NotAccepted("These pages are still being read. Wait until they are.")
    found = parts_of(pages)
    if not found:
        raise NotAccepted("Every page is left out. Take at least one in.")
    check_goal(goal)
    parts = [_part(own, name, goal) for name, own in found]
    score = Score(title, composer, tuple(parts))
    data = write_part(parts[0], title=title, composer=composer).encode()
    before = _replaced(session, actor, row)
    piece = store_score(
        session, files, actor, score=score, file_name=_name_of(row), data=data, replaces=before
    )
    piece.title, piece.composer = title[:200], composer[:200]
    row.title, row.composer, row.piece_id = piece.title, piece.composer, piece.id
    _seat(session, piece, [own[0] for _, own in found])
    session.flush()
    return piece


def _replaced(session: Session, actor: Actor, row: PageSet) -> UUID | None:
    """The piece that was made of the set before, unless it was deleted meanwhile."""
    if row.piece_id is None:
        return None
    piece = pieces.piece_of(session, actor.program_id, row.piece_id)
    if piece is None:
        return None
    get_piece(session, actor, piece.id)
    locks.have_parts(session, [part.id for part in pieces.parts_in(session, piece.id)])
    return piece.id if piece.replaced_by_id is None else None


def _part(own: Sequence[PageRow], name: str, goal: Fraction) -> Part:
    begins = own[0].begins or {}
    played_on = str(begins.get("played_on") or instrument_named(name).name)
    measures = [
        OfPage(measure, page.picture, place)
        for place, page in enumerate(own)
        for measure in measures_from_json(page.measures or [])
    ]
    return part_of_pages(name, instrument=played_on, measures=measures, goal=goal)


def _name_of(row: PageSet) -> str:
    return str(row.sources[0]["name"]) if row.sources else "pages"


def _seat(session: Session, piece: Piece, firsts: Sequence[PageRow]) -> None:
    """The section that the director gave each part to."""
    for part, page in zip(pieces.parts_in(session, piece.id), firsts, strict=True):
        section = (page.begins or {}).get("section_id")
        if section is not None:
            seats.put(session, part.id, [UUID(section)])
