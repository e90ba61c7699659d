"""Another drill in place of one that stalls or bores; the student asks for it."""

from datetime import UTC, datetime
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.drills.alternatives import alternatives_for, equivalents
from crumb.core.intake.climbs import climb_of
from crumb.core.vocabulary import ItemRole
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings, work_out
from crumb.services.errors import NotAccepted
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import get_chunk
from crumb.services.practice.stand import my_assignment
from crumb.services.sending.assignments import store, store_item
from crumb.services.sending.recipients import ReceivedItem
from crumb.store.queries import evidence, sending
from crumb.store.tables import Assignment, AssignmentItem

OWN_CHOICE = "own choice"
"""What its assignment is marked with, where directors see what was sent."""


def take(session: Session, actor: Actor, item_id: UUID, drill: str) -> UUID:
    """Send oneself another drill on the same chunk, from the tempo one stands at to the same goal.

    The first one stays where it is: what it asks for is still to be shown. Asked for twice, it is
    there once.

    Returns:
        The new item.

    Raises:
        NotFound: the student was not sent it.
        NotAccepted: a drill that is none of those offered.
        CrumbError: it does not fit the music; says why.
    """
    before = my_assignment(session, actor, item_id)
    item = session.get_one(AssignmentItem, item_id)
    may = {o.kind.name: o for o in (*alternatives_for(item.drill), *equivalents(item.drill))}
    if drill not in may:
        raise NotAccepted("That drill does not stand in this one's place.")
    hand = load_part(session, actor, before.part_id)
    span = get_chunk(session, hand, item.chunk_id).span
    first = sending.drill_of(item)
    climbs = evidence.climbs(session, actor.person_id, [item_id])
    at = climb_of(first.plan, climbs.get(item_id)).climb.tempo
    tempo = LadderSettings(min(at, item.goal_bpm), item.goal_bpm, None, before.minutes_a_day)
    worked = work_out(hand, span, drill, {}, tempo)
    there = sending.sent_as(
        session, actor.person_id, before, chunk_id=item.chunk_id, drill=drill, exception=OWN_CHOICE
    )
    if there is not None:
        return there
    assignment = Assignment(
        id=uuid4(),
        sending_id=uuid4(),
        exception=OWN_CHOICE,
        program_id=actor.program_id,
        part_id=before.part_id,
        section_id=before.section_id,
        due_on=before.due_on,
        minutes_a_day=before.minutes_a_day,
        sent_at=datetime.now(UTC),
        withdrawn_at=None,
    )
    store(session, assignment, [actor.person_id])
    note = f"In place of {first.title}: {may[drill].why}"
    ladder = LadderSettings(worked.start, worked.goal, worked.step)
    got = ReceivedItem(span, "", worked, ladder, ItemRole.FOCUS, note)
    kept = store_item(session, assignment.id, 0, hand, got)
    return kept.id
