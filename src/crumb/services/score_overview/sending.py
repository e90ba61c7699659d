"""Send one drill on one passage to many sections, each in its own notation."""

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.score_overview.passages import ScorePassage
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.errors import NotAccepted
from crumb.services.maps import passages
from crumb.services.score_overview.overview import Desk, view
from crumb.services.sending import assignment_request, assignments
from crumb.store.queries import locks


@dataclass(frozen=True, slots=True)
class SentTo:
    """The result for one section: how many students have it, or why it does not fit."""

    section: str
    part: str
    students: int
    why_not: str = ""


@dataclass(frozen=True, slots=True)
class PassageRequest:
    """A passage by its place in the score, the drill, and whom it is for: all who play there."""

    place: int
    drill: str
    due_on: date
    minutes_a_day: int
    section_ids: tuple[UUID, ...] = ()


def send(
    session: Session, actor: Actor, piece_id: UUID, wish: PassageRequest, today: date
) -> list[SentTo]:
    """Send it; a section whose part it does not fit is named, and the others have it all the same.

    Raises:
        NotFound: no such piece.
        NotAccepted: no such passage, nobody plays there, or a date or minutes nobody has.
    """
    assignment_request.check_due(wish.due_on, today)
    assignment_request.check_minutes(wish.minutes_a_day)
    found = view(session, actor, piece_id)
    if not 0 <= wish.place < len(found.passages):
        raise NotAccepted("There is no such passage in this score.")
    here = found.passages[wish.place]
    desks = [found.desks[section.desk] for section in here.sections]
    wanted = [d for d in desks if not wish.section_ids or d.section.id in wish.section_ids]
    if not any(desk.students for desk in wanted):
        raise NotAccepted("Nobody plays there yet. Say first who plays which part.")
    return to_desks(
        session, actor, wanted, here.passage, wish.drill, wish.due_on, wish.minutes_a_day, today
    )


def to_desks(
    session: Session,
    actor: Actor,
    desks: Iterable[Desk],
    passage: ScorePassage,
    drill: str,
    due_on: date,
    minutes_a_day: int,
    today: date,
) -> list[SentTo]:
    """Send one drill on one passage to some desks, together; see :func:`send`."""
    wanted, result = list(desks), []
    locks.have_parts(session, {desk.hand.row.id for desk in wanted})  # all, in their one order
    for desk in wanted:
        name, part = desk.name, desk.hand.row.name
        try:
            with session.begin_nested():
                _to_desk(session, actor, desk, passage, drill, (due_on, minutes_a_day), today)
        except CrumbError as error:
            result.append(SentTo(name, part, 0, str(error)))
        else:
            result.append(SentTo(name, part, len(desk.students)))
    return result


def _to_desk(
    session: Session,
    actor: Actor,
    desk: Desk,
    passage: ScorePassage,
    drill: str,
    until: tuple[date, int],
    today: date,
) -> None:
    part = desk.hand.row
    chunk = passages.keep_span(session, actor, part.id, passage.span)
    item = assignment_request.RequestedItem(
        chunk.id, drill, {}, LadderSettings(None, part.goal_bpm, None)
    )
    wish = assignment_request.AssignmentRequest(
        part.id, (desk.section.id,), *until, (item,), only=frozenset(desk.students)
    )
    assignments.send(session, actor, wish, today)
