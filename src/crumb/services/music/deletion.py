"""Delete a piece: say first what hangs on it; for a week it can be brought back."""

from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from functools import partial
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.library.pieces import get_piece
from crumb.store.files import FileStore
from crumb.store.queries import erasing, locks, pieces
from crumb.store.queries.erasing import Hanging
from crumb.store.tables import Piece
from crumb.store.unit_of_work import after_commit

KEPT_FOR = timedelta(days=7)


def what_hangs(session: Session, actor: Actor, piece_id: UUID) -> Hanging:
    """Rows that deletion of a piece would delete or keep.

    Raises:
        NotFound: not here.
    """
    get_piece(session, actor, piece_id)
    return erasing.hanging_on(session, pieces.with_earlier(session, piece_id))


def take_away(session: Session, actor: Actor, piece_id: UUID, *, erase_evidence: bool) -> None:
    """Take a piece and its earlier versions away; within a week it can be brought back.

    Args:
        session: the request's.
        actor: the director.
        piece_id: which.
        erase_evidence: whether what was played on it goes with it after that week.

    Raises:
        NotFound: not here.
    """
    get_piece(session, actor, piece_id)
    everything = pieces.with_earlier(session, piece_id)
    now = datetime.now(UTC)
    pieces.mark_taken_away(session, everything, now, erases_evidence=erase_evidence)


def bring_back(session: Session, actor: Actor, piece_id: UUID) -> None:
    """Bring a piece back that was taken away.

    Raises:
        NotFound: it is not there any more.
    """
    if all(piece.id != piece_id for piece in _still_there(session, actor)):
        raise NotFound("This piece cannot be brought back any more.")
    everything = pieces.with_earlier(session, piece_id)
    pieces.mark_taken_away(session, everything, None, erases_evidence=False)


def taken_away(session: Session, actor: Actor) -> list[Piece]:
    """Pieces that can still be restored, latest first."""
    return [piece for piece in _still_there(session, actor) if piece.replaced_by_id is None]


def _still_there(session: Session, actor: Actor) -> Sequence[Piece]:
    return pieces.taken_away(session, actor.program_id, datetime.now(UTC) - KEPT_FOR)


def erase(
    session: Session, files: FileStore, takes: FileStore, piece_id: UUID, moment: datetime
) -> bool:
    """Erase a piece that was taken away before a moment; whether it was there.

    Where evidence is kept, so are the names of the piece and its parts, the chunks and what was
    sent: all that evidence points at. The music itself goes in any case.
    """
    piece = pieces.to_erase(session, piece_id, moment)
    if piece is None:
        return False
    parts = erasing.parts_of(session, [piece.id])
    locks.have_parts(session, parts)
    key = piece.file_key
    for sound in erasing.erase_takes(session, parts):
        after_commit(session, partial(takes.forget, sound))
    erasing.erase_music(session, piece, parts)
    if piece.erases_evidence:
        erasing.erase_evidence(session, piece, parts)
    session.flush()
    if not pieces.is_file_used(session, key):
        after_commit(session, partial(files.forget, key))
    return True
