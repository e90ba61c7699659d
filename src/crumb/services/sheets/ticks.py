"""Typing in what was ticked on a practice sheet: a box is a whole clean cycle at its tempo."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta
from fractions import Fraction
from uuid import NAMESPACE_URL, UUID, uuid5
from zoneinfo import ZoneInfo

from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill
from crumb.core.evidence.model import Source
from crumb.core.intake.facts import AssignedRepetition
from crumb.core.tempo.ladder import written
from crumb.core.vocabulary import Permission
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence.record_evidence import store_ticks
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import ChunkView, chunks_of
from crumb.store.queries import sending, sheets
from crumb.store.tables import Assignment, AssignmentItem, Person, Piece, Sheet

_OLDEST = timedelta(days=120)
_NOON = time(12)
"""A sheet knows a day, no moment: the middle of the day is nearest to all of them."""


@dataclass(frozen=True, slots=True)
class SheetLine:
    """A drill of a sheet: its tempos, and which of them have a tick."""

    item_id: UUID
    chunk: ChunkView
    title: str
    rungs: tuple[Fraction, ...]
    ticked: frozenset[Fraction]


@dataclass(frozen=True, slots=True)
class SheetView:
    """A sheet as it is typed in."""

    code: str
    name: str
    title: str
    lines: tuple[SheetLine, ...]


@dataclass(frozen=True, slots=True)
class Tick:
    """A box ticked: one whole cycle of a drill was clean at a tempo."""

    item_id: UUID
    tempo: Fraction


def find_sheet(session: Session, actor: Actor, code: str) -> SheetView:
    """The sheet with a code: any of the program for who sees players, else one's own.

    Raises:
        NotFound: there is none, or it is not for these eyes.
    """
    sheet, assignment = _sheet(session, actor, code)
    hand = load_part(session, actor, assignment.part_id)
    name = session.get_one(Person, sheet.student_id).name
    title = session.get_one(Piece, hand.row.piece_id).title
    items = sending.items_of(session, [assignment.id])[assignment.id]
    chunks = {c.id: c for c in chunks_of(session, hand, sorted({i.chunk_id for i in items}))}
    ticked = sheets.ticked(session, sheet.student_id, [item.id for item in items])
    lines = []
    for item in items:
        drill, tempos = sending.drill_of(item), frozenset(ticked[item.id])
        lines.append(SheetLine(item.id, chunks[item.chunk_id], drill.title, drill.rungs, tempos))
    return SheetView(sheet.code, name, title, tuple(lines))


def _sheet(session: Session, actor: Actor, code: str) -> tuple[Sheet, Assignment]:
    tidy = "".join(code.split()).upper()
    found = sheets.sheet_with(session, actor.program_id, tidy)
    if found is None or not _is_theirs(actor, found[0].student_id):
        raise NotFound(f"There is no sheet with the code {tidy[:12]} here.")
    return found


def _is_theirs(actor: Actor, student_id: UUID) -> bool:
    """A student's own, that of the one a helper ticks for, or any of the program's."""
    if not actor.may(Permission.TICK):
        return False
    return student_id in (actor.person_id, actor.student_id) or actor.may(Permission.SEE_PLAYERS)


def enter_ticks(
    session: Session, actor: Actor, code: str, ticks: Sequence[Tick], played_on: date, today: date
) -> SheetView:
    """Store ticked boxes as what they say: every step of the drill, clean, at that tempo.

    A box typed in twice is stored once. What a sheet says counts as the student's own count.

    Raises:
        NotFound: no such sheet.
        NotAccepted: a box that is not on it, or a day that cannot be.
    """
    sheet, assignment = _sheet(session, actor, code)
    if played_on > today:
        raise NotAccepted("That day is still to come.")
    if today - played_on > _OLDEST:
        raise NotAccepted("That is more than four months ago; ask yourself what it still says.")
    if played_on < assignment.sent_at.astimezone(ZoneInfo(actor.time_zone)).date():
        raise NotAccepted("That was before the sheet was sent.")
    found = sending.items_of(session, [assignment.id])[assignment.id]
    items = {item.id: item for item in found}
    drills = {item.id: sending.drill_of(item) for item in found}
    noon = datetime.combine(played_on, _NOON, ZoneInfo(actor.time_zone))
    handed_in: list[AssignedRepetition] = []
    # What was typed comes in the order of the ladder, as it was climbed.
    for place, tick in enumerate(sorted(ticks, key=lambda t: t.tempo)):
        if tick.item_id not in items:
            raise NotAccepted("There is a drill in this that is not on the sheet.")
        drill = drills[tick.item_id]
        if tick.tempo not in drill.rungs:
            raise NotAccepted(f"{written(tick.tempo)} is not on the ladder of that drill.")
        at = noon + timedelta(minutes=place)
        handed_in += _cycle(sheet, items[tick.item_id], drill, tick.tempo, at)
    store_ticks(session, actor, sheet.student_id, handed_in)
    return find_sheet(session, actor, code)


def _cycle(
    sheet: Sheet, item: AssignmentItem, drill: SentDrill, tempo: Fraction, at: datetime
) -> list[AssignedRepetition]:
    """The clean cycle that a box stands for; its ids are the box's, so it is stored once."""
    made: list[AssignedRepetition] = []
    for step, climb_step in enumerate(drill.climb_steps):
        for turn in range(climb_step.repetitions):
            name = f"crumb:{sheet.id}:{item.id}:{tempo}:{step}:{turn}"
            made.append(
                AssignedRepetition(
                    id=uuid5(NAMESPACE_URL, name),
                    item_id=item.id,
                    step=step,
                    tempo=tempo,
                    is_clean=True,
                    at=at + timedelta(milliseconds=len(made) + 1),
                    source=Source.PAPER,
                )
            )
    return made
