"""A director's assignment request, checked against what can be sent."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.vocabulary import ItemRole
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.errors import NotAccepted
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import get_chunk
from crumb.services.people.roster import SectionView, get_section
from crumb.services.sending.recipients import ItemRequest, RecipientGroup, recipient_groups

MOST_ITEMS = 40
ROLES = tuple(ItemRole)
MOST_EVERY = 7


@dataclass(frozen=True, slots=True)
class RequestedItem:
    """A drill on a chunk, by the chunk's id."""

    chunk_id: UUID
    drill: str
    settings: Mapping[str, object]
    ladder: LadderSettings
    role: str = ItemRole.FOCUS
    every: int = 1
    """For every so-many-th day of practice."""


@dataclass(frozen=True, slots=True)
class AssignmentRequest:
    """A request to send drills to sections by a day; ``only`` narrows it to some students."""

    part_id: UUID
    section_ids: tuple[UUID, ...]
    due_on: date
    minutes_a_day: int
    items: tuple[RequestedItem, ...]
    left_out: frozenset[UUID] = frozenset()
    only: frozenset[UUID] | None = None
    exceptions: Mapping[UUID, str] = field(default_factory=dict)


def check_due(due_on: date, today: date) -> None:
    """Whether something can be due on a day.

    Raises:
        NotAccepted: it is past, or too far off.
    """
    if due_on < today:
        raise NotAccepted("The due date has passed already.")
    if (due_on - today).days > 366:
        raise NotAccepted("The due date is more than a year away.")


def check_minutes(minutes: int) -> None:
    """Whether somebody can be asked for so many minutes a day.

    Raises:
        NotAccepted: nobody can.
    """
    if not 5 <= minutes <= 120:
        raise NotAccepted("Ask for between 5 and 120 minutes a day.")


def item_request(session: Session, hand: PartInHand, item: RequestedItem) -> ItemRequest:
    """A drill on a chunk of a part as it was wished.

    Raises:
        NotFound, NotAccepted: no such chunk, or no such role or days.
    """
    if item.role not in ROLES:
        raise NotAccepted(f"A drill is {' or '.join(ROLES)}.")
    if not 1 <= item.every <= MOST_EVERY:
        raise NotAccepted(f"A drill comes every day of practice, or up to every {MOST_EVERY}th.")
    chunk = get_chunk(session, hand, item.chunk_id)
    return ItemRequest(chunk, item.drill, item.settings, item.ladder, item.role, item.every)


def requested_groups(
    session: Session, actor: Actor, wish: AssignmentRequest, today: date
) -> list[RecipientGroup]:
    """The drills that each group of players gets by a request.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    hand = load_part(session, actor, wish.part_id)
    sections = [get_section(session, actor, section_id) for section_id in wish.section_ids]
    if not sections:
        raise NotAccepted("Choose at least one section.")
    check_due(wish.due_on, today)
    check_minutes(wish.minutes_a_day)
    if not wish.items:
        raise NotAccepted("Choose at least one chunk and a drill for it.")
    if len(wish.items) > MOST_ITEMS:
        raise NotAccepted(f"That is more than {MOST_ITEMS} drills at once; send fewer.")
    items = [item_request(session, hand, item) for item in wish.items]
    found: list[RecipientGroup] = []
    seen: set[UUID] = set()
    for section in sections:
        # Who plays in two of the sections gets it once, in the first that was named.
        chosen = _narrowed(section, wish.only, without=seen)
        if not chosen.students:
            continue
        seen |= {student_id for student_id, _ in chosen.students}
        try:
            found += recipient_groups(
                session,
                actor,
                hand,
                chosen,
                items,
                due_on=wish.due_on,
                exceptions=wish.exceptions,
            )
        except CrumbError as error:
            if len(sections) == 1:
                raise
            raise NotAccepted(f"{section.name}: {error.message}") from error
    if not found:
        raise NotAccepted(f"There is nobody in {sections[0].name} yet.")
    return found


def _narrowed(
    section: SectionView, only: frozenset[UUID] | None, *, without: set[UUID]
) -> SectionView:
    students = tuple(
        s for s in section.students if s[0] not in without and (only is None or s[0] in only)
    )
    return SectionView(section.id, section.name, students)
