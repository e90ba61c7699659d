"""Practice sheets: printed for a sending as a job, found again by their code."""

import secrets
from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy import select
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill, SentStep
from crumb.core.errors import CrumbError
from crumb.core.plan.sharing import WORTH_STARTING, share_seconds
from crumb.core.score.marks import PartMark, marked
from crumb.core.score.slicing import slice_span
from crumb.formats.layout import PRINTED
from crumb.formats.sheets import (
    PracticeSheet,
    PrintedChunk,
    PrintedDrill,
    PrintedStep,
    print_sheets,
)
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.jobs import Abandoned, Try, get_job
from crumb.services.library.drawing import drawing
from crumb.services.library.marking import marks_in
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, chunks_of
from crumb.services.practice.reading import Read, drawn_steps, notated_steps
from crumb.services.who import Role, Who
from crumb.store.base import ORDER
from crumb.store.files import FileStore
from crumb.store.queries import sending
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Job,
    Person,
    Piece,
    Section,
    Sheet,
)

_LETTERS = "ABCDEFGHJKMNPQRTUVWXYZ2346789"
"""No letters or digits that look alike in handwriting."""
_CODE_LENGTH = 6
_MOST_DRAWN = 7
"""Steps of a long chain that are engraved on paper; the rest say enough by name."""
_BEATS = {
    Fraction(1): "a quarter",
    Fraction(3, 2): "a dotted quarter",
    Fraction(1, 2): "an eighth",
    Fraction(2): "a half",
}


def order_sheets(session: Session, who: Who, assignment_id: UUID) -> Job:
    """Have the sheets of a whole sending printed, in the background.

    Raises:
        NotFound: no such assignment.
    """
    sending_id = session.scalar(
        select(Assignment.sending_id).where(
            Assignment.id == assignment_id, Assignment.program_id == who.program_id
        )
    )
    if sending_id is None:
        raise NotFound("There is no such assignment.")
    job = Job(
        id=uuid4(),
        program_id=who.program_id,
        person_id=who.person_id,
        kind="sheets",
        sending_id=sending_id,
    )
    session.add(job)
    session.commit()
    session.refresh(job)
    return job


def printed(session: Session, files: FileStore, who: Who, job_id: UUID) -> bytes:
    """The PDF of a set of sheets.

    Raises:
        NotFound: not here, or not printed yet.
    """
    job = get_job(session, who, job_id, "sheets")
    if job.state != "done":
        raise NotFound("These sheets are not printed yet.")
    return files.load(job.file_key)


def work_off(attempt: Try, files: FileStore, base_url: str) -> None:
    """Make the sheets of a job and keep the PDF; a failure is kept in words."""
    with attempt.new_session() as session:
        job = session.get_one(Job, attempt.id)
        assert job.sending_id is not None
        try:
            sheets = make_sheets(
                session,
                job.program_id,
                job.sending_id,
                base_url,
                lambda done, total: attempt.tell("printing", done, total),
            )
            if not sheets:
                raise NotAccepted("Nobody has this assignment: there is no sheet to print.")
            attempt.done(session, file_key=files.save(print_sheets(sheets)))
        except Abandoned:
            return
        except CrumbError as error:
            session.rollback()
            attempt.failed(error.message)
        except DBAPIError:
            raise  # the database went away: another try may find it there
        except Exception:
            session.rollback()
            attempt.failed("Crumb had a fault while printing.")
            raise


def make_sheets(
    session: Session,
    program_id: UUID,
    sending_id: UUID,
    base_url: str,
    progress: Callable[[int, int], None] = lambda done, total: None,
) -> list[PracticeSheet]:
    """A sheet for every player of a sending, in order of section and name."""
    rows = session.execute(
        select(Assignment, Section.name, Person.id, Person.name)
        .join(Section, Section.id == Assignment.section_id)
        .join(AssignmentStudent, AssignmentStudent.assignment_id == Assignment.id)
        .join(Person, Person.id == AssignmentStudent.student_id)
        .where(Assignment.sending_id == sending_id, Assignment.program_id == program_id)
        .order_by(Section.name.collate(ORDER), Person.name.collate(ORDER))
    ).all()
    made: dict[tuple[UUID, tuple[PartMark, ...]], tuple[PrintedChunk, ...]] = {}
    sheets = []
    for done, (assignment, section, student_id, name) in enumerate(rows):
        progress(done, len(rows))
        who = Who(student_id, program_id, Role.STUDENT, name)
        hand = load_part(session, who, assignment.part_id)
        piece = session.get_one(Piece, hand.row.piece_id)
        marks = marks_in(session, who, hand.row.id)
        key = (assignment.id, marks)  # what one wrote for oneself is on no other sheet
        if key not in made:
            items = sending.items_of(session, [assignment.id])[assignment.id]
            made[key] = _chunks(session, Read(hand.part, marks), hand, items, assignment)
        code = _code_for(session, assignment, student_id)
        sheets.append(
            PracticeSheet(
                name=name,
                section=section,
                piece=piece.title,
                objectives=tuple(piece.objectives),
                part=hand.row.name,
                due=f"{assignment.due_on:%A} {assignment.due_on.day} {assignment.due_on:%B}",
                minutes_a_day=assignment.minutes_a_day,
                code=code,
                link=f"{base_url}/sheets/{code}",
                chunks=made[key],
            )
        )
    session.commit()
    return sheets


