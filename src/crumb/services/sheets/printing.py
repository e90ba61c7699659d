"""Practice sheets: printed for a sending as a job, found again by their code."""

import secrets
from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import date
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.drills.sent import SentDrill, SentStep
from crumb.core.plan.minute_shares import WORTH_STARTING, share_seconds
from crumb.core.score.marks import PartMark, marked
from crumb.core.score.slicing import slice_span
from crumb.core.vocabulary import ItemRole, JobKind, JobState, Role
from crumb.core.words import UK
from crumb.formats.engraving import without_letters
from crumb.formats.layout import PRINTED, PRINTED_STEP
from crumb.formats.sheets import (
    PracticeSheet,
    PrintedChunk,
    PrintedDrill,
    is_drawn,
    print_sheets,
    printed_drill,
)
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.jobs import Try, get_job
from crumb.services.library.drawing import drawing
from crumb.services.library.marks import marks_in
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import ChunkView, chunks_of
from crumb.services.practice.notation import Read, drawn_steps, notated_steps
from crumb.store.files import FileStore
from crumb.store.queries import sending
from crumb.store.queries import sheets as ask
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    Job,
    Piece,
    Program,
    Sheet,
)

_LETTERS = "ABCDEFGHJKMNPQRTUVWXYZ2346789"
"""No letters or digits that look alike in handwriting."""
_CODE_LENGTH = 6


def order_sheets(
    session: Session, actor: Actor, assignment_id: UUID, *, boxes: bool = False
) -> Job:
    """Have the sheets of a whole sending printed, in the background.

    Args:
        session: of the database.
        actor: asks for them.
        assignment_id: one of the sending.
        boxes: whether each repetition has a circle to tick.

    Raises:
        NotFound: no such assignment.
    """
    sending_id = sending.sending_of(session, actor.program_id, assignment_id)
    if sending_id is None:
        raise NotFound("There is no such assignment.")
    job = Job(
        id=uuid4(),
        program_id=actor.program_id,
        person_id=actor.person_id,
        kind=JobKind.SHEETS,
        sending_id=sending_id,
        boxes=boxes,
    )
    session.add(job)
    session.flush()
    session.refresh(job)
    return job


def printed(session: Session, files: FileStore, actor: Actor, job_id: UUID) -> bytes:
    """The PDF of a set of sheets.

    Raises:
        NotFound: not here, or not printed yet.
    """
    job = get_job(session, actor, job_id, JobKind.SHEETS)
    if job.state != JobState.DONE:
        raise NotFound("These sheets are not printed yet.")
    try:
        return files.load(job.file_key)
    except FileNotFoundError:
        raise NotFound("These sheets are not kept any more. Print them again.") from None


def print_job(session: Session, attempt: Try, files: FileStore, base_url: str) -> None:
    """Make the sheets of a job and keep the PDF.

    Raises:
        CrumbError: they cannot be made; says why.
        Abandoned: nobody wants them any more.
    """
    job = session.get_one(Job, attempt.id)
    assert job.sending_id is not None
    sheets = make_sheets(
        session,
        job.program_id,
        job.sending_id,
        base_url,
        lambda done, total: attempt.tell("printing", done, total),
    )
    if not sheets:
        raise NotAccepted("No student has this assignment, so there is no sheet to print.")
    program = session.get_one(Program, job.program_id)
    data = print_sheets(sheets, paper=program.paper, boxes=job.boxes, words=program.words)
    attempt.done(session, file_key=files.save(data))


def make_sheets(
    session: Session,
    program_id: UUID,
    sending_id: UUID,
    base_url: str,
    progress: Callable[[int, int], None] = lambda done, total: None,
) -> list[PracticeSheet]:
    """A sheet for every player of a sending, in order of section and name."""
    rows = ask.receivers_in_order(session, program_id, sending_id)
    program = session.get_one(Program, program_id)
    made: dict[tuple[UUID, tuple[PartMark, ...]], tuple[PrintedChunk, ...]] = {}
    sheets = []
    for done, (assignment, section, student_id, name) in enumerate(rows):
        progress(done, len(rows))
        actor = Actor(student_id, program_id, Role.STUDENT, name)
        hand = load_part(session, actor, assignment.part_id)
        piece = session.get_one(Piece, hand.row.piece_id)
        marks = marks_in(session, actor, hand.row.id)
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
                due=_day(assignment.due_on, program.words),
                minutes_a_day=assignment.minutes_a_day,
                code=code,
                link=f"{base_url}/sheets/{code}",
                chunks=made[key],
            )
        )
    return sheets


def _day(day: date, words: str) -> str:
    """A date as the school writes it: ``Friday, December 4`` or ``Friday 4 December``."""
    if words == UK:
        return f"{day:%A} {day.day} {day:%B}"
    return f"{day:%A}, {day:%B} {day.day}"


def _code_for(session: Session, assignment: Assignment, student_id: UUID) -> str:
    known = ask.code_of(session, assignment.id, student_id)
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
    """Content of an assignment's sheets: drills on one chunk together, as they were sent."""
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
            if hand.part.is_shown
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
        step if is_drawn(step, place, chunk.span) else replace(step, notation=None)
        for place, step in enumerate(steps)
    ]
    # The chunk above shows its letters.
    notations = [xml and without_letters(xml) for xml in notated_steps(session, shown, read)]
    return printed_drill(
        drill,
        steps,
        drawn_steps(shown, notations, PRINTED_STEP),
        minutes=f"{-(-seconds // 60)} min a day" if seconds else "when there is time",
        role="" if item.role == ItemRole.FOCUS else item.role,
    )
