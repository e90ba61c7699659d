"""Take tasks: a section hands in takes of passages by a day, with a choice where there is one.

Nothing is refused for being short or late: it is told, and whoever judges sees it.
"""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from fractions import Fraction
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.score.position import whole
from crumb.core.takes.tasks import (
    TOLD_FOR,
    Choice,
    HandedInTake,
    TaskState,
    check_wanted,
    is_told,
    state_of,
)
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.library.pieces import load_part
from crumb.services.maps.chunks import get_chunk
from crumb.services.people.roster import get_section, list_sections
from crumb.services.sending.assignment_request import check_due
from crumb.services.sending.assignments import chunk_for
from crumb.services.takes import takes
from crumb.store.queries import tasks as ask
from crumb.store.queries.score_overview import seats
from crumb.store.tables import TakeChoice, TakeTask


@dataclass(frozen=True, slots=True)
class WishedTake:
    """A passage to be handed in: a chunk, or the whole part as a run-through.

    ``least_seconds``: None for as long as the passage takes at its goal.
    """

    part_id: UUID
    chunk_id: UUID | None
    least_seconds: int | None = None


@dataclass(frozen=True, slots=True)
class NewTask:
    """A task for a section; any passage of an inner tuple closes that thing."""

    section_id: UUID
    due_on: date
    wanted: tuple[tuple[WishedTake, ...], ...]


@dataclass(frozen=True, slots=True)
class AskedPassage:
    """A passage that is asked for, in words."""

    part_id: UUID
    chunk_id: UUID
    title: str
    part: str
    label: str
    least_seconds: int


@dataclass(frozen=True, slots=True)
class Thing:
    """A thing that a student owes: a take of any of these passages, and how far it is."""

    place: int
    """Its place in the task."""
    either: tuple[AskedPassage, ...]
    state: TaskState


@dataclass(frozen=True, slots=True)
class Owed:
    """A task as one student has it."""

    id: UUID
    due_on: date
    things: tuple[Thing, ...]

    @property
    def is_closed(self) -> bool:
        """Whether everything is there."""
        return all(thing.state is TaskState.DONE for thing in self.things)


@dataclass(frozen=True, slots=True)
class TaskView:
    """A task with everybody who has it, in order of name."""

    id: UUID
    section_id: UUID
    section: str
    due_on: date
    wanted: tuple[tuple[AskedPassage, ...], ...]
    owed: tuple[tuple[UUID, str, Owed], ...]

    def handed_in(self, place: int) -> int:
        """How many have done one of its things."""
        things = (thing for _, _, owed in self.owed for thing in owed.things)
        return sum(one.place == place and one.state is TaskState.DONE for one in things)


def ask_for(session: Session, actor: Actor, new: NewTask, today: date) -> UUID:
    """Ask a section for takes; the id of the task.

    Raises:
        NotFound: no such section, part or chunk.
        NotAccepted: takes are off, or a day that cannot be.
        TakeRefused: what is wanted cannot be (``crumb.core.takes.tasks``).
    """
    if not takes.rules(session, actor).is_on:
        raise NotAccepted("Takes are off: switch them on in People, with the consent they need.")
    get_section(session, actor, new.section_id)
    check_due(new.due_on, today)
    rows = [[_chosen(session, actor, wish) for wish in either] for either in new.wanted]
    check_wanted([[Choice(r.chunk_id, r.least_seconds) for r in either] for either in rows])
    task = TakeTask(
        id=uuid4(),
        program_id=actor.program_id,
        section_id=new.section_id,
        due_on=new.due_on,
        made_by_id=actor.person_id,
    )
    session.add(task)
    session.flush()
    for thing, either in enumerate(rows):
        for place, row in enumerate(either):
            row.task_id, row.thing, row.place = task.id, thing, place
            session.add(row)
    return task.id


def _chosen(session: Session, actor: Actor, wish: WishedTake) -> TakeChoice:
    hand = load_part(session, actor, wish.part_id)
    chunk_id = wish.chunk_id or chunk_for(session, hand, whole(hand.part))
    chunk = get_chunk(session, hand, chunk_id)
    least = wish.least_seconds or takes.least_on(hand, chunk)
    return TakeChoice(chunk_id=chunk_id, part_id=wish.part_id, least_seconds=least)


