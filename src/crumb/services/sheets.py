"""Practice sheets: printed for a sending as a job, found again by their code, ticks typed in."""

import secrets
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime
from fractions import Fraction
from typing import Protocol
from uuid import UUID, uuid4

from sqlalchemy import select
from sqlalchemy.orm import Session

from crumb.core.drills import Step, burst_of, drill_kind
from crumb.core.errors import CrumbError
from crumb.core.plan.sharing import WORTH_STARTING, share_seconds
from crumb.core.score.slicing import slice_span
from crumb.formats.engraving import PRINTED
from crumb.formats.sheets import (
    PracticeSheet,
    PrintedChunk,
    PrintedDrill,
    PrintedStep,
    print_sheets,
)
from crumb.services.assigning import items_of, worked_item
from crumb.services.bench import Worked
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.marking import marked_hand
from crumb.services.music import PartInHand, drawing, load_part
from crumb.services.splitting import get_chunk
from crumb.services.who import Who
from crumb.store.files import FileStore
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Person,
    Piece,
    Section,
    Sheet,
    SheetJob,
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


class SheetQueue(Protocol):
    """Where sheet jobs wait for a worker."""

    def put_sheets(self, job_id: UUID) -> None:
        """The job is stored; print it soon."""


def order_sheets(session: Session, who: Who, queue: SheetQueue, assignment_id: UUID) -> SheetJob:
    """Have the sheets of a whole sending printed, in the background.

    Raises:
        NotFound: no such assignment.
    """
    sending = session.scalar(
        select(Assignment.sending_id).where(
            Assignment.id == assignment_id, Assignment.program_id == who.program_id
        )
    )
    if sending is None:
        raise NotFound("There is no such assignment.")
    job = SheetJob(
        id=uuid4(), program_id=who.program_id, person_id=who.person_id, sending_id=sending
    )
    session.add(job)
    session.commit()
    queue.put_sheets(job.id)
    session.refresh(job)
    return job


def get_job(session: Session, who: Who, job_id: UUID) -> SheetJob:
    """How far a set of sheets is.

    Raises:
        NotFound: not of this program.
    """
    job = session.scalar(
        select(SheetJob).where(SheetJob.id == job_id, SheetJob.program_id == who.program_id)
    )
    if job is None:
        raise NotFound("There are no such sheets.")
    return job


def printed(session: Session, files: FileStore, who: Who, job_id: UUID) -> bytes:
    """The PDF of a set of sheets.

    Raises:
        NotFound: not here, or not printed yet.
    """
    job = get_job(session, who, job_id)
    if job.state != "done":
        raise NotFound("These sheets are not printed yet.")
    return files.load(job.file_key)


def work_off(
    new_session: Callable[[], Session], files: FileStore, job_id: UUID, base_url: str
) -> None:
    """Make the sheets of a job and keep the PDF; a failure is kept in words."""
    with new_session() as session:
        job = session.get_one(SheetJob, job_id)
        if job.state in ("done", "failed"):
            return

        def progress(done: int, total: int) -> None:
            with new_session() as aside:
                row = aside.get_one(SheetJob, job_id)
                row.state, row.done, row.total = "working", done, total
                aside.commit()

        try:
            sheets = make_sheets(session, job.program_id, job.sending_id, base_url, progress)
            if not sheets:
                raise NotAccepted("Nobody has this assignment: there is no sheet to print.")
            key = files.save(print_sheets(sheets))
        except CrumbError as error:
            session.rollback()
            _ended(session, job_id, "failed", error.message, "")
        except Exception:
            session.rollback()
            _ended(session, job_id, "failed", "Crumb had a fault while printing.", "")
            raise
        else:
            _ended(session, job_id, "done", "", key)


def give_up(new_session: Callable[[], Session], job_id: UUID) -> None:
    """It was begun more than once and never ended: say so."""
    with new_session() as session:
        if session.get_one(SheetJob, job_id).state not in ("done", "failed"):
            told = "Crumb stopped twice in the middle of printing."
            _ended(session, job_id, "failed", told, "")


def _ended(session: Session, job_id: UUID, state: str, message: str, key: str) -> None:
    job = session.get_one(SheetJob, job_id)
    session.refresh(job)
    job.state, job.message, job.file_key = state, message[:400], key
    job.ended_at = datetime.now(UTC)
    session.commit()


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
        .order_by(Section.name, Person.name)
    ).all()
    made: dict[tuple[UUID, UUID], tuple[PrintedChunk, ...]] = {}
    sheets = []
    for done, (assignment, section, student_id, name) in enumerate(rows):
        progress(done, len(rows))
        who = Who(student_id, program_id, "student", name, "", "")
        hand = load_part(session, who, assignment.part_id)
        title = session.scalar(select(Piece.title).where(Piece.id == hand.row.piece_id)) or ""
        key = (assignment.id, assignment.section_id)
        if key not in made:
            made[key] = _chunks(session, marked_hand(session, who, hand), assignment)
        code = _code_for(session, assignment, student_id)
        sheets.append(
            PracticeSheet(
                name=name,
                section=section,
                piece=title,
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


def _chunks(session: Session, hand: PartInHand, assignment: Assignment) -> tuple[PrintedChunk, ...]:
    """What is printed of an assignment, drills on one chunk together."""
    items = items_of(session, assignment.id)
    worked = [worked_item(session, hand, item) for item in items]
    needs = [w.seconds_left(w.rungs[0]) for w in worked]
    shares = share_seconds(assignment.minutes_a_day * 60, needs, least=WORTH_STARTING)
    by_chunk: dict[UUID, list[PrintedDrill]] = {}
    for item, made, seconds in zip(items, worked, shares, strict=True):
        by_chunk.setdefault(item.chunk_id, []).append(_drill(session, made, item, seconds))
    found = []
    for chunk_id, drills in by_chunk.items():
        chunk = get_chunk(session, hand, chunk_id)
        svg = drawing(session, slice_span(hand.part, chunk.span), PRINTED)
        found.append(PrintedChunk(chunk.label, svg, tuple(drills)))
    return tuple(found)


def _drill(session: Session, worked: Worked, item: AssignmentItem, seconds: int) -> PrintedDrill:
    kind = drill_kind(item.drill)
    return PrintedDrill(
        title=kind.title,
        how=kind.how,
        clean_means=kind.clean_means,
        minutes=f"{-(-seconds // 60)} min" if seconds else "when there is time",
        role="" if item.role == "focus" else item.role,
        steps=tuple(
            PrintedStep(
                name=step.name,
                count=f"×{step.repetitions}",
                say=step.say if place == 0 or step.say != worked.drill.steps[place - 1].say else "",
                svg=_printed(session, worked, place),
                burst=_burst(worked, step),
            )
            for place, step in enumerate(worked.drill.steps)
        ),
        rungs=worked.rungs,
        beat_name=_BEATS.get(worked.beat, "the beat"),
        caution=kind.caution,
    )


def _burst(worked: Worked, step: Step) -> str:
    burst = burst_of(step, worked.goal)
    return "" if burst is None else f"as fast as the goal at {float(burst):g}"


def _printed(session: Session, worked: Worked, place: int) -> str:
    """A step's drawing, where it shows something that the chunk above it does not."""
    steps = worked.drill.steps
    step = steps[place]
    is_whole = step.as_written and step.covers == worked.drill.span
    if is_whole or (place >= _MOST_DRAWN and step.as_written):
        return ""
    return drawing(session, step.part, replace(PRINTED, numbers=step.as_written))
