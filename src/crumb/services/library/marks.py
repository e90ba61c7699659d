"""Marks in a part: who may write which, who sees which, taking away and bringing back."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.score.marks import PartMark, checked, marked
from crumb.core.score.position import Position
from crumb.core.vocabulary import MarkLayer, Permission
from crumb.services.access import Actor
from crumb.services.errors import NotAllowed, NotFound
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.people.roster import get_section, sections_of
from crumb.store.queries import marks as ask
from crumb.store.queries import people, sending
from crumb.store.tables import Mark


@dataclass(frozen=True, slots=True)
class MarkWish:
    """A mark as somebody wants it. ``section_id``: for one section only."""

    kind: str
    text: str
    index: int
    at: Fraction
    section_id: UUID | None = None
    as_leader: bool = False


def part_for(session: Session, actor: Actor, part_id: UUID) -> PartInHand:
    """A part this person may look at: any for a director, those sent to them for a student.

    Raises:
        NotFound: not theirs to see.
    """
    hand = load_part(session, actor, part_id)
    if actor.may(Permission.READ_MUSIC):
        return hand
    if not sending.has_part(session, actor.person_id, part_id):
        raise NotFound("There is no such part.")
    return hand


def list_marks(session: Session, actor: Actor, part_id: UUID) -> list[Mark]:
    """The marks this person sees in a part, front to back.

    Directors see what they and leaders wrote; students what reaches them, and their own.
    """
    if actor.may(Permission.READ_MUSIC):
        rows = ask.shared(session, part_id)
    else:
        sections = sections_of(session, actor.person_id)
        rows = ask.reaching(session, part_id, actor.person_id, sections)
    return sorted(rows, key=lambda m: (m.index, m.at, m.made_at))


def marked_hand(session: Session, actor: Actor, hand: PartInHand) -> PartInHand:
    """The part with the marks this person sees written in."""
    marks = marks_in(session, actor, hand.row.id)
    return replace(hand, part=marked(hand.part, marks)) if marks else hand


def marks_in(session: Session, actor: Actor, part_id: UUID) -> tuple[PartMark, ...]:
    """The marks this person sees in a part, as the score model has them."""
    rows = list_marks(session, actor, part_id)
    return tuple(PartMark(Position(m.index, m.at), m.kind, m.text, m.layer) for m in rows)


def add_mark(session: Session, actor: Actor, part_id: UUID, wish: MarkWish) -> Mark:
    """Write a mark: a director for everybody or a section, a leader for the section, else own.

    Raises:
        BadSetting: no such mark, or no note there.
        NotAllowed: only a leader writes for a section.
    """
    hand = part_for(session, actor, part_id)
    layer, section_id = _layer(session, actor, wish)
    mark = checked(hand.part, PartMark(Position(wish.index, wish.at), wish.kind, wish.text, layer))
    row = Mark(
        id=uuid4(),
        program_id=actor.program_id,
        part_id=part_id,
        section_id=section_id,
        author_id=actor.person_id,
        layer=layer,
        kind=mark.kind,
        text=mark.text,
        index=mark.at.index,
        at=mark.at.at,
    )
    session.add(row)
    session.flush()
    session.refresh(row)
    return row


def _layer(session: Session, actor: Actor, wish: MarkWish) -> tuple[MarkLayer, UUID | None]:
    if actor.may(Permission.KEEP_MUSIC):
        if wish.section_id is not None:
            get_section(session, actor, wish.section_id)
        return MarkLayer.DIRECTOR, wish.section_id
    if not actor.may(Permission.PRACTISE):
        raise NotAllowed("Your account may read what is written, and not write.")
    if not wish.as_leader:
        return MarkLayer.OWN, None
    led = sections_led(session, actor)
    wanted = wish.section_id or next(iter(led), None)
    if wanted not in led:
        raise NotAllowed("Only the leader of a section may write for it.")
    return MarkLayer.LEADER, wanted


def sections_led(session: Session, actor: Actor) -> list[UUID]:
    """The sections that a student leads."""
    return people.sections_led(session, actor.person_id)


def leads(session: Session, actor: Actor) -> bool:
    """Whether a student leads a section."""
    return bool(sections_led(session, actor))


def take_away(session: Session, actor: Actor, mark_id: UUID, *, back: bool = False) -> Mark:
    """Take a mark away, or bring it back. One's own; a director also a leader's.

    Raises:
        NotFound: not theirs.
    """
    row = ask.mark_of(session, actor.program_id, mark_id)
    may = row is not None and (
        row.author_id == actor.person_id
        or (actor.may(Permission.KEEP_MUSIC) and row.layer != MarkLayer.OWN)
    )
    if row is None or not may:
        raise NotFound("There is no such mark.")
    row.removed_at = None if back else datetime.now(UTC)
    return row
