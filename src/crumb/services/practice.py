"""What a student does: today's list, the Stand, handing in repetitions."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.core.drills.ranking import DAYS_RUNNING, must_rest
from crumb.core.plan.sharing import WORTH_STARTING, share_seconds
from crumb.core.tempo.climb import Climb, Played, climb
from crumb.services import standings
from crumb.services.assigning import items_of, worked_item
from crumb.services.bench import Worked
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.marking import marked_hand
from crumb.services.music import PartInHand, load_part
from crumb.services.splitting import ChunkView, get_chunk
from crumb.services.who import Who
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Mastery,
    Piece,
    RepetitionRow,
    Retraction,
)

CLOCK_SLACK = timedelta(days=1)
"""How far a device's clock may be ahead before a repetition is refused."""


@dataclass(frozen=True, slots=True)
class TodayItem:
    """One line of today's list."""

    item: AssignmentItem
    title: str
    part_name: str
    chunk: ChunkView
    worked: Worked
    climb: Climb
    seconds: int
    due_on: date
    level: int
    rests: bool = False
    """Done on two days running while something else on its chunk is open: it waits a day."""


@dataclass(frozen=True, slots=True)
class StandView:
    """Everything the Stand needs for one item."""

    line: TodayItem
    hand: PartInHand


@dataclass(frozen=True, slots=True)
class RepetitionIn:
    """One repetition as a device hands it in."""

    id: UUID
    item_id: UUID
    step: int
    tempo: Fraction
    is_clean: bool
    played_at: datetime


def today(session: Session, who: Who, on: date) -> list[TodayItem]:
    """What is open for the student, in the director's order, earliest due date first.

    Each assignment's minutes a day are shared out by what each drill still takes; a finished
    drill takes none. An assignment stays on the list after its date: what was missed is carried
    over.
    """
    assignments = session.scalars(
        select(Assignment)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .where(
            AssignmentStudent.student_id == who.person_id,
            Assignment.program_id == who.program_id,
            Assignment.withdrawn_at.is_(None),
            Assignment.due_on >= on - timedelta(days=14),
        )
        .order_by(Assignment.due_on, Assignment.sent_at)
    ).all()
    lines: list[TodayItem] = []
    for assignment in assignments:
        lines.extend(_lines(session, who, assignment, on=on))
    return lines


def _lines(
    session: Session,
    who: Who,
    assignment: Assignment,
    *,
    on: date | None = None,
    also: UUID | None = None,
) -> list[TodayItem]:
    """The drills of an assignment, focus first; ``also`` one that was taken out of it."""
    hand = marked_hand(session, who, load_part(session, who, assignment.part_id))
    title = session.scalar(select(Piece.title).where(Piece.id == hand.row.piece_id)) or ""
    items = sorted(items_of(session, assignment.id), key=lambda item: item.role != "focus")
    if also is not None and all(item.id != also for item in items):
        items.append(session.get_one(AssignmentItem, also))
    worked = [worked_item(session, hand, item) for item in items]
    climbs = [
        climb(made.plan, played_on(session, item.id, who.person_id))
        for item, made in zip(items, worked, strict=True)
    ]
    finished = [state.is_finished for state in climbs]
    resting = _resting(session, who, items, finished, on) if on else frozenset()
    needs = [
        Fraction(0) if state.is_finished or item.id in resting else made.seconds_left(state.tempo)
        for item, made, state in zip(items, worked, climbs, strict=True)
    ]
    shares = share_seconds(assignment.minutes_a_day * 60, needs, least=WORTH_STARTING)
    levels = {
        m.chunk_id: m.level
        for m in session.scalars(select(Mastery).where(Mastery.student_id == who.person_id))
    }
    return [
        TodayItem(
            item=item,
            title=title,
            part_name=hand.row.name,
            chunk=get_chunk(session, hand, item.chunk_id),
            worked=made,
            climb=state,
            seconds=seconds,
            due_on=assignment.due_on,
            level=levels.get(item.chunk_id, 0),
            rests=item.id in resting,
        )
        for item, made, state, seconds in zip(items, worked, climbs, shares, strict=True)
    ]


def _resting(
    session: Session,
    who: Who,
    items: Sequence[AssignmentItem],
    finished: Sequence[bool],
    on: date,
) -> frozenset[UUID]:
    """Drills done on the last two days while another one on the same chunk is still open."""
    open_items = [item for item, done in zip(items, finished, strict=True) if not done]
    chunks = Counter(item.chunk_id for item in open_items)
    crowded = [item for item in open_items if chunks[item.chunk_id] > 1]
    if not crowded:
        return frozenset()
    since = datetime.combine(on - timedelta(days=DAYS_RUNNING + 1), datetime.min.time(), UTC)
    days: dict[UUID, list[tuple[str, date]]] = {}
    played = session.execute(
        select(RepetitionRow.chunk_id, AssignmentItem.drill, func.date(RepetitionRow.played_at))
        .join(AssignmentItem, AssignmentItem.id == RepetitionRow.item_id)
        .where(
            RepetitionRow.student_id == who.person_id,
            RepetitionRow.chunk_id.in_({item.chunk_id for item in crowded}),
            RepetitionRow.played_at >= since,
        )
        .distinct()
    )
    for chunk_id, drill, day in played:
        days.setdefault(chunk_id, []).append((drill, day))
    tired = {i.id for i in crowded if must_rest(days.get(i.chunk_id, ()), i.drill, on)}
    # One on each chunk is always left to do.
    awake = {item.chunk_id for item in crowded if item.id not in tired}
    return frozenset(item.id for item in crowded if item.id in tired and item.chunk_id in awake)


