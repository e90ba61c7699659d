"""Slip details and the practice diary: everything a student says beside repetitions."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from fractions import Fraction
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core.evidence.diary import DiaryKind, Line
from crumb.core.evidence.slips import SlipKind
from crumb.core.score.position import Position
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import load_part
from crumb.services.people.roster import get_student, seen_students
from crumb.store.queries import diary as ask
from crumb.store.tables import Diary

_LOOK_BACK = timedelta(days=56)
_NEWS = timedelta(days=7)


@dataclass(frozen=True, slots=True)
class SlipSaid:
    """Place and kind of a slip, as a student said; either may be absent."""

    id: UUID
    repetition_id: UUID
    at: Position | None
    what: SlipKind | None


@dataclass(frozen=True, slots=True)
class LineSaid:
    """A line of a diary as it comes from the device."""

    id: UUID
    kind: DiaryKind
    at: datetime
    item_id: UUID | None
    said: Mapping[str, object]


@dataclass(frozen=True, slots=True)
class News:
    """A line that a teacher should see."""

    student_id: UUID
    student: str
    line: Line


def keep(
    session: Session, actor: Actor, slips: Sequence[SlipSaid], lines: Sequence[LineSaid]
) -> None:
    """Keep what a student said; the same twice is kept once, and nothing is ever changed.

    Raises:
        NotFound: a slip or drill that is not the student's.
        NotAccepted: a clean repetition is no slip; a place outside of the part.
    """
    known = ask.slips_of(session, actor.person_id, (s.repetition_id for s in slips))
    parts = {part_id for part_id, _ in known.values()} if any(s.at for s in slips) else set()
    lengths = {
        part_id: [m.length for m in load_part(session, actor, part_id).part.measures]
        for part_id in parts
    }
    for slip in slips:
        _check(slip, known, lengths)
    items = {line.item_id for line in lines if line.item_id is not None}
    if items - ask.sent_to(session, actor.person_id, items):
        raise NotFound("This is not on your list.")
    zone = ZoneInfo(actor.time_zone)
    ask.keep_slips(
        session,
        [
            {
                "id": slip.id,
                "evidence_id": slip.repetition_id,
                "at_index": None if slip.at is None else slip.at.index,
                "at_offset": None if slip.at is None else slip.at.at,
                "what": slip.what or "",
            }
            for slip in slips
        ],
    )
    ask.keep_lines(
        session,
        [
            {
                "id": line.id,
                "program_id": actor.program_id,
                "student_id": actor.person_id,
                "kind": line.kind,
                "item_id": line.item_id,
                "at": line.at,
                "local_day": line.at.astimezone(zone).date(),
                "said": dict(line.said),
            }
            for line in lines
        ],
    )


def _check(
    slip: SlipSaid,
    known: Mapping[UUID, tuple[UUID, bool | None]],
    lengths: Mapping[UUID, Sequence[Fraction]],
) -> None:
    if slip.repetition_id not in known:
        raise NotFound("There is no such repetition to say this of.")
    part_id, is_clean = known[slip.repetition_id]
    if is_clean is not False:
        raise NotAccepted("That one was clean: there is no slip to describe.")
    if slip.at is None:
        return
    here = lengths[part_id]
    if slip.at.index >= len(here) or slip.at.at >= here[slip.at.index]:
        raise NotAccepted("That place is outside of the music.")


def of_student(session: Session, actor: Actor, student_id: UUID, today: date) -> list[Line]:
    """A student's diary of the last weeks, the newest first.

    Raises:
        NotFound: no student of this program.
    """
    get_student(session, actor, student_id)
    return _lines(session, actor, student_id, today)


def own(session: Session, actor: Actor, today: date) -> list[Line]:
    """One's own diary of the last weeks, the newest first."""
    return _lines(session, actor, actor.person_id, today)


def _lines(session: Session, actor: Actor, student_id: UUID, today: date) -> list[Line]:
    rows = ask.lines_of(session, actor.program_id, student_id, today - _LOOK_BACK)
    return [_line(row) for row in rows]


def news(session: Session, actor: Actor, today: date) -> list[News]:
    """Diary lines of the last days for the teacher: pain first, then tightness, then the rest."""
    kinds = [DiaryKind.FEELING, DiaryKind.REFUSED]
    rows = ask.lines_in(session, actor.program_id, kinds, today - _NEWS)
    seen = seen_students(session, actor)
    return [
        News(row.student_id, name, _line(row))
        for row, name in rows
        if seen is None or row.student_id in seen
    ]


def _line(row: Diary) -> Line:
    return Line(row.at, row.local_day, DiaryKind(row.kind), row.said)