def _code_for(session: Session, assignment: Assignment, student_id: UUID) -> str:
    known = session.scalar(
        select(Sheet.code).where(
            Sheet.assignment_id == assignment.id, Sheet.student_id == student_id
        )
    )
    if known is not None:
        return known
    code = "".join(secrets.choice(_LETTERS) for _ in range(_CODE_LENGTH))
    session.add(
        Sheet(
            id=uuid4(),
            code=code,
            program_id=assignment.program_id,
            assignment_id=assignment.id,
            student_id=student_id,
        )
    )
    session.flush()
    return code


def _chunks(
    session: Session,
    read: Read,
    hand: PartInHand,
    items: Sequence[AssignmentItem],
    assignment: Assignment,
) -> tuple[PrintedChunk, ...]:
    """What is printed of an assignment, drills on one chunk together, as they were sent."""
    drills = [sending.drill_of(item) for item in items]
    needs = [drill.seconds_left(drill.rungs[0]) for drill in drills]
    shares = share_seconds(assignment.minutes_a_day * 60, needs, least=WORTH_STARTING)
    chunks = {c.id: c for c in chunks_of(session, hand, sorted({i.chunk_id for i in items}))}
    by_chunk: dict[UUID, list[PrintedDrill]] = {}
    for item, drill, seconds in zip(items, drills, shares, strict=True):
        steps = sending.steps_of(session, item.id)
        printed_drill = _drill(session, read, drill, steps, item, chunks[item.chunk_id], seconds)
        by_chunk.setdefault(item.chunk_id, []).append(printed_drill)
    marked_part = marked(hand.part, read.marks)
    return tuple(
        PrintedChunk(
            chunks[chunk_id].label,
            drawing(slice_span(marked_part, chunks[chunk_id].span), PRINTED)
            if hand.part.has_notes
            else "",
            tuple(printed_drills),
        )
        for chunk_id, printed_drills in by_chunk.items()
    )


def _drill(
    session: Session,
    read: Read,
    drill: SentDrill,
    steps: Sequence[SentStep],
    item: AssignmentItem,
    chunk: ChunkView,
    seconds: int,
) -> PrintedDrill:
    shown = [
        replace(step, notation=None) if _is_plain(step, place, chunk) else step
        for place, step in enumerate(steps)
    ]
    drawings = drawn_steps(shown, notated_steps(session, shown, read), PRINTED)
    return PrintedDrill(
        title=drill.title,
        how=drill.how,
        clean_means=drill.clean_means,
        minutes=f"{-(-seconds // 60)} min" if seconds else "when there is time",
        role="" if item.role == "focus" else item.role,
        steps=tuple(
            PrintedStep(
                name=step.name,
                count=f"×{step.repetitions}",
                say=step.say if place == 0 or step.say != steps[place - 1].say else "",
                svg=svg or "",
                burst=_burst(drill, step),
            )
            for place, (step, svg) in enumerate(zip(steps, drawings, strict=True))
        ),
        rungs=drill.rungs,
        beat_name=_BEATS.get(drill.beat, "the beat"),
        caution=drill.caution,
    )


def _is_plain(step: SentStep, place: int, chunk: ChunkView) -> bool:
    """Whether a step shows nothing that the chunk above it does not, or comes late in a chain."""
    is_whole = (step.covers.start, step.covers.end) == (chunk.span.start, chunk.span.end)
    return step.as_written and (is_whole or place >= _MOST_DRAWN)


def _burst(drill: SentDrill, step: SentStep) -> str:
    burst = step.burst_tempo(drill.goal)
    return "" if burst is None else f"as fast as the goal at {float(burst):g}"
