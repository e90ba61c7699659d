"""Sections and students."""

import secrets
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from uuid import UUID, uuid4

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from crumb.core.names import name_key
from crumb.core.vocabulary import Role
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotFound
from crumb.services.people.hashing import hash_secret, hash_secrets
from crumb.store.queries import people as ask
from crumb.store.tables import Person, Section, SectionMember


@dataclass(frozen=True, slots=True)
class SectionView:
    """A section with its students in order of name."""

    id: UUID
    name: str
    students: tuple[tuple[UUID, str], ...]


@dataclass(frozen=True, slots=True)
class NewPin:
    """A PIN in clear: shown once, when it is made."""

    student_id: UUID
    name: str
    pin: str


def list_sections(session: Session, actor: Actor) -> list[SectionView]:
    """All sections of the program, or those that somebody looks after."""
    found = ask.sections_of_program(session, actor.program_id)
    sections = [section for section in found if actor.sees(section.id)]
    members: dict[UUID, list[tuple[UUID, str]]] = {}
    for section_id, person_id, name in ask.members_of_program(session, actor.program_id):
        members.setdefault(section_id, []).append((person_id, name))
    return [SectionView(s.id, s.name, tuple(members.get(s.id, ()))) for s in sections]


def get_section(session: Session, actor: Actor, section_id: UUID) -> SectionView:
    """One section.

    Raises:
        NotFound: not in this program.
    """
    for section in list_sections(session, actor):
        if section.id == section_id:
            return section
    raise NotFound("There is no such section.")


def sections_with(session: Session, actor: Actor, students: Iterable[UUID]) -> tuple[UUID, ...]:
    """The sections in which any of some students plays."""
    wanted = set(students)
    return tuple(
        section.id
        for section in list_sections(session, actor)
        if wanted & {student for student, _ in section.students}
    )


def sections_of(session: Session, person_id: UUID) -> list[UUID]:
    """The sections a student plays in."""
    return sections_by_student(session, [person_id])[person_id]


def sections_by_student(session: Session, students: Sequence[UUID]) -> dict[UUID, list[UUID]]:
    """The sections that each of some students plays in."""
    found: dict[UUID, list[UUID]] = {student_id: [] for student_id in students}
    for student_id, section_id in ask.memberships(session, students):
        found[student_id].append(section_id)
    return found


def create_section(session: Session, actor: Actor, name: str) -> SectionView:
    """A new, empty section.

    Raises:
        NotAccepted: the name is empty or taken.
    """
    tidy = " ".join(name.split())
    key = name_key(name)
    if not key:
        raise NotAccepted("A section needs a name.")
    section = Section(id=uuid4(), program_id=actor.program_id, name=tidy, name_key=key)
    session.add(section)
    try:
        with session.begin_nested():
            session.flush()
    except IntegrityError as error:
        raise NotAccepted(f"There is a section called {tidy} already.") from error
    return SectionView(section.id, section.name, ())


def add_students(
    session: Session, actor: Actor, section_id: UUID, names: list[str]
) -> list[NewPin]:
    """New students in a section, each with a fresh PIN.

    Raises:
        NotFound: no such section.
        NotAccepted: no name, or a name the program has already (students sign in by name).
    """
    get_section(session, actor, section_id)
    tidy = [" ".join(name.split()) for name in names if name_key(name)]
    if not tidy:
        raise NotAccepted("Write at least one name.")
    keys = [name_key(name) for name in tidy]
    taken = ask.taken_names(session, actor.program_id, Role.STUDENT, keys)
    twice = {key for key in keys if keys.count(key) > 1} | taken
    if twice:
        raise _twice([name for name in tidy if name_key(name) in twice])
    made = []
    pins = [new_pin() for _ in tidy]
    hashes = hash_secrets(pins)
    for name, key, pin, hashed in zip(tidy, keys, pins, hashes, strict=True):
        person = Person(
            id=uuid4(),
            program_id=actor.program_id,
            role=Role.STUDENT,
            name=name,
            name_key=key,
            email=None,
            secret_hash=hashed,
        )
        session.add(person)
        made.append(NewPin(person.id, name, pin))
    try:
        session.flush()
    except IntegrityError as error:  # somebody else was adding the same name just now
        raise _twice(tidy) from error
    session.add_all(SectionMember(section_id=section_id, person_id=pin.student_id) for pin in made)
    session.flush()
    return made


def _twice(names: list[str]) -> NotAccepted:
    shown = ", ".join(sorted(set(names)))
    return NotAccepted(
        f"Students sign in by name, so each name can stand once: {shown}. Add an initial."
    )


def new_pin() -> str:
    """Six digits: short enough for a child, too many for whoever guesses."""
    return f"{secrets.randbelow(1_000_000):06d}"


def renew_pin(session: Session, actor: Actor, student_id: UUID) -> NewPin:
    """A new PIN for a student; the student's sessions end.

    Raises:
        NotFound: no such student in this program.
    """
    person = get_student(session, actor, student_id)
    pin = new_pin()
    person.secret_hash = hash_secret(pin)
    ask.sign_out(session, person.id)
    return NewPin(person.id, person.name, pin)


def get_student(session: Session, actor: Actor, student_id: UUID) -> Person:
    """A student of the program.

    Raises:
        NotFound: no such student here, or none that this person looks after.
    """
    person = ask.person_of(session, actor.program_id, student_id, Role.STUDENT)
    if person is None or not _is_seen(session, actor, student_id):
        raise NotFound("There is no such student.")
    return person


def _is_seen(session: Session, actor: Actor, student_id: UUID) -> bool:
    return actor.sections is None or not actor.sections.isdisjoint(sections_of(session, student_id))


def seen_students(session: Session, actor: Actor) -> frozenset[UUID] | None:
    """The students that somebody looks after; None: everybody."""
    if actor.sections is None:
        return None
    return frozenset(
        student for section in list_sections(session, actor) for student, _ in section.students
    )


def set_leader(
    session: Session, actor: Actor, section_id: UUID, student_id: UUID, *, is_leader: bool
) -> None:
    """Say whether a student leads a section: a leader's marks reach every copy of it.

    Raises:
        NotFound: the student does not play there.
    """
    get_section(session, actor, section_id)
    member = session.get(SectionMember, (section_id, student_id))
    if member is None:
        raise NotFound("There is no such student in this section.")
    member.is_leader = is_leader


def leaders_of(session: Session, actor: Actor) -> set[tuple[UUID, UUID]]:
    """(section, student) of every section leader of the program."""
    return set(ask.leaders(session, actor.program_id))