def played_on(session: Session, item_id: UUID, student_id: UUID) -> list[Played]:
    """What a student played on an item and did not take back, as the climb sees it."""
    rows = session.scalars(
        select(RepetitionRow)
        .outerjoin(Retraction, Retraction.repetition_id == RepetitionRow.id)
        .where(
            RepetitionRow.item_id == item_id,
            RepetitionRow.student_id == student_id,
            Retraction.repetition_id.is_(None),
        )
        .order_by(RepetitionRow.played_at, RepetitionRow.id)
    )
    return [
        Played(
            step=row.step,
            tempo=row.tempo_bpm,
            is_clean=row.is_clean,
            at=Fraction(int(row.played_at.timestamp() * 1000), 1000),
        )
        for row in rows
    ]


def stand(session: Session, who: Who, item_id: UUID) -> StandView:
    """One item for practising.

    Raises:
        NotFound: the student was not sent it.
    """
    assignment = _my_assignment(session, who, item_id)
    for line in _lines(session, who, assignment, also=item_id):
        if line.item.id == item_id:
            return StandView(line, load_part(session, who, assignment.part_id))
    raise NotFound("This is not on your list.")


def _my_assignment(session: Session, who: Who, item_id: UUID) -> Assignment:
    assignment = session.scalar(
        select(Assignment)
        .join(AssignmentItem, AssignmentItem.assignment_id == Assignment.id)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .where(
            AssignmentItem.id == item_id,
            AssignmentStudent.student_id == who.person_id,
            Assignment.program_id == who.program_id,
        )
    )
    if assignment is None:
        raise NotFound("This is not on your list.")
    return assignment


def record(session: Session, who: Who, handed_in: Sequence[RepetitionIn]) -> list[TodayItem]:
    """Store repetitions and bring levels up to date, in one transaction.

    What the step was (kind, span, as written) is read from the assignment, not taken from the
    device. Handing in the same repetition again changes nothing.

    Returns:
        The items played on, as they stand now.

    Raises:
        NotFound: an item the student was not sent.
        NotAccepted: a step, tempo or time that cannot be.
    """
    by_item: dict[UUID, list[RepetitionIn]] = {}
    for repetition in handed_in:
        by_item.setdefault(repetition.item_id, []).append(repetition)
    for item_id, repetitions in by_item.items():
        assignment = _my_assignment(session, who, item_id)
        hand = load_part(session, who, assignment.part_id)
        item = session.get_one(AssignmentItem, item_id)
        worked = worked_item(session, hand, item)
        for repetition in repetitions:
            _store(session, who, hand, item, worked, repetition)
        spans = [worked.drill.steps[r.step].covers for r in repetitions]
        standings.refresh_student(session, hand.row, who.person_id, spans)
    session.commit()
    return [stand(session, who, item_id).line for item_id in by_item]


def _store(
    session: Session,
    who: Who,
    hand: PartInHand,
    item: AssignmentItem,
    worked: Worked,
    repetition: RepetitionIn,
) -> None:
    if not 0 <= repetition.step < len(worked.drill.steps):
        raise NotAccepted("This drill has no such step.")
    if not 10 <= repetition.tempo <= 400:
        raise NotAccepted("A tempo lies between 10 and 400 beats a minute.")
    if repetition.played_at > datetime.now(UTC) + CLOCK_SLACK:
        raise NotAccepted("This device's clock is ahead: set its date and time.")
    step = worked.drill.steps[repetition.step]
    session.execute(
        insert(RepetitionRow)
        .values(
            id=repetition.id,
            program_id=who.program_id,
            student_id=who.person_id,
            part_id=hand.row.id,
            chunk_id=item.chunk_id,
            item_id=item.id,
            step=repetition.step,
            step_name=step.name[:80],
            kind=step.kind,
            as_written=step.as_written,
            start_index=step.covers.start.index,
            start_at=step.covers.start.at,
            end_index=step.covers.end.index,
            end_at=step.covers.end.at,
            tempo_bpm=repetition.tempo,
            is_clean=repetition.is_clean,
            played_at=repetition.played_at,
        )
        .on_conflict_do_nothing(index_elements=["id"])
    )
    owner = session.scalar(
        select(RepetitionRow.student_id).where(RepetitionRow.id == repetition.id)
    )
    if owner != who.person_id:
        raise NotAccepted("This repetition has the mark of another one; play it again.")


def retract(session: Session, who: Who, repetition_id: UUID) -> TodayItem:
    """Take one of one's own repetitions back; the record of it stays.

    Raises:
        NotFound: no such repetition of this student.
    """
    row = session.get(RepetitionRow, repetition_id)
    if row is None or row.student_id != who.person_id:
        raise NotFound("There is no such repetition to take back.")
    session.execute(
        insert(Retraction)
        .values(repetition_id=row.id, retracted_at=datetime.now(UTC))
        .on_conflict_do_nothing(index_elements=["repetition_id"])
    )
    hand = load_part(session, who, row.part_id)
    standings.refresh_student(session, hand.row, who.person_id, [standings.evidence_of(row).span])
    session.commit()
    return stand(session, who, row.item_id).line