def withdraw(session: Session, actor: Actor, task_id: UUID, *, back: bool = False) -> None:
    """Ask for it no more, or (``back``) again; takes that came stay.

    Raises:
        NotFound: no such task, or of a section one does not look after.
    """
    task = ask.task_of(session, actor.program_id, task_id)
    if task is None:
        raise NotFound("There is no such task.")
    get_section(session, actor, task.section_id)
    task.withdrawn_at = None if back else datetime.now(UTC)


def listed(session: Session, actor: Actor, today: date) -> list[TaskView]:
    """Tasks of the actor's sections, the next due first, with who handed in what."""
    sections = {section.id: section for section in list_sections(session, actor)}
    tasks = ask.standing(session, list(sections), today - TOLD_FOR)
    if not tasks:
        return []
    students = {student for task in tasks for student, _ in sections[task.section_id].students}
    asked = _asked(session, actor, tasks, students)
    views = []
    for task in tasks:
        section = sections[task.section_id]
        owed = [(s, name, asked.owed(task, s)) for s, name in section.students]
        views.append(
            TaskView(
                id=task.id,
                section_id=section.id,
                section=section.name,
                due_on=task.due_on,
                wanted=asked.wanted(task.id),
                owed=tuple((s, name, one) for s, name, one in owed if one.things),
            )
        )
    return [view for view in views if view.wanted]


def own(session: Session, actor: Actor, today: date) -> list[Owed]:
    """Tasks of a student, the next due first; a closed task goes when it was due.

    Nothing where takes are off: it comes back with them.
    """
    if not takes.rules(session, actor).is_on:
        return []
    sections = ask.sections_of(session, actor.person_id)
    tasks = ask.standing(session, sections, today - TOLD_FOR)
    if not tasks:
        return []
    asked = _asked(session, actor, tasks, {actor.person_id})
    found = [asked.owed(task, actor.person_id) for task in tasks]
    return [
        one for one in found if one.things and is_told(one.due_on, today, is_closed=one.is_closed)
    ]


@dataclass(frozen=True, slots=True)
class _Asked:
    """Everything known of some tasks, read at once."""

    things: Mapping[UUID, Sequence[tuple[AskedPassage, ...]]]
    takes: Mapping[UUID, Sequence[ask.TakeOn]]
    """By student."""
    seats: Mapping[UUID, frozenset[UUID]]
    """The parts that each student was ever sent."""

    def wanted(self, task_id: UUID) -> tuple[tuple[AskedPassage, ...], ...]:
        return tuple(self.things.get(task_id, ()))

    def owed(self, task: TakeTask, student: UUID) -> Owed:
        """The task of a student, reduced to music that they were sent."""
        handed = [
            HandedInTake(
                take.chunk_id,
                take.handed_in_at,
                None if take.seconds is None else Fraction(take.seconds),
            )
            for take in self.takes.get(student, ())
        ]
        music = self.seats.get(student, frozenset())
        things = []
        for place, passages in enumerate(self.wanted(task.id)):
            either = tuple(p for p in passages if p.part_id in music)
            if either:
                choices = [Choice(p.chunk_id, p.least_seconds) for p in either]
                things.append(Thing(place, either, state_of(choices, handed, task.made_at)))
        return Owed(task.id, task.due_on, tuple(things))


def _asked(
    session: Session, actor: Actor, tasks: Sequence[TakeTask], students: Iterable[UUID]
) -> _Asked:
    rows = ask.choices_of(session, [task.id for task in tasks])
    named = {row.chunk_id: _named(session, actor, row) for row, _ in rows}
    things: dict[UUID, dict[int, list[AskedPassage]]] = {}
    for row, title in rows:
        passage = AskedPassage(
            row.part_id, row.chunk_id, title, *named[row.chunk_id], row.least_seconds
        )
        things.setdefault(row.task_id, {}).setdefault(row.thing, []).append(passage)
    everybody = list(students)
    taken: dict[UUID, list[ask.TakeOn]] = {}
    for take in ask.takes_on(session, list(named), everybody):
        taken.setdefault(take.student_id, []).append(take)
    return _Asked(
        {task: [tuple(either) for either in by.values()] for task, by in things.items()},
        taken,
        seats(session, list({row.part_id for row, _ in rows})),
    )


def _named(session: Session, actor: Actor, row: TakeChoice) -> tuple[str, str]:
    """The part, and where in it."""
    hand = load_part(session, actor, row.part_id)
    chunk = get_chunk(session, hand, row.chunk_id)
    is_whole = chunk.span == whole(hand.part)
    return hand.row.name, "run-through" if is_whole else chunk.label
