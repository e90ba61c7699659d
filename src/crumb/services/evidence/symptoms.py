"""Symptoms that a director heard on a chunk; they lead to cures in rankings and plans."""

from collections.abc import Sequence
from datetime import UTC, datetime
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.plan.cures import CURES_BY_KEY, Cure, cure_for
from crumb.core.score.position import Span
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import load_part
from crumb.services.people.roster import (
    get_section,
    get_student,
    sections_by_student,
    sections_of,
)
from crumb.store.queries import planning
from crumb.store.queries import symptoms as ask
from crumb.store.tables import Heard


def say(
    session: Session,
    actor: Actor,
    part_id: UUID,
    chunk_id: UUID,
    words: str,
    *,
    student_id: UUID | None = None,
    section_id: UUID | None = None,
) -> Heard:
    """Keep what was heard of one student or of a whole section; said twice, it stands once.

    Raises:
        NotFound: no such part, chunk, student or section.
        NotAccepted: words that name nothing there is a cure for, or not whose it is.
    """
    if (student_id is None) == (section_id is None):
        raise NotAccepted("Say whose it is: one student's, or a section's.")
    cure = cure_for(words)
    if cure is None:
        raise NotAccepted("No cure is known for that in these words: choose what comes nearest.")
    load_part(session, actor, part_id)
    if not ask.is_chunk_of(session, part_id, chunk_id):
        raise NotFound("There is no such chunk.")
    if student_id is not None:
        get_student(session, actor, student_id)
    if section_id is not None:
        get_section(session, actor, section_id)
    for row, _ in ask.of_chunk(session, chunk_id, Heard.symptom == cure.key):
        if (row.student_id, row.section_id) == (student_id, section_id):
            return row
    row = Heard(
        id=uuid4(),
        program_id=actor.program_id,
        part_id=part_id,
        chunk_id=chunk_id,
        section_id=section_id,
        student_id=student_id,
        symptom=cure.key,
        by_id=actor.person_id,
        said_at=datetime.now(UTC),
    )
    session.add(row)
    return row


def end(session: Session, actor: Actor, heard_id: UUID, *, back: bool = False) -> None:
    """Mark a heard fault as fixed or, with ``back``, as open again.

    Raises:
        NotFound: not here.
    """
    row = ask.row_of(session, actor.program_id, heard_id)
    if row is None:
        raise NotFound("There is no such note.")
    if row.student_id is not None:
        get_student(session, actor, row.student_id)
    if row.section_id is not None:
        get_section(session, actor, row.section_id)
    row.ended_at = None if back else datetime.now(UTC)


def of_student(session: Session, student_id: UUID, chunk_id: UUID) -> list[tuple[Heard, Cure, str]]:
    """Open faults of a student on a chunk, their sections' too, with cure and author."""
    whose = ask.of_student(student_id, sections_of(session, student_id))
    return [
        (row, CURES_BY_KEY[row.symptom], by) for row, by in ask.of_chunk(session, chunk_id, whose)
    ]


def symptoms_on(
    session: Session, part_id: UUID, students: Sequence[UUID]
) -> dict[UUID, list[tuple[Span, str]]]:
    """Open faults of students on a part, their sections' too: place and kind."""
    found: dict[UUID, list[tuple[Span, str]]] = {student_id: [] for student_id in students}
    rows = ask.on_part(session, part_id)
    if not rows:
        return found
    spans = planning.spans_of(session, [row.chunk_id for row in rows])
    sections = sections_by_student(session, students)
    for student_id, stands in found.items():
        stands += (
            (spans[row.chunk_id], row.symptom)
            for row in rows
            if row.student_id == student_id or row.section_id in sections[student_id]
        )
    return found


def cures_on(session: Session, part_id: UUID, span: Span) -> list[Cure]:
    """Open faults of anybody on a stretch of a part, the most frequent first."""
    rows = ask.on_part(session, part_id)
    spans = planning.spans_of(session, [row.chunk_id for row in rows])
    said = [row.symptom for row in rows if spans[row.chunk_id].touches(span)]
    return [CURES_BY_KEY[key] for key in sorted(set(said), key=lambda key: (-said.count(key), key))]
