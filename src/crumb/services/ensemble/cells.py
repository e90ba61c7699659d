"""One act for several cells of the Wall: send a drill there, or say what was heard there."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.ensemble.grouping import shared_cells
from crumb.core.errors import CrumbError
from crumb.core.score.position import absolute
from crumb.services.drills.working import LadderSettings
from crumb.services.errors import NotAccepted
from crumb.services.evidence import heard
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import ChunkView, get_chunk
from crumb.services.people.roster import get_student, sections_with
from crumb.services.sending import assigning, wished
from crumb.services.who import Who

CellOf = tuple[UUID, UUID]
"""Student and chunk."""


@dataclass(frozen=True, slots=True)
class CellsWish:
    """A drill for every chosen cell, until when, and for how many minutes a day."""

    cells: tuple[CellOf, ...]
    drill: str
    due_on: date
    minutes_a_day: int


@dataclass(frozen=True, slots=True)
class CellsSent:
    """Chunks that some students were sent together, or why they were not."""

    chunks: tuple[str, ...]
    students: int
    why_not: str = ""


def send(
    session: Session, who: Who, part_id: UUID, wish: CellsWish, today: date
) -> list[CellsSent]:
    """Send a drill to each student on just the chunks that were chosen for them.

    Students with the same chunks get one assignment. Where it does not fit, that is told and the
    others have it all the same.

    Raises:
        NotFound: no such part, chunk or student.
        NotAccepted: nothing was chosen, or a date or minutes nobody has.
    """
    wished.check_due(wish.due_on, today)
    wished.check_minutes(wish.minutes_a_day)
    hand = load_part(session, who, part_id)
    chunks = _chosen(session, who, part_id, wish.cells)
    ladder = LadderSettings(None, hand.row.goal_bpm, None)
    result = []
    for students, ids in shared_cells(wish.cells):
        here = sorted((chunks[i] for i in ids), key=lambda c: absolute(hand.part, c.span.start))
        sending = wished.Wish(
            part_id,
            sections_with(session, who, students),
            wish.due_on,
            wish.minutes_a_day,
            tuple(wished.WishedItem(chunk.id, wish.drill, {}, ladder) for chunk in here),
            only=students,
        )
        labels = tuple(chunk.label for chunk in here)
        try:
            with session.begin_nested():
                assigning.send(session, who, sending, today)
        except CrumbError as error:
            result.append(CellsSent(labels, 0, str(error)))
        else:
            result.append(CellsSent(labels, len(students)))
    return result


def say(session: Session, who: Who, part_id: UUID, cells: Sequence[CellOf], words: str) -> int:
    """Say of every chosen cell what was heard there; to how many students.

    Raises:
        NotFound: no such part, chunk or student.
        NotAccepted: nothing was chosen, or no cure is known for these words.
    """
    _chosen(session, who, part_id, cells)
    for student_id, chunk_id in dict.fromkeys(cells):
        heard.say(session, who, part_id, chunk_id, words, student_id=student_id)
    return len({student for student, _ in cells})


def _chosen(
    session: Session, who: Who, part_id: UUID, cells: Iterable[CellOf]
) -> dict[UUID, ChunkView]:
    hand = load_part(session, who, part_id)
    wanted = set(cells)
    if not wanted:
        raise NotAccepted("Choose cells first.")
    for student in {student for student, _ in wanted}:
        get_student(session, who, student)
    return {chunk: get_chunk(session, hand, chunk) for chunk in {chunk for _, chunk in wanted}}
