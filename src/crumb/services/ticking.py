"""Typing in what was ticked on a practice sheet: a box is a whole clean cycle at its tempo."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from fractions import Fraction
from uuid import NAMESPACE_URL, UUID, uuid5

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.services import standings
from crumb.services.assigning import items_of, worked_item
from crumb.services.bench import Worked
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.music import PartInHand, load_part
from crumb.services.splitting import ChunkView, get_chunk
from crumb.services.who import Who
from crumb.store.tables import Assignment, AssignmentItem, Person, Piece, RepetitionRow, Sheet

_OLDEST = timedelta(days=120)


@dataclass(frozen=True, slots=True)
class SheetLine:
    """One drill of a sheet with the tempos that can be ticked and those that are."""

    item_id: UUID
    chunk: ChunkView
    drill: str
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


def find_sheet(session: Session, who: Who, code: str) -> SheetView:
    """The sheet with a code: any of the program for a director, one's own for a student.

    Raises:
        NotFound: there is none, or it is not for these eyes.
    """
    sheet, assignment = _sheet(session, who, code)
    hand = load_part(session, who, assignment.part_id)
    name = session.scalar(select(Person.name).where(Person.id == sheet.student_id)) or ""
    title = session.scalar(select(Piece.title).where(Piece.id == hand.row.piece_id)) or ""
    lines = []
    for item in items_of(session, assignment.id):
        worked = worked_item(session, hand, item)
        ticked = session.scalars(
            select(RepetitionRow.tempo_bpm)
            .where(
                RepetitionRow.item_id == item.id,
                RepetitionRow.student_id == sheet.student_id,
                RepetitionRow.source == "paper",
            )
            .distinct()
        )
        lines.append(
            SheetLine(
                item.id,
                get_chunk(session, hand, item.chunk_id),
                item.drill,
                worked.rungs,
                frozenset(ticked),
            )
        )
    return SheetView(sheet.code, name, title, tuple(lines))


def _sheet(session: Session, who: Who, code: str) -> tuple[Sheet, Assignment]:
    tidy = "".join(code.split()).upper()
    row = session.execute(
        select(Sheet, Assignment)
        .join(Assignment, Assignment.id == Sheet.assignment_id)
        .where(Sheet.code == tidy, Sheet.program_id == who.program_id)
    ).one_or_none()
    if row is None or (who.role == "student" and row[0].student_id != who.person_id):
        raise NotFound(f"There is no sheet with the code {tidy[:12]} here.")
    return row[0], row[1]


def enter_ticks(
    session: Session, who: Who, code: str, ticks: Sequence[Tick], played_on: date, today: date
) -> SheetView:
    """Store ticked boxes as what they say: every step of the drill, clean, at that tempo.

    A box typed in twice is stored once. What a sheet says counts as the student's own count.

    Raises:
        NotFound: no such sheet.
        NotAccepted: a box that is not on it, or a day that cannot be.
    """
    sheet, assignment = _sheet(session, who, code)
    if played_on > today:
        raise NotAccepted("That day is still to come.")
    if today - played_on > _OLDEST:
        raise NotAccepted("That is more than four months ago; ask yourself what it still says.")
    student = Who(sheet.student_id, who.program_id, "student", "", "", "")
    hand = load_part(session, who, assignment.part_id)
    items = {item.id: item for item in items_of(session, assignment.id)}
    made: Mapping[UUID, Worked] = {i: worked_item(session, hand, item) for i, item in items.items()}
    spans = []
    # What was typed comes in the order of the ladder, as it was climbed.
    for place, tick in enumerate(sorted(ticks, key=lambda t: t.tempo)):
        if tick.item_id not in items:
            raise NotAccepted("There is a drill in this that is not on the sheet.")
        worked = made[tick.item_id]
        if tick.tempo not in worked.rungs:
            raise NotAccepted(f"{float(tick.tempo):g} is not on the ladder of that drill.")
        _store(session, student, hand, items[tick.item_id], worked, sheet, tick, played_on, place)
        spans += [step.covers for step in worked.drill.steps]
    standings.refresh_student(session, hand.row, sheet.student_id, spans)
    session.commit()
    return find_sheet(session, who, code)


def _store(
    session: Session,
    student: Who,
    hand: PartInHand,
    item: AssignmentItem,
    worked: Worked,
    sheet: Sheet,
    tick: Tick,
    played_on: date,
    place: int,
) -> None:
    at = datetime.combine(played_on, time(12), UTC) + timedelta(minutes=place)
    rows = []
    count = 0
    for number, step in enumerate(worked.drill.steps):
        for turn in range(step.repetitions):
            count += 1
            name = f"crumb:{sheet.id}:{item.id}:{tick.tempo}:{number}:{turn}"
            rows.append(
                {
                    "id": uuid5(NAMESPACE_URL, name),
                    "program_id": student.program_id,
                    "student_id": student.person_id,
                    "part_id": hand.row.id,
                    "chunk_id": item.chunk_id,
                    "item_id": item.id,
                    "step": number,
                    "step_name": step.name[:80],
                    "kind": step.kind,
                    "as_written": step.as_written,
                    "start_index": step.covers.start.index,
                    "start_at": step.covers.start.at,
                    "end_index": step.covers.end.index,
                    "end_at": step.covers.end.at,
                    "tempo_bpm": tick.tempo,
                    "is_clean": True,
                    "played_at": at + timedelta(milliseconds=count),
                    "source": "paper",
                }
            )
    session.execute(
        insert(RepetitionRow).values(rows).on_conflict_do_nothing(index_elements=["id"])
    )
