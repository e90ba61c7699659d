"""A section leader's counts: how many of the students who agreed have each chunk, never who.

Every player decides for themselves, and can take it back; until then nothing is shown.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.score_overview.leader_counts import counted
from crumb.services.access import Actor
from crumb.services.errors import NotFound
from crumb.services.library.pieces import PartInHand, get_piece
from crumb.services.maps.chunks import ChunkView
from crumb.services.wall import grid
from crumb.store.queries import leading as ask
from crumb.store.queries.score_overview import seats


@dataclass(frozen=True, slots=True)
class OwnSection:
    """A section one plays in that has a leader: who that is, and whether one shows them."""

    id: UUID
    name: str
    leaders: tuple[str, ...]
    is_led: bool
    """Whether one leads it oneself."""
    shows: bool


@dataclass(frozen=True, slots=True)
class ChunkShown:
    """A chunk, and how many of those who show it stand at tempo on it."""

    label: str
    have: int


@dataclass(frozen=True, slots=True)
class PartShown:
    """A part of a section that one leads: of how many players the chunks are counted."""

    section: str
    title: str
    part: str
    of: int
    chunks: tuple[ChunkShown, ...]


def own_sections(session: Session, actor: Actor) -> list[OwnSection]:
    """The sections with a leader that a student plays in."""
    found: dict[UUID, list[ask.Led]] = {}
    for row in ask.sections_with_leaders(session, actor.person_id):
        found.setdefault(row.section_id, []).append(row)
    return [
        OwnSection(
            section_id,
            rows[0].section,
            tuple(row.leader for row in rows if row.leader_id != actor.person_id),
            any(row.leader_id == actor.person_id for row in rows),
            rows[0].shows,
        )
        for section_id, rows in found.items()
    ]


def show(session: Session, actor: Actor, section_id: UUID, *, shows: bool) -> None:
    """Let the leader of one's section count oneself, or not any more.

    Raises:
        NotFound: one does not play there.
    """
    if not ask.set_shows(session, actor.person_id, section_id, shows=shows):
        raise NotFound("You do not play in this section.")


def shown(session: Session, actor: Actor, today: date) -> list[PartShown]:
    """Counts of the sections that a student leads, on the leader's own parts."""
    led = [section for section in own_sections(session, actor) if section.is_led]
    if not led:
        return []
    parts = grid.my_parts(session, actor, today)
    return [
        found
        for section in led
        for hand, chunks, _ in parts
        if (found := _shown(session, actor, section, hand, chunks)) is not None
    ]


def _shown(
    session: Session,
    actor: Actor,
    section: OwnSection,
    hand: PartInHand,
    chunks: Sequence[ChunkView],
) -> PartShown | None:
    agreed = [one for one in ask.showing(session, section.id) if one != actor.person_id]
    seated = seats(session, [hand.row.id])
    players = [student for student in agreed if student in seated]
    cells = grid.cells_on(session, hand, players, chunks)
    have = counted([[cells[student, chunk.id].level for chunk in chunks] for student in players])
    if have is None:
        return None
    on = tuple(ChunkShown(chunk.label, n) for chunk, n in zip(chunks, have, strict=True))
    title = get_piece(session, actor, hand.row.piece_id).title
    return PartShown(section.name, title, hand.row.name, len(players), on)
