"""Rehearsals: planned from where everybody stands, kept, and what became of them."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from datetime import UTC, date, datetime, timedelta
from fractions import Fraction
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.ensemble.passages import Passage
from crumb.core.ensemble.rehearsing import RehearsalAsk, RehearsalItem, rehearsal
from crumb.core.ensemble.room import ROOM_DRILLS, RoomDrill
from crumb.core.evidence.model import Kind, Source
from crumb.core.score.model import ZERO
from crumb.core.score.position import Position, Span
from crumb.services.ensemble.score import Desk, Room, ScoreView, view
from crumb.services.ensemble.sending import SentTo, to_desks
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence.add import Noted, note_together
from crumb.services.library.pieces import get_piece
from crumb.services.people.roster import get_section
from crumb.services.who import Who
from crumb.store.queries import ensemble as ask
from crumb.store.tables import RehearsalRow

_MOST_LISTED = 30
_FURTHEST = timedelta(days=60)
_HOME_DAYS = timedelta(days=7)
_HOME_MINUTES = 10
_BY_KEY = {drill.key: drill for drill in ROOM_DRILLS}


@dataclass(frozen=True, slots=True)
class Wish:
    """A rehearsal of a piece, or a sectional; who is away from it, and from the next one on."""

    piece_id: UUID
    minutes: int
    section_id: UUID | None = None
    absent: frozenset[UUID] = frozenset()
    away_next: frozenset[UUID] = frozenset()

    @property
    def room(self) -> Room:
        """Who is there."""
        return Room(self.absent, self.away_next)


@dataclass(frozen=True, slots=True)
class Planned:
    """What would be rehearsed; ``is_split`` tells why there may be little to say."""

    title: str
    items: tuple[RehearsalItem, ...]
    is_split: bool
    goal: Fraction


@dataclass(frozen=True, slots=True)
class HomeLine:
    """What a section takes home of a line: the counts that are still open."""

    section: str
    place: str
    drill: str
    left: int


@dataclass(frozen=True, slots=True)
class Kept:
    """A rehearsal as it is kept; ``items`` are its lines as they are stored."""

    row: RehearsalRow
    title: str
    section: str | None
    home: tuple[HomeLine, ...]


def plan(session: Session, who: Who, wish: Wish) -> Planned:
    """What to do with some minutes, and why.

    Raises:
        NotFound: no such piece or section.
        RehearsalRefused: minutes that nobody has.
    """
    if wish.section_id is not None:
        get_section(session, who, wish.section_id)
    return _planned(view(session, who, wish.piece_id, wish.room), wish)


def _planned(found: ScoreView, wish: Wish) -> Planned:
    here = [d for d in found.desks if wish.section_id is None or d.section.id == wish.section_id]
    names = tuple(dict.fromkeys(desk.name for desk in here))
    # Places stay what they are in the score: what others play there is nothing to this room.
    now = tuple(
        replace(passage, sections=tuple(s for s in passage.sections if s.name in names))
        for passage in found.now
    )
    items = rehearsal(RehearsalAsk(wish.minutes, found.goal or Fraction(60), now, names))
    return Planned(found.piece.title, items, found.is_split, found.goal)


def keep(session: Session, who: Who, wish: Wish, day: date, today: date) -> UUID:
    """Keep a plan for a day.

    Raises:
        NotAccepted: a day that is past or far, or nothing to rehearse.
    """
    if not today <= day <= today + _FURTHEST:
        raise NotAccepted("A rehearsal is on a day of the next two months.")
    if wish.section_id is not None:
        get_section(session, who, wish.section_id)
    found = view(session, who, wish.piece_id, wish.room)
    planned = _planned(found, wish)
    if not planned.items:
        raise NotAccepted("There is nothing to rehearse yet: split the score, and say who plays.")
    row = RehearsalRow(
        id=uuid4(),
        program_id=who.program_id,
        piece_id=wish.piece_id,
        section_id=wish.section_id,
        day=day,
        minutes=wish.minutes,
        items=[_stored(item, found) for item in planned.items],
        absent=sorted(wish.absent),
        done=None,
        made_by=who.person_id,
        ended_at=None,
    )
    session.add(row)
    session.commit()
    return row.id


def _stored(item: RehearsalItem, found: ScoreView) -> dict[str, Any]:
    passage = None if item.passage is None else found.passages[item.passage].passage
    return {
        "kind": item.kind,
        "name": item.name,
        "minutes": item.minutes,
        "why": item.why,
        "do": item.do,
        "tempo": item.tempo,
        "drill": None if item.drill is None else item.drill.key,
        "first": None if passage is None else passage.first,
        "last": None if passage is None else passage.last,
        "sections": list(item.sections),
        "meanwhile": [asdict(one) for one in item.meanwhile],
        "written": [list(one) for one in item.written],
    }


def listed(session: Session, who: Who) -> list[Kept]:
    """The last rehearsals, the newest first."""
    rows = ask.rehearsals_of(session, who.program_id, _MOST_LISTED)
    return [Kept(row, title, section, _home(row)) for row, title, section in rows]


def get(session: Session, who: Who, rehearsal_id: UUID) -> Kept:
    """One rehearsal.

    Raises:
        NotFound: not of this program.
    """
    row = _row(session, who, rehearsal_id)
    section = None if row.section_id is None else get_section(session, who, row.section_id).name
    return Kept(row, get_piece(session, who, row.piece_id).title, section, _home(row))


def end(
    session: Session,
    who: Who,
    rehearsal_id: UUID,
    done: Mapping[int, int],
    absent: Sequence[UUID],
) -> Kept:
    """Say what was done and who was there; everybody there has it in their evidence as rehearsed.

    Said once: what is kept of a student is never changed.

    Raises:
        NotFound: not of this program.
        NotAccepted: it was said already, or a line there is not.
    """
    row = _row(session, who, rehearsal_id, for_change=True)
    if row.ended_at is not None:
        raise NotAccepted("What became of this rehearsal was said already.")
    if any(not 0 <= place < len(row.items) for place in done):
        raise NotAccepted("There is no such line in this rehearsal.")
    now = datetime.now(UTC)
    row.done = {str(place): times for place, times in sorted(done.items())}
    row.absent = sorted(set(absent))
    row.ended_at = now
    _rehearsed(session, who, row, now)
    session.commit()
    return get(session, who, rehearsal_id)


def _rehearsed(session: Session, who: Who, row: RehearsalRow, now: datetime) -> None:
    """Evidence of everybody in the room, which proves nothing: nobody is heard alone there."""
    found = view(session, who, row.piece_id)
    by_student: dict[UUID, list[Noted]] = {}
    for place, times in (row.done or {}).items():
        item = row.items[int(place)]
        if times < 1 or item["drill"] is None:
            continue
        for desk in _desks_of(found, item):
            for student in desk.students:
                if student not in row.absent:
                    by_student.setdefault(student, []).append(_noted(desk, item, now))
    for student in sorted(by_student):
        note_together(session, who, student, by_student[student])


def _noted(desk: Desk, item: Mapping[str, Any], now: datetime) -> Noted:
    return Noted(
        id=uuid4(),
        part_id=desk.hand.row.id,
        span=Span(Position(item["first"], ZERO), Position(item["last"], ZERO)),
        at=now,
        tempo=None if item["tempo"] is None else Fraction(item["tempo"]),
        kind=Kind.LEARN,
        source=Source.REHEARSED,
        reason=_BY_KEY[item["drill"]].title,
    )


def _desks_of(found: ScoreView, item: Mapping[str, Any]) -> list[Desk]:
    return [desk for desk in found.desks if desk.name in item["sections"]]


def _home(row: RehearsalRow) -> tuple[HomeLine, ...]:
    """What goes home: the counts still open of every line that was begun."""
    lines = [
        HomeLine(name, item["name"], drill.title, left)
        for item, drill, left in _open(row)
        for name in item["sections"]
    ]
    return tuple(sorted(lines, key=lambda line: line.section))


def send_home(session: Session, who: Who, rehearsal_id: UUID, today: date) -> list[SentTo]:
    """Send every section what is still open, each in its own notation.

    Raises:
        NotFound: not of this program.
        NotAccepted: nothing is open, or it was sent already.
    """
    row = _row(session, who, rehearsal_id, for_change=True)
    if not _home(row):
        raise NotAccepted("Nothing is left open of this rehearsal.")
    if row.sent_home_at is not None:
        raise NotAccepted("It was sent home already: see Assignments.")
    row.sent_home_at = datetime.now(UTC)
    session.commit()
    found = view(session, who, row.piece_id)
    due = today + _HOME_DAYS
    sent: list[SentTo] = []
    for item, drill, _ in _open(row):
        passage = Passage(item["first"], item["last"], item["name"])
        desks = _desks_of(found, item)
        sent += to_desks(session, who, desks, passage, drill.drill, due, _HOME_MINUTES, today)
    return sent


def _open(row: RehearsalRow) -> Iterator[tuple[dict[str, Any], RoomDrill, int]]:
    """Lines that were begun and not ended: the line, its drill, how many times are left."""
    for place, item in enumerate(row.items):
        drill = _BY_KEY.get(item["drill"] or "")
        begun = (row.done or {}).get(str(place))
        if drill is not None and begun is not None and begun < drill.times:
            yield item, drill, drill.times - begun


def _row(
    session: Session, who: Who, rehearsal_id: UUID, *, for_change: bool = False
) -> RehearsalRow:
    row = ask.rehearsal_row(session, who.program_id, rehearsal_id, for_change=for_change)
    if row is None:
        raise NotFound("There is no such rehearsal.")
    return row
