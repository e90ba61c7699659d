"""Today's list: what is open for a student, in order, with minutes."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from fractions import Fraction
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.drills.ranking import DAYS_RUNNING, must_rest
from crumb.core.drills.sent import SentDrill
from crumb.core.intake.climbs import climb_of
from crumb.core.mastery.levels import AT_TEMPO
from crumb.core.plan.days import CARRIED_OVER, is_due_again
from crumb.core.plan.minute_shares import WORTH_STARTING, share_seconds
from crumb.core.tempo.climb import Climb
from crumb.core.vocabulary import ItemRole
from crumb.services.access import Actor
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, chunks_of
from crumb.store.queries import evidence as kept
from crumb.store.queries import mastery as ask
from crumb.store.queries import sending
from crumb.store.queries.pieces import title_of
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
)


@dataclass(frozen=True, slots=True)
class TodayItem:
    """A line of today's list; ``drill`` is as it was sent, without its steps."""

    item: AssignmentItem
    title: str
    part_name: str
    chunk: ChunkView
    drill: SentDrill
    climb: Climb
    seconds: int
    due_on: date
    level: int
    is_at_goal: bool = False
    """Its chunk stands at goal tempo, and no cold check is due: no minutes go there."""
    waits: bool = False
    """It is for every so-many-th day of practice, and today is not one: no minutes go there."""
    rests: bool = False
    """Done on two days running while something else on its chunk is open: it waits a day."""


def today(session: Session, actor: Actor, on: date) -> list[TodayItem]:
    """Open drills that were sent by hand, earliest due date first.

    Each assignment's minutes a day are shared out by what each drill still takes; a finished
    drill takes none. An assignment stays on the list after its date: what was missed is carried
    over.
    """
    since = on - CARRIED_OVER
    assignments = sending.open_for(session, actor.program_id, actor.person_id, since)
    items = sending.items_of(session, [a.id for a in assignments])
    lines: list[TodayItem] = []
    for assignment in assignments:
        lines.extend(lines_of(session, actor, assignment, items[assignment.id], on=on))
    return lines


def lines_of(
    session: Session,
    actor: Actor,
    assignment: Assignment,
    items: Sequence[AssignmentItem],
    *,
    on: date | None = None,
) -> list[TodayItem]:
    """The drills of an assignment, focus first."""
    hand = load_part(session, actor, assignment.part_id)
    title = title_of(session, hand.row.piece_id)
    items = sorted(items, key=lambda item: item.role != ItemRole.FOCUS)
    drills = [sending.drill_of(item) for item in items]
    stored = kept.climbs(session, actor.person_id, [item.id for item in items])
    states = [
        climb_of(drill.plan, stored.get(item.id)).climb
        for item, drill in zip(items, drills, strict=True)
    ]
    finished = [state.is_finished for state in states]
    resting = _resting(session, actor, items, finished, on) if on else frozenset()
    waiting = _waiting(session, actor, assignment.part_id, items, on) if on else frozenset()
    chunks = _chunks(session, hand, items)
    levels = _levels(session, actor, chunks)
    at_goal = {
        i for i, (level, due) in levels.items() if level >= AT_TEMPO and not _is_due(due, on)
    }
    needs = [
        Fraction(0)
        if state.is_finished or item.id in resting | waiting or item.chunk_id in at_goal
        else drill.seconds_left(state.tempo)
        for item, drill, state in zip(items, drills, states, strict=True)
    ]
    shares = share_seconds(assignment.minutes_a_day * 60, needs, least=WORTH_STARTING)
    return [
        TodayItem(
            item=item,
            title=title,
            part_name=hand.row.name,
            chunk=chunks[item.chunk_id],
            drill=drill,
            climb=state,
            seconds=seconds,
            due_on=assignment.due_on,
            level=levels.get(item.chunk_id, (0, None))[0],
            is_at_goal=on is not None and item.chunk_id in at_goal,
            waits=item.id in waiting,
            rests=item.id in resting,
        )
        for item, drill, state, seconds in zip(items, drills, states, shares, strict=True)
    ]


def _chunks(
    session: Session, hand: PartInHand, items: Sequence[AssignmentItem]
) -> dict[UUID, ChunkView]:
    wanted = sorted({item.chunk_id for item in items})
    return {chunk.id: chunk for chunk in chunks_of(session, hand, wanted)}


def _is_due(due: date | None, on: date | None) -> bool:
    """Whether a cold check is due; where no day is asked about, everything is."""
    return on is None or (due is not None and due <= on)


def _levels(
    session: Session, actor: Actor, chunks: Mapping[UUID, ChunkView]
) -> dict[UUID, tuple[int, date | None]]:
    """Level and next cold check of each chunk."""
    rows = ask.standings(session, [actor.person_id], list(chunks))
    return {row.chunk_id: (row.level, row.due_on) for row in rows}


def _waiting(
    session: Session, actor: Actor, part_id: UUID, items: Sequence[AssignmentItem], on: date
) -> frozenset[UUID]:
    """Drills for every second (third …) day of practice that are not due on this one."""
    spaced = {item.id: item.every for item in items if item.every > 1}
    if not spaced:
        return frozenset()
    days = kept.practice_days(session, actor.person_id, part_id, list(spaced))
    return frozenset(
        item_id
        for item_id, every in spaced.items()
        if (found := days.get(item_id)) is not None and not is_due_again(found, every, on)
    )


def _resting(
    session: Session,
    actor: Actor,
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
    days: dict[UUID, list[tuple[str, date]]] = {}
    since = on - timedelta(days=DAYS_RUNNING + 1)
    chunk_ids = {item.chunk_id for item in crowded}
    for chunk_id, drill, day in kept.days_drilled(session, actor.person_id, chunk_ids, since):
        days.setdefault(chunk_id, []).append((drill, day))
    tired = {i.id for i in crowded if must_rest(days.get(i.chunk_id, ()), i.drill, on)}
    # One on each chunk is always left to do.
    awake = {item.chunk_id for item in crowded if item.id not in tired}
    return frozenset(item.id for item in crowded if item.id in tired and item.chunk_id in awake)
