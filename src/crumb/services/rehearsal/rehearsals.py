"""Rehearsals: planned from where everybody stands, kept, and what became of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, date, datetime, timedelta
from fractions import Fraction
from functools import partial
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Kind, Source
from crumb.core.intake.facts import UnassignedEvidence
from crumb.core.rehearsal.planner import RehearsalAsk, RehearsalItem, left_open, rehearsal
from crumb.core.rehearsal.room_drills import RoomDrill
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence.record_evidence import note
from crumb.services.library.marks import sections_led
from crumb.services.library.pieces import get_piece
from crumb.services.people.roster import get_section
from crumb.services.score_overview.overview import Desk, Room, ScoreView, view
from crumb.services.score_overview.sending import SentTo, to_desks
from crumb.store.codecs.rehearsals import KeptItem, items_from_json, items_to_json
from crumb.store.queries import locks
from crumb.store.queries import rehearsals as ask
from crumb.store.tables import RehearsalRow

_MOST_LISTED = 30
_FURTHEST = timedelta(days=60)
_HOME_DAYS = timedelta(days=7)
_HOME_MINUTES = 10


@dataclass(frozen=True, slots=True)
class RehearsalRequest:
    """A rehearsal of a piece, or a sectional; who is away from it, and from the next one on."""

    piece_id: UUID
    minutes: int
    section_id: UUID | None = None
    absent: frozenset[UUID] = frozenset()
    away_next: frozenset[UUID] = frozenset()

    @property
    def room(self) -> Room:
        """Students who are present."""
        return Room(self.absent, self.away_next)


@dataclass(frozen=True, slots=True)
class Planned:
    """A rehearsal plan; ``is_split`` tells why it may be short."""

    title: str
    items: tuple[RehearsalItem, ...]
    is_split: bool
    goal: Fraction


@dataclass(frozen=True, slots=True)
class HomeLine:
    """Homework of a section from a line: the counts that are still open."""

    section: str
    place: str
    drill: str
    left: int


@dataclass(frozen=True, slots=True)
class KeptRehearsal:
    """A rehearsal as it is kept, and what is to go home of it."""

    row: RehearsalRow
    title: str
    section: str | None
    items: tuple[KeptItem, ...]

    @property
    def done(self) -> dict[int, int] | None:
        """How many times in a row each line went that was begun, once it is over."""
        return None if self.row.done is None else {int(at): n for at, n in self.row.done.items()}

    @property
    def left(self) -> list[tuple[KeptItem, RoomDrill, int]]:
        """Lines that were begun and not ended: the line, its drill, how many times are left."""
        items = [kept.item for kept in self.items]
        return [
            (self.items[place], drill, times)
            for place, times in left_open(items, self.done or {})
            if (drill := items[place].drill) is not None
        ]

    @property
    def home(self) -> tuple[HomeLine, ...]:
        """Lines that each section takes home."""
        lines = [
            HomeLine(section, kept.item.name, drill.title, times)
            for kept, drill, times in self.left
            for section in kept.item.sections
        ]
        return tuple(sorted(lines, key=lambda line: line.section))


def plan(session: Session, actor: Actor, wish: RehearsalRequest) -> Planned:
    """Plan a rehearsal of some minutes, with reasons.

    Raises:
        NotFound: no such piece or section.
        RehearsalRefused: minutes that nobody has.
    """
    if wish.section_id is not None:
        get_section(session, actor, wish.section_id)
    return _planned(view(session, actor, wish.piece_id, wish.room), wish)


def _planned(found: ScoreView, wish: RehearsalRequest) -> Planned:
    here = [d for d in found.desks if wish.section_id is None or d.section.id == wish.section_id]
    names = tuple(dict.fromkeys(desk.name for desk in here))
    # Places stay what they are in the score: what others play there is nothing to this room.
    now = tuple(
        replace(passage, sections=tuple(s for s in passage.sections if s.name in names))
        for passage in found.now
    )
    items = rehearsal(RehearsalAsk(wish.minutes, found.goal or Fraction(60), now, names))
    return Planned(found.piece.title, items, found.is_split, found.goal)


def keep(session: Session, actor: Actor, wish: RehearsalRequest, day: date, today: date) -> UUID:
    """Keep a plan for a day.

    Raises:
        NotAccepted: a day that is past or far, or nothing to rehearse.
    """
    if not today <= day <= today + _FURTHEST:
        raise NotAccepted("A rehearsal is on a day of the next two months.")
    if wish.section_id is not None:
        get_section(session, actor, wish.section_id)
    found = view(session, actor, wish.piece_id, wish.room)
    planned = _planned(found, wish)
    if not planned.items:
        raise NotAccepted("There is nothing to rehearse yet: split the score, and say who plays.")
    row = RehearsalRow(
        id=uuid4(),
        program_id=actor.program_id,
        piece_id=wish.piece_id,
        section_id=wish.section_id,
        day=day,
        minutes=wish.minutes,
        items=items_to_json(planned.items, [on.passage for on in found.passages]),
        absent=sorted(wish.absent),
        done=None,
        made_by=actor.person_id,
        ended_at=None,
    )
    session.add(row)
    return row.id


def listed(session: Session, actor: Actor) -> list[KeptRehearsal]:
    """The last rehearsals, the newest first."""
    rows = ask.rehearsals_of(session, actor.program_id, _MOST_LISTED)
    return [
        KeptRehearsal(row, title, section, items_from_json(row.items))
        for row, title, section in rows
        if actor.sees(row.section_id)
    ]


def led(session: Session, actor: Actor, today: date) -> list[KeptRehearsal]:
    """Sectionals from today on that a student leads, the next one first.

    What it says of how others stand is not for a classmate: lines come without their reasons.
    """
    sections = set(sections_led(session, actor))
    found = [
        KeptRehearsal(
            row, title, section, tuple(_unsaid(one) for one in items_from_json(row.items))
        )
        for row, title, section in ask.rehearsals_of(session, actor.program_id, _MOST_LISTED)
        if row.section_id in sections and row.day >= today
    ]
    return sorted(found, key=lambda kept: kept.row.day)


def _unsaid(line: KeptItem) -> KeptItem:
    return replace(line, item=replace(line.item, why="", sections=(), meanwhile=()))


def get(session: Session, actor: Actor, rehearsal_id: UUID) -> KeptRehearsal:
    """A rehearsal.

    Raises:
        NotFound: not of this program.
    """
    return _kept(session, actor, _row(session, actor, rehearsal_id))


def _kept(session: Session, actor: Actor, row: RehearsalRow) -> KeptRehearsal:
    section = None if row.section_id is None else get_section(session, actor, row.section_id).name
    title = get_piece(session, actor, row.piece_id).title
    return KeptRehearsal(row, title, section, items_from_json(row.items))


def end(
    session: Session,
    actor: Actor,
    rehearsal_id: UUID,
    done: Mapping[int, int],
    absent: Sequence[UUID],
) -> KeptRehearsal:
    """Say what was done and who was there; everybody there has it in their evidence as rehearsed.

    Said once: what is kept of a student is never changed.

    Raises:
        NotFound: not of this program.
        NotAccepted: it was said already, or a line there is not.
    """
    row = _row(session, actor, rehearsal_id, for_change=True)
    if row.ended_at is not None:
        raise NotAccepted("What became of this rehearsal was said already.")
    if any(not 0 <= place < len(row.items) for place in done):
        raise NotAccepted("There is no such line in this rehearsal.")
    now = datetime.now(UTC)
    row.done = {str(place): times for place, times in sorted(done.items())}
    row.absent = sorted(set(absent))
    row.ended_at = now
    kept = _kept(session, actor, row)
    _rehearsed(session, actor, kept, now)
    return kept


def _rehearsed(session: Session, actor: Actor, kept: KeptRehearsal, now: datetime) -> None:
    """Evidence of everybody in the room, which proves nothing: nobody is heard alone there."""
    found = view(session, actor, kept.row.piece_id)
    by_student: dict[UUID, list[UnassignedEvidence]] = {}
    for place, times in (kept.done or {}).items():
        line = kept.items[place]
        if times < 1 or line.passage is None or line.item.drill is None:
            continue
        for desk in _desks_of(found, line):
            noted = partial(
                UnassignedEvidence,
                part_id=desk.hand.row.id,
                span=line.passage.span,
                at=now,
                tempo=None if line.item.tempo is None else Fraction(line.item.tempo),
                kind=Kind.LEARN,
                source=Source.REHEARSED,
                reason=line.item.drill.title,
            )
            for student in desk.students:
                if student not in kept.row.absent:
                    by_student.setdefault(student, []).append(noted(id=uuid4()))
    locks.share_parts(session, {one.part_id for many in by_student.values() for one in many})
    for student in sorted(by_student):
        note(session, actor, student, by_student[student])


def _desks_of(found: ScoreView, line: KeptItem) -> list[Desk]:
    return [desk for desk in found.desks if desk.name in line.item.sections]


def send_home(session: Session, actor: Actor, rehearsal_id: UUID, today: date) -> list[SentTo]:
    """Send every section what is still open, each in its own notation.

    Raises:
        NotFound: not of this program.
        NotAccepted: nothing is open, or it was sent already.
    """
    row = _row(session, actor, rehearsal_id, for_change=True)
    kept = _kept(session, actor, row)
    if not kept.left:
        raise NotAccepted("Nothing is left open of this rehearsal.")
    if row.sent_home_at is not None:
        raise NotAccepted("It was sent home already: see Assignments.")
    row.sent_home_at = datetime.now(UTC)
    found = view(session, actor, row.piece_id)
    due = today + _HOME_DAYS
    sent: list[SentTo] = []
    for line, drill, _ in kept.left:
        if line.passage is not None:
            desks = _desks_of(found, line)
            sent += to_desks(
                session, actor, desks, line.passage, drill.drill, due, _HOME_MINUTES, today
            )
    return sent


def _row(
    session: Session, actor: Actor, rehearsal_id: UUID, *, for_change: bool = False
) -> RehearsalRow:
    row = ask.rehearsal_row(session, actor.program_id, rehearsal_id, for_change=for_change)
    if row is None or not actor.sees(row.section_id):
        raise NotFound("There is no such rehearsal.")
    return row
