"""Sending chunks and drills: to sections or some of their players, changed or withdrawn later."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy import func, select
from sqlalchemy.orm import Session, defer

from crumb.core.errors import CrumbError
from crumb.core.plan.sharing import WORTH_STARTING, share_seconds
from crumb.core.score.position import Span
from crumb.services.drills.working import LadderSettings, work_out
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.evidence import levels
from crumb.services.library.pieces import PartInHand, load_part
from crumb.services.maps.chunks import (
    ChunkView,
    chunks_of,
    get_chunk,
    keep_chunks,
    known_chunk,
)
from crumb.services.music.versions import keep
from crumb.services.people.roster import SectionView, get_section
from crumb.services.sending.freezing import store_frozen
from crumb.services.sending.receiving import Bundle, ItemGot, ItemWish, bundles, level_on, levels_of
from crumb.services.who import Who
from crumb.store.queries import locks, sending
from crumb.store.tables import (
    Assignment,
    AssignmentItem,
    AssignmentStudent,
    Piece,
    PiecePart,
    Section,
)

MOST_ITEMS = 40
ROLES = ("focus", "upkeep")
MOST_EVERY = 7


@dataclass(frozen=True, slots=True)
class WishedItem:
    """A drill on a chunk, by the chunk's id."""

    chunk_id: UUID
    drill: str
    settings: Mapping[str, object]
    ladder: LadderSettings
    role: str = "focus"
    every: int = 1
    """For every so-many-th day of practice."""


