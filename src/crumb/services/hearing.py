"""Hearings: a director or assistant listens and judges; one cure goes to all who share a fault."""

from dataclasses import dataclass
from datetime import UTC, date, datetime
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.drills import drill_kind
from crumb.core.errors import CrumbError
from crumb.core.evidence.model import Kind, Source
from crumb.core.evidence.slips import SlipKind, cure_of
from crumb.core.hearing import Verdict, check_verdict, shared_faults, turn
from crumb.core.intake.facts import UnassignedEvidence
from crumb.core.plan.cures import CURES_BY_KEY, Cure
from crumb.core.score.position import Position
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence import symptoms
from crumb.services.evidence.record_evidence import note, take_back_of
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.library.surveys import survey_of
from crumb.services.maps.chunks import ChunkView, get_chunk
from crumb.services.people.roster import get_section, get_student, sections_with, seen_students
from crumb.services.sending import assignment_request, assignments
from crumb.services.takes import style, takes
from crumb.services.takes.style import StyleView
from crumb.services.wall import grid
from crumb.services.wall.cells import Cell
from crumb.store.queries import hearings as ask
from crumb.store.queries import locks
from crumb.store.queries.takes import on_chunk as takes_on
from crumb.store.tables import Hearing, Take

_MOST_WATCHED = 6


@dataclass(frozen=True, slots=True)
class SlipHeard:
    """A heard slip: its place, and its kind if the judge knows it."""

    at: Position
    what: SlipKind | None


@dataclass(frozen=True, slots=True)
class Judged:
    """A verdict; the device made its id, so that it is stored once.

    ``missing`` are lines of the checklist. ``cure`` is a row of the table of cures, where one thing
    is to be mended first.
    """

    id: UUID
    student_id: UUID
    chunk_id: UUID
    level: int
    reason: str = ""
    went_well: str = ""
    one_thing: str = ""
    missing: tuple[str, ...] = ()
    slips: tuple[SlipHeard, ...] = ()
    cure: str = ""
    take_id: UUID | None = None
    """The take that was heard; None: it was heard live."""

    @property
    def verdict(self) -> Verdict:
        """What of it has to be able to stand."""
        places = tuple(slip.at for slip in self.slips)
        return Verdict(self.level, self.reason, self.missing, places, self.cure)


@dataclass(frozen=True, slots=True)
class LastHeard:
    """The last hearing of a student on a chunk that still stands, and who judged."""

    hearing: Hearing
    by: str


@dataclass(frozen=True, slots=True)
class Waiting:
    """A student to be heard on a chunk."""

    student_id: UUID
    name: str
    cell: Cell
    last: LastHeard | None
    takes: tuple[Take, ...] = ()


@dataclass(frozen=True, slots=True)
class Fault:
    """A fault that several have on one chunk, and what mends it."""

    chunk: ChunkView
    cure: Cure
    students: tuple[tuple[UUID, str], ...]


@dataclass(frozen=True, slots=True)
class Sheet:
    """A judge's sheet: the chunk, who waits, notes to watch for, and how it is to be played."""

    chunk: ChunkView
    waiting: tuple[Waiting, ...]
    watch: tuple[str, ...]
    style: tuple[StyleView, ...]
    least_seconds: int


def sheet(
    session: Session, actor: Actor, part_id: UUID, section_id: UUID, chunk_id: UUID, today: date
) -> Sheet:
    """Students to hear on a chunk: first those whom a hearing can bring further, then by name.

    Raises:
        NotFound: no such part, section or chunk.
    """
    hand = load_part(session, actor, part_id)
    section = get_section(session, actor, section_id)
    chunk = get_chunk(session, hand, chunk_id)
    students = [student for student, _ in section.students]
    cells = grid.cells_on(session, hand, students, (chunk,))
    last = {s: LastHeard(*of) for s, of in ask.of_chunk(session, chunk_id, students).items()}
    taken = takes_on(session, chunk_id, students)
    found = [
        Waiting(
            student,
            name,
            cells[student, chunk.id],
            last.get(student),
            tuple(taken.get(student, ())),
        )
        for student, name in section.students
    ]
    waiting = sorted(found, key=lambda one: (_turn(one, today), one.name))
    said = tuple(style.of(session, hand, chunk))
    return Sheet(
        chunk, tuple(waiting), tuple(_watch(hand, chunk)), said, takes.least_on(hand, chunk)
    )


def _turn(one: Waiting, today: date) -> int:
    has_take = any(take.hearing_id is None for take in one.takes)
    return turn(one.cell.level, one.cell.due_on, today, has_take=has_take)


def _watch(hand: PartInHand, chunk: ChunkView) -> list[str]:
    """Notes of a chunk that are likely read wrong, in the survey's words."""
    first, last = chunk.span.start.index, chunk.span.end.index
    spots = [
        (measure.number, spot)
        for measure in survey_of(hand).measures[first : last + 1]
        for spot in measure.spots
        if spot.kind == "accidental" and chunk.span.start <= spot.at < chunk.span.end
    ]
    return list(dict.fromkeys(f"{number}: {spot.why}" for number, spot in spots))[:_MOST_WATCHED]


def last_of(session: Session, student_id: UUID) -> dict[UUID, LastHeard]:
    """The last judgement of a student, by chunk."""
    return {chunk: LastHeard(*of) for chunk, of in ask.of_student(session, student_id).items()}


