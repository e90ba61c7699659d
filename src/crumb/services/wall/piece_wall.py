"""The Wall of a whole piece: everybody who plays in it, by passage."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.mastery.section import section_standing
from crumb.core.rehearsal.planner import PlayerNow
from crumb.core.score_overview.passages import ScorePassage, passages
from crumb.core.score_overview.splitting import plays_in
from crumb.core.score_overview.standing import chunks_of, player_on
from crumb.services.access import Actor
from crumb.services.library.pieces import get_piece
from crumb.services.people.roster import list_sections
from crumb.services.score_overview.overview import Desk, Stood, desks_of, hands_of, stood_by
from crumb.store.tables import Piece


@dataclass(frozen=True, slots=True)
class PlayerRow:
    """A player with where they stand on each passage; None: they rest there."""

    student_id: UUID
    name: str
    on: tuple[PlayerNow | None, ...]


@dataclass(frozen=True, slots=True)
class DeskRows:
    """A section with its part: its players, and each passage's standing in words.

    ``chunks`` are where to look closer: the first chunk of each passage, if it has one.
    """

    desk: Desk
    standings: tuple[str, ...]
    chunks: tuple[UUID | None, ...]
    rows: tuple[PlayerRow, ...]


@dataclass(frozen=True, slots=True)
class PieceWall:
    """Passages of a piece by name, how all who play stand on each, and every section on them."""

    piece: Piece
    passages: tuple[str, ...]
    standings: tuple[str, ...]
    desks: tuple[DeskRows, ...]


def piece_wall(session: Session, actor: Actor, piece_id: UUID) -> PieceWall:
    """Everybody on every passage: a player stands there as on the weakest chunk of it.

    Raises:
        NotFound: no such piece.
    """
    piece = get_piece(session, actor, piece_id)
    hands = hands_of(session, actor, piece_id)
    found = passages([hand.part for hand in hands])
    desks = desks_of(session, actor, hands)
    stood = stood_by(session, desks)
    names = {
        student: name
        for section in list_sections(session, actor)
        for student, name in section.students
    }
    rows = tuple(_rows(desk, found, stood, names) for desk in desks)
    players = [row for desk in rows for row in desk.rows]
    return PieceWall(
        piece, tuple(passage.name for passage in found), _standings(players, len(found)), rows
    )


def _standings(players: Sequence[PlayerRow], passages: int) -> tuple[str, ...]:
    return tuple(
        section_standing([one.level for row in players if (one := row.on[place]) is not None])
        for place in range(passages)
    )


def _rows(
    desk: Desk, found: Sequence[ScorePassage], stood: Stood, names: Mapping[UUID, str]
) -> DeskRows:
    spans = [chunk.span for chunk in desk.chunks]
    places = [
        chunks_of(spans, passage) if plays_in(desk.hand.part, passage) else None
        for passage in found
    ]
    ids = [None if p is None else [desk.chunks[i].id for i in p] for p in places]
    here = [None if chunks is None else stood.on(chunks) for chunks in ids]
    rows = tuple(
        PlayerRow(
            student,
            names[student],
            tuple(None if of is None else player_on(of(student)) for of in here),
        )
        for student in desk.students
    )
    return DeskRows(
        desk,
        _standings(rows, len(found)),
        tuple(chunks[0] if chunks else None for chunks in ids),
        rows,
    )
