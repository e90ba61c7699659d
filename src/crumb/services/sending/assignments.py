"""Sending chunks and drills to sections, or to some of their players."""

from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.score.position import Span
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.services.evidence import levels
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import keep_chunks, known_chunk
from crumb.services.music.versions import keep
from crumb.services.sending.assignment_request import AssignmentRequest, requested_groups
from crumb.services.sending.recipients import ReceivedItem, RecipientGroup
from crumb.services.sending.snapshot import store_snapshot
from crumb.store.queries import locks
from crumb.store.tables import Assignment, AssignmentItem, AssignmentStudent


def send(session: Session, actor: Actor, wish: AssignmentRequest, today: date) -> UUID:
    """Store the assignments of one sending; from now on their students see them.

    Returns:
        The sending's id.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    found = requested_groups(session, actor, wish, today)
    original = load_part(session, actor, wish.part_id)
    sending_id, now = uuid4(), datetime.now(UTC)
    sent = 0
    for bundle in found:
        receivers = [s for s, _ in bundle.students if s not in wish.left_out]
        if not receivers or not bundle.items:
            continue
        keep(session, original, bundle.reading)
        _store(session, actor, wish, bundle, (sending_id, now), receivers)
        sent += len(receivers)
    if not sent:
        names = " or ".join(bundle.section.name for bundle in found[:3])
        raise NotAccepted(f"No student of {names} is left to send this to.")
    return sending_id


def _store(
    session: Session,
    actor: Actor,
    wish: AssignmentRequest,
    bundle: RecipientGroup,
    sending: tuple[UUID, datetime],
    receivers: Sequence[UUID],
) -> None:
    assignment = Assignment(
        id=uuid4(),
        sending_id=sending[0],
        exception=bundle.exception,
        program_id=actor.program_id,
        part_id=bundle.reading.row.id,
        section_id=bundle.section.id,
        due_on=bundle.due_on,
        minutes_a_day=wish.minutes_a_day,
        sent_at=sending[1],
        withdrawn_at=None,
    )
    store(session, assignment, receivers)
    for place, item in enumerate(bundle.items):
        store_item(session, assignment.id, place, bundle.reading, item)


def store(session: Session, assignment: Assignment, receivers: Iterable[UUID]) -> None:
    """Write down that something is sent, and to whom; its drills follow."""
    session.add(assignment)
    session.flush()
    for student_id in receivers:
        session.add(AssignmentStudent(assignment_id=assignment.id, student_id=student_id))
    session.flush()


def store_item(
    session: Session,
    assignment_id: UUID,
    place: int,
    reading: PartInHand,
    item: ReceivedItem,
    minutes: int | None = None,
) -> AssignmentItem:
    """A drill of an assignment, written down as it is now."""
    row = AssignmentItem(
        id=uuid4(),
        assignment_id=assignment_id,
        place=place,
        chunk_id=chunk_for(session, reading, item.span),
        drill=item.worked.drill.name,
        settings=item.worked.drill.settings,
        start_bpm=item.worked.start,
        goal_bpm=item.worked.goal,
        step_bpm=item.worked.step,
        role=item.role,
        minutes=minutes,
        every=item.every,
        note=item.note[:200],
    )
    session.add(row)
    store_snapshot(session, row, reading.part, item.worked)
    return row


def chunk_for(session: Session, hand: PartInHand, span: Span) -> UUID:
    """The chunk of a part with exactly this span, made if there is none yet.

    Only a new one locks the part: who is going to lock a student calls this before that.
    """
    known = known_chunk(session, hand, span)
    if known is not None:
        return known
    locks.have_part(session, hand.row.id)  # nobody plays what it shall be graded by meanwhile
    ids, made = keep_chunks(session, hand, [[span]])
    levels.refresh_chunks(session, hand, made)
    return ids[0][0]
