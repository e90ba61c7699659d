"""One act on several cells of the Wall: send a drill there, or note what was heard."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.core.errors import CrumbError
from crumb.core.score.position import absolute
from crumb.core.score_overview.shared_cells import shared_cells
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.errors import NotAccepted
from crumb.services.evidence import symptoms
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import ChunkView, get_chunk
from crumb.services.people.roster import get_student, sections_with
from crumb.services.sending import assignment_request, assignments

CellOf = tuple[UUID, UUID]
"""Student and chunk."""


@dataclass(frozen=True, slots=True)
class CellsRequest:
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
    session: Session, actor: Actor, part_id: UUID, wish: CellsRequest, today: date
) -> list[CellsSent]:
    """Send a drill to each student on just the chunks that were chosen for them.

    Students with the same chunks get one assignment. Where it does not fit, that is told and the
    others have it all the same.

    Raises:
        NotFound: no such part, chunk or student.
        NotAccepted: nothing was chosen, or a date or minutes nobody has.
    """
    assignment_request.check_due(wish.due_on, today)
    assignment_request.check_minutes(wish.minutes_a_day)
    hand = load_part(session, actor, part_id)
    chunks = _chosen(session, actor, part_id, wish.cells)
    ladder = LadderSettings(None, hand.row.goal_bpm, None)
    result = []
    for students, ids in shared_cells(wish.cells):
        here = sorted((chunks[i] for i in ids), key=lambda c: absolute(hand.part, c.span.start))
        sending = assignment_request.AssignmentRequest(
            part_id,
            sections_with(session, actor, students),
            wish.due_on,
            wish.minutes_a_day,
            tuple(
                assignment_request.RequestedItem(chunk.id, wish.drill, {}, ladder) for chunk in here
            ),
            only=students,
        )
        labels = tuple(chunk.label for chunk in here)
        try:
            with session.begin_nested():
                assignments.send(session, actor, sending, today)
        except CrumbError as error:
            result.append(CellsSent(labels, 0, str(error)))
        else:
            result.append(CellsSent(labels, len(students)))
    return result


def say(session: Session, actor: Actor, part_id: UUID, cells: Sequence[CellOf], words: str) -> int:
    """Say of every chosen cell what was heard there; to how many students.

    Raises:
        NotFound: no such part, chunk or student.
        NotAccepted: nothing was chosen, or no cure is known for these words.
    """
    _chosen(session, actor, part_id, cells)
    for student_id, chunk_id in dict.fromkeys(cells):
        symptoms.say(session, actor, part_id, chunk_id, words, student_id=student_id)
    return len({student for student, _ in cells})


def _chosen(
    session: Session, actor: Actor, part_id: UUID, cells: Iterable[CellOf]
) -> dict[UUID, ChunkView]:
    hand = load_part(session, actor, part_id)
    wanted = set(cells)
    if not wanted:
        raise NotAccepted("Choose cells first.")
    for student in {student for student, _ in wanted}:
        get_student(session, actor, student)
    return {chunk: get_chunk(session, hand, chunk) for chunk in {chunk for _, chunk in wanted}}