@dataclass(frozen=True, slots=True)
class Wish:
    """What is to be sent to whom until when; ``only`` narrows the sections to some students."""

    part_id: UUID
    section_ids: tuple[UUID, ...]
    due_on: date
    minutes_a_day: int
    items: tuple[WishedItem, ...]
    left_out: frozenset[UUID] = frozenset()
    only: frozenset[UUID] | None = None
    exceptions: Mapping[UUID, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Line:
    """One line of a student's first day."""

    chunk: str
    drill: str
    seconds: int
    level: int
    role: str
    note: str


@dataclass(frozen=True, slots=True)
class StudentGets:
    """What one student will get."""

    student_id: UUID
    name: str
    section: str
    part: str
    lines: tuple[Line, ...]
    is_left_out: bool
    exception: str
    due_on: date
    why_nothing: str
    plays: str = ""
    """Another part of the piece, if that is what they were sent before and never this one."""


@dataclass(frozen=True, slots=True)
class Preview:
    """An assignment before it is sent."""

    students: tuple[StudentGets, ...]
    climb_seconds: int
    available_seconds: int
    days: int


def preview(session: Session, who: Who, wish: Wish, today: date) -> Preview:
    """What each student will get on the first day, and whether the climb fits the days there are.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    found = _bundles(session, who, wish, today)
    students: list[StudentGets] = []
    played = _played(session, found)
    for bundle in found:
        levels = levels_of(session, bundle.reading, [s for s, _ in bundle.students])
        needs = [item.worked.seconds_left(item.worked.rungs[0]) for item in bundle.items]
        shares = share_seconds(wish.minutes_a_day * 60, needs, least=WORTH_STARTING)
        students += [
            StudentGets(
                student_id=student_id,
                name=name,
                section=bundle.section.name,
                part=bundle.reading.row.name,
                lines=tuple(
                    _line(item, seconds, level_on(levels, student_id, item.span))
                    for item, seconds in zip(bundle.items, shares, strict=True)
                ),
                is_left_out=student_id in wish.left_out,
                exception=bundle.exception,
                due_on=bundle.due_on,
                why_nothing=bundle.why_nothing,
                plays=_elsewhere(played.get(student_id, {}), bundle.reading.row.id),
            )
            for student_id, name in bundle.students
        ]
    days = (wish.due_on - today).days + 1
    longest = max(
        (
            sum((i.worked.seconds_left(i.worked.rungs[0]) for i in b.items), Fraction(0))
            for b in found
        ),
        default=Fraction(0),
    )
    return Preview(
        tuple(sorted(students, key=lambda s: (s.section, s.name))),
        -int(-longest // 1),
        days * wish.minutes_a_day * 60,
        days,
    )


def _played(session: Session, found: Sequence[Bundle]) -> dict[UUID, dict[UUID, str]]:
    students = [student for bundle in found for student, _ in bundle.students]
    pieces = {bundle.reading.row.piece_id for bundle in found}
    played: dict[UUID, dict[UUID, str]] = {}
    for piece_id in pieces:
        played.update(sending.parts_played(session, piece_id, students))
    return played


def _elsewhere(parts: Mapping[UUID, str], part_id: UUID) -> str:
    """What somebody of a divided section plays, where it is not this part."""
    return "" if part_id in parts else ", ".join(sorted(parts.values()))


def _line(item: ItemGot, seconds: int, level: int) -> Line:
    return Line(item.label, item.worked.drill.name, seconds, level, item.role, item.note)


def send(session: Session, who: Who, wish: Wish, today: date) -> UUID:
    """Store the assignments of one sending; from now on their students see them.

    Returns:
        The sending's id.

    Raises:
        CrumbError: something in the wish cannot be; says what.
    """
    found = _bundles(session, who, wish, today)
    original = load_part(session, who, wish.part_id)
    sending_id, now = uuid4(), datetime.now(UTC)
    sent = 0
    for bundle in found:
        receivers = [s for s, _ in bundle.students if s not in wish.left_out]
        if not receivers or not bundle.items:
            continue
        keep(session, original, bundle.reading)
        _store(session, who, wish, bundle, (sending_id, now), receivers)
        sent += len(receivers)
    if not sent:
        names = " or ".join(bundle.section.name for bundle in found[:3])
        raise NotAccepted(f"Nobody is left to send this to in {names}.")
    session.commit()
    return sending_id


def _store(
    session: Session,
    who: Who,
    wish: Wish,
    bundle: Bundle,
    sending: tuple[UUID, datetime],
    receivers: Sequence[UUID],
) -> None:
    assignment = Assignment(
        id=uuid4(),
        sending_id=sending[0],
        exception=bundle.exception,
        program_id=who.program_id,
        part_id=bundle.reading.row.id,
        section_id=bundle.section.id,
        due_on=bundle.due_on,
        minutes_a_day=wish.minutes_a_day,
        sent_at=sending[1],
        withdrawn_at=None,
    )
    store(session, assignment, receivers)
    for place, item in enumerate(bundle.items):
        store_item(session, assignment.id, place, bundle.reading, item)


def store(session: Session, assignment: Assignment, receivers: Iterable[UUID]) -> None:
    """Write down that something is sent, and to whom; its drills follow."""
    session.add(assignment)
    session.flush()
    for student_id in receivers:
        session.add(AssignmentStudent(assignment_id=assignment.id, student_id=student_id))
    session.flush()


def store_item(
    session: Session,
    assignment_id: UUID,
    place: int,
    reading: PartInHand,
    item: ItemGot,
    minutes: int | None = None,
) -> AssignmentItem:
    """A drill of an assignment, written down as it is now."""
    row = AssignmentItem(
        id=uuid4(),
        assignment_id=assignment_id,
        place=place,
        chunk_id=chunk_for(session, reading, item.span),
        drill=item.worked.drill.name,
        settings=item.worked.drill.settings,
        start_bpm=item.worked.start,
        goal_bpm=item.worked.goal,
        step_bpm=item.worked.step,
        role=item.role,
        minutes=minutes,
        every=item.every,
        note=item.note[:200],
    )
    session.add(row)
    store_frozen(session, row, reading.part, item.worked)
    return row


def chunk_for(session: Session, hand: PartInHand, span: Span) -> UUID:
    """The chunk of a part with exactly this span, made if there is none yet.

    Only a new one locks the part: who is going to lock a student calls this before that.
    """
    known = known_chunk(session, hand, span)
    if known is not None:
        return known
    locks.have_part(session, hand.row.id)  # nobody plays what it shall be graded by meanwhile
    ids, made = keep_chunks(session, hand, [[span]])
    levels.refresh_chunks(session, hand, made)
    return ids[0][0]


# Changing ---------------------------------------------------------------------------------------


def withdraw(session: Session, who: Who, assignment_id: UUID, *, back: bool = False) -> None:
    """Take a whole sending back, or (``back``) bring it back; what was played stays evidence.

    Raises:
        NotFound: not of this program.
    """
    for row in _sending_of(session, who, assignment_id):
        row.withdrawn_at = None if back else datetime.now(UTC)
    session.commit()


def change(
    session: Session,
    who: Who,
    assignment_id: UUID,
    *,
    due_on: date | None,
    minutes_a_day: int | None,
    today: date,
) -> None:
    """Another date or other minutes for a whole sending; a later date of its own moves along.

    Raises:
        NotFound, NotAccepted: not here, or no such date or minutes.
    """
    rows = _sending_of(session, who, assignment_id)
    first = min(row.due_on for row in rows)
    if due_on is not None:
        check_due(due_on, today)
        for row in rows:
            row.due_on = due_on + (row.due_on - first)
    if minutes_a_day is not None:
        check_minutes(minutes_a_day)
        for row in rows:
            row.minutes_a_day = minutes_a_day
    session.commit()


def drop_item(session: Session, who: Who, item_id: UUID, *, back: bool = False) -> None:
    """Take one drill out of an assignment, or bring it back; its repetitions stay evidence.

    Raises:
        NotFound: not of this program.
        NotAccepted: it is the last one; withdraw the whole instead.
    """
    item = session.scalar(
        select(AssignmentItem)
        .join(Assignment, Assignment.id == AssignmentItem.assignment_id)
        .where(AssignmentItem.id == item_id, Assignment.program_id == who.program_id)
    )
    if item is None:
        raise NotFound("There is no such drill in an assignment.")
    if not back and len(_open_items(session, item.assignment_id)) < 2:
        raise NotAccepted("This is its last drill: withdraw the whole assignment instead.")
    item.removed_at = None if back else datetime.now(UTC)
    session.commit()


def add_item(session: Session, who: Who, assignment_id: UUID, wished: WishedItem) -> None:
    """One more drill for everybody in an assignment, on a chunk of its own part.

    Raises:
        NotFound, CrumbError: no such assignment or chunk, or the drill does not fit.
    """
    row = _one(session, who, assignment_id)
    hand = load_part(session, who, row.part_id)
    if len(_open_items(session, row.id)) >= MOST_ITEMS:
        raise NotAccepted(f"That is more than {MOST_ITEMS} drills at once.")
    wish = _item_wish(session, hand, wished)
    worked = work_out(hand, wish.chunk.span, wish.drill, wish.settings, wish.ladder)
    got = ItemGot(
        wish.chunk.span, wish.chunk.label, worked, wish.ladder, wish.role, every=wish.every
    )
    last = session.scalar(
        select(func.max(AssignmentItem.place)).where(AssignmentItem.assignment_id == row.id)
    )
    store_item(session, row.id, (last or 0) + 1, hand, got)
    session.commit()


def _open_items(session: Session, assignment_id: UUID) -> list[AssignmentItem]:
    return sending.items_of(session, [assignment_id])[assignment_id]


def _one(session: Session, who: Who, assignment_id: UUID) -> Assignment:
    assignment = session.scalar(
        select(Assignment).where(
            Assignment.id == assignment_id, Assignment.program_id == who.program_id
        )
    )
    if assignment is None:
        raise NotFound("There is no such assignment.")
    return assignment


def _sending_of(session: Session, who: Who, assignment_id: UUID) -> Sequence[Assignment]:
    one = _one(session, who, assignment_id)
    return session.scalars(
        select(Assignment).where(
            Assignment.sending_id == one.sending_id, Assignment.program_id == who.program_id
        )
    ).all()


# Looking ----------------------------------------------------------------------------------------


@dataclass(frozen=True, slots=True)
class ItemView:
    """A drill in an assignment."""

    id: UUID
    chunk: str
    title: str
    role: str
    every: int
    note: str
    is_removed: bool


@dataclass(frozen=True, slots=True)
class AssignmentView:
    """An assignment in the director's list."""

    assignment: Assignment
    title: str
    part_name: str
    section_name: str
    students: int
    items: tuple[ItemView, ...]


def list_assignments(session: Session, who: Who) -> list[AssignmentView]:
    """All assignments of the program, newest first."""
    rows = session.execute(
        select(Assignment, PiecePart, Piece.title, Section.name)
        .join(PiecePart, PiecePart.id == Assignment.part_id)
        .join(Piece, Piece.id == PiecePart.piece_id)
        .join(Section, Section.id == Assignment.section_id)
        .where(
            Assignment.program_id == who.program_id,
            Assignment.plan_id.is_(None),
            Piece.deleted_at.is_(None),
        )
        .order_by(Assignment.sent_at.desc(), Section.name, Assignment.exception)
        .options(defer(PiecePart.notation), defer(PiecePart.survey))
    ).all()
    counted = session.execute(
        select(AssignmentStudent.assignment_id, func.count())
        .join(Assignment, Assignment.id == AssignmentStudent.assignment_id)
        .where(Assignment.program_id == who.program_id)
        .group_by(AssignmentStudent.assignment_id)
    )
    counts = {row[0]: row[1] for row in counted}
    by_assignment: dict[UUID, list[AssignmentItem]] = {}
    for item in session.scalars(
        select(AssignmentItem)
        .join(Assignment, Assignment.id == AssignmentItem.assignment_id)
        .where(Assignment.program_id == who.program_id)
        .order_by(AssignmentItem.place)
    ):
        by_assignment.setdefault(item.assignment_id, []).append(item)
    labels: dict[UUID, str] = {}
    for part_id in {part.id for _, part, _, _ in rows}:
        wanted = {
            item.chunk_id
            for assignment, part, _, _ in rows
            if part.id == part_id
            for item in by_assignment.get(assignment.id, ())
        }
        hand = load_part(session, who, part_id)
        labels |= {c.id: c.label for c in chunks_of(session, hand, sorted(wanted))}
    return [
        AssignmentView(
            assignment,
            title,
            part.name,
            section,
            counts.get(assignment.id, 0),
            tuple(
                ItemView(
                    i.id,
                    labels[i.chunk_id],
                    sending.drill_of(i).title,
                    i.role,
                    i.every,
                    i.note,
                    i.removed_at is not None,
                )
                for i in by_assignment.get(assignment.id, ())
            ),
        )
        for assignment, part, title, section in rows
    ]


# Checking ---------------------------------------------------------------------------------------


def check_due(due_on: date, today: date) -> None:
    """Whether something can be due on a day.

    Raises:
        NotAccepted: it is past, or too far off.
    """
    if due_on < today:
        raise NotAccepted("The due date has passed already.")
    if (due_on - today).days > 366:
        raise NotAccepted("The due date is more than a year away.")


def check_minutes(minutes: int) -> None:
    """Whether somebody can be asked for so many minutes a day.

    Raises:
        NotAccepted: nobody can.
    """
    if not 5 <= minutes <= 120:
        raise NotAccepted("Ask for between 5 and 120 minutes a day.")


def _item_wish(session: Session, hand: PartInHand, item: WishedItem) -> ItemWish:
    if item.role not in ROLES:
        raise NotAccepted(f"A drill is {' or '.join(ROLES)}.")
    if not 1 <= item.every <= MOST_EVERY:
        raise NotAccepted(f"A drill comes every day of practice, or up to every {MOST_EVERY}th.")
    chunk: ChunkView = get_chunk(session, hand, item.chunk_id)
    return ItemWish(chunk, item.drill, item.settings, item.ladder, item.role, item.every)


def _bundles(session: Session, who: Who, wish: Wish, today: date) -> list[Bundle]:
    hand = load_part(session, who, wish.part_id)
    sections = [get_section(session, who, section_id) for section_id in wish.section_ids]
    if not sections:
        raise NotAccepted("Choose at least one section.")
    check_due(wish.due_on, today)
    check_minutes(wish.minutes_a_day)
    if not wish.items:
        raise NotAccepted("Choose at least one chunk and a drill for it.")
    if len(wish.items) > MOST_ITEMS:
        raise NotAccepted(f"That is more than {MOST_ITEMS} drills at once; send fewer.")
    items = [_item_wish(session, hand, item) for item in wish.items]
    found: list[Bundle] = []
    seen: set[UUID] = set()
    for section in sections:
        # Who plays in two of the sections gets it once, in the first that was named.
        chosen = _narrowed(section, wish.only, without=seen)
        if not chosen.students:
            continue
        seen |= {student_id for student_id, _ in chosen.students}
        try:
            found += bundles(
                session,
                who,
                hand,
                chosen,
                items,
                due_on=wish.due_on,
                exceptions=wish.exceptions,
            )
        except CrumbError as error:
            if len(sections) == 1:
                raise
            raise NotAccepted(f"{section.name}: {error.message}") from error
    if not found:
        raise NotAccepted(f"There is nobody in {sections[0].name} yet.")
    return found


def _narrowed(
    section: SectionView, only: frozenset[UUID] | None, *, without: set[UUID]
) -> SectionView:
    students = tuple(
        s for s in section.students if s[0] not in without and (only is None or s[0] in only)
    )
    return SectionView(section.id, section.name, students)