def level_after(session: Session, one: Hearing) -> tuple[int, str]:
    """A chunk's level after a hearing, and the reason where it differs from the level heard."""
    level, why = ask.standing_on(session, one.student_id, one.chunk_id)
    return level, "" if level == one.level else why


def judge(session: Session, actor: Actor, part_id: UUID, judged: Judged) -> Hearing:
    """Keep a hearing: it sets the level, up or down, and what was heard leads to its cure.

    Raises:
        NotFound: no such part, chunk or student.
        HearingRefused: what was judged cannot stand (``crumb.core.hearing``).
        NotAccepted: the id belongs to another hearing.
    """
    locks.have_key(session, judged.id)
    before = ask.known(session, judged.id)
    if before is not None:
        if before.program_id != actor.program_id:
            raise NotAccepted("This hearing has the mark of another one; judge again.")
        return before
    hand = load_part(session, actor, part_id)
    chunk = get_chunk(session, hand, judged.chunk_id)
    get_student(session, actor, judged.student_id)
    if judged.take_id is not None:
        takes.check_of(session, actor, judged.take_id, judged.student_id)
    stood, _ = ask.standing_on(session, judged.student_id, chunk.id)
    check_verdict(hand.part, chunk.span, judged.verdict, before=stood)
    evidence_id = uuid4()
    one = UnassignedEvidence(
        id=evidence_id,
        part_id=part_id,
        span=chunk.span,
        at=datetime.now(UTC),
        is_clean=None,
        kind=Kind.PROVE,
        source=Source.HEARING,
        level=judged.level,
        by_id=actor.person_id,
        reason=judged.reason.strip(),
    )
    note(session, actor, judged.student_id, [one])
    row = Hearing(
        id=judged.id,
        program_id=actor.program_id,
        student_id=judged.student_id,
        part_id=part_id,
        chunk_id=chunk.id,
        evidence_id=evidence_id,
        by_id=actor.person_id,
        level=judged.level,
        before=stood,
        went_well=judged.went_well.strip(),
        one_thing=judged.one_thing.strip(),
        missing=list(judged.missing),
        slips=[
            {"index": s.at.index, "at": str(s.at.at), "what": s.what or ""} for s in judged.slips
        ],
    )
    session.add(row)
    session.flush()
    if judged.take_id is not None:
        takes.heard(session, actor, judged.take_id, row.id, judged.student_id)
    cure = judged.cure or cure_of(s.what for s in judged.slips if s.what)
    if cure:
        symptoms.say(session, actor, part_id, chunk.id, cure, student_id=judged.student_id)
    return row


def take_back(session: Session, actor: Actor, hearing_id: UUID) -> None:
    """Take a hearing back: the level is again what the other evidence says. Twice is once.

    Raises:
        NotFound: not of this program.
    """
    row = ask.known(session, hearing_id)
    if row is None or row.program_id != actor.program_id:
        raise NotFound("There is no such hearing.")
    get_student(session, actor, row.student_id)
    take_back_of(session, actor, row.student_id, [row.evidence_id])


def faults(session: Session, actor: Actor, part_id: UUID) -> list[Fault]:
    """Faults that two or more have on one chunk of a part, those of most first.

    Raises:
        NotFound: no such part.
    """
    hand = load_part(session, actor, part_id)
    seen = seen_students(session, actor)
    rows = [row for row in ask.faults_on(session, part_id) if seen is None or row[2] in seen]
    heard_of = ((row[0], row[1], (row[2], row[3])) for row in rows)
    return [
        Fault(get_chunk(session, hand, chunk_id), CURES_BY_KEY[symptom], students)
        for chunk_id, symptom, students in shared_faults(heard_of)
    ]


@dataclass(frozen=True, slots=True)
class CureRequest:
    """A fault on a chunk whose cure goes to all who have it."""

    chunk_id: UUID
    symptom: str
    due_on: date
    minutes_a_day: int


def cure_all(
    session: Session, actor: Actor, part_id: UUID, wish: CureRequest, today: date
) -> tuple[str, int]:
    """Send the first cure that fits to everybody with the fault; its title, and to how many.

    Raises:
        NotFound: no such part.
        NotAccepted: nobody has this fault any more, no cure fits this chunk, or a date or minutes
            nobody has.
    """
    assignment_request.check_due(wish.due_on, today)
    assignment_request.check_minutes(wish.minutes_a_day)
    found = [
        fault
        for fault in faults(session, actor, part_id)
        if (fault.chunk.id, fault.cure.key) == (wish.chunk_id, wish.symptom)
    ]
    if not found:
        raise NotAccepted("Fewer than two have this fault on this chunk.")
    fault = found[0]
    hand = load_part(session, actor, part_id)
    students = [student for student, _ in fault.students]
    sections = sections_with(session, actor, students)
    ladder = LadderSettings(None, hand.row.goal_bpm, None)
    for drill in fault.cure.drills:
        item = assignment_request.RequestedItem(fault.chunk.id, drill, {}, ladder)
        sending = assignment_request.AssignmentRequest(
            part_id,
            sections,
            wish.due_on,
            wish.minutes_a_day,
            (item,),
            only=frozenset(students),
        )
        try:
            with session.begin_nested():
                assignments.send(session, actor, sending, today)
        except CrumbError:
            continue
        return drill_kind(drill).title, len(students)
    raise NotAccepted("None of its cures fits this chunk: choose a drill on the bench.")
