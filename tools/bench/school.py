"""A large school with weeks of history, made quickly: for benchmarks and for faults."""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from pathlib import Path
from random import Random
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from crumb.core.evidence.model import Evidence
from crumb.core.names import name_key
from crumb.core.score.model import Score
from crumb.core.vocabulary import Role
from crumb.demo import etude
from crumb.demo.history import repetition_id
from crumb.formats.musicxml.writer import write_part
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.library import pieces
from crumb.services.maps import chunks, edits, versions
from crumb.services.music import imports
from crumb.services.people import accounts, hashing, signing_in
from crumb.services.people.roster import create_section
from crumb.services.people.throttle import SignInOrigin
from crumb.services.sending.assignment_request import AssignmentRequest, RequestedItem
from crumb.services.sending.assignments import send
from crumb.store.codecs.evidence import evidence_row
from crumb.store.files import FolderStore
from crumb.store.queries import evidence, sending
from crumb.store.tables import Assignment, Person, SectionMember

TEMPO = Fraction(106)


@dataclass(frozen=True)
class LargeSchool:
    """Who and what there is: students with a session's token and the drills each was sent."""

    actor: Actor
    part_id: UUID
    students: tuple[UUID, ...]
    tokens: tuple[str, ...]
    items: tuple[tuple[UUID, ...], ...]


def large_school(session: Session, files: Path, *, students: int, drills: int = 4) -> LargeSchool:
    """A program with sections of forty, an etude in one-measure chunks, and drills sent to all."""
    person = accounts.create_first_director(
        session,
        program="Large school",
        name="Director",
        email=f"{uuid4().hex[:8]}@bench.example",
        password="a long enough password",  # noqa: S106 - invented
    )
    actor = Actor(person.id, person.program_id, Role.DIRECTOR)
    people = _people(session, actor, students)
    part = etude.clarinet_etude()
    data = write_part(part, title=etude.TITLE).encode()
    piece = imports.store_score(
        session,
        FolderStore(files),
        actor,
        score=Score("Etude", "", (part,)),
        file_name="e",
        data=data,
    )
    part_id = next(p.id for q, ps in pieces.list_pieces(session, actor) for p in ps if q == piece)
    versions.apply(session, actor, part_id, 0, edits.by_measures(1))
    hand = pieces.load_part(session, actor, part_id)
    wanted = chunks.view_map(session, hand).chunks[9 : 9 + drills]
    ladder = LadderSettings(TEMPO, TEMPO, Fraction(4))
    today = datetime.now(UTC).date()
    wish = AssignmentRequest(
        part_id=part_id,
        section_ids=tuple(people),
        due_on=today + timedelta(days=30),
        minutes_a_day=20,
        items=tuple(RequestedItem(c.id, "alone", {}, ladder) for c in wanted),
    )
    sent = send(session, actor, wish, today)
    session.query(Assignment).filter_by(sending_id=sent).update(
        {"sent_at": datetime.now(UTC) - timedelta(days=60)}
    )
    session.commit()
    opened = _opened(session, actor, part_id, sent)
    session.commit()
    return opened


def _people(session: Session, actor: Actor, count: int) -> list[UUID]:
    secret = hashing.hash_secret("246810")
    sections: list[UUID] = []
    for place in range(count):
        if place % 40 == 0:
            sections.append(create_section(session, actor, f"Clarinet {place // 40 + 1}").id)
        name = f"Student {place}"
        person = Person(
            id=uuid4(),
            program_id=actor.program_id,
            role=Role.STUDENT,
            name=name,
            name_key=name_key(name),
            secret_hash=secret,
        )
        session.add(person)
        session.flush()
        session.add(SectionMember(section_id=sections[-1], person_id=person.id))
    session.commit()
    return sections


def _opened(session: Session, actor: Actor, part_id: UUID, sent: UUID) -> LargeSchool:
    """All students signed in. Everybody's first assignment has the same drills: one is enough."""
    first = session.query(Assignment).filter_by(sending_id=sent).order_by(Assignment.id).all()
    members = {
        a.section_id: [
            m.person_id for m in session.query(SectionMember).filter_by(section_id=a.section_id)
        ]
        for a in first
    }
    students, tokens, items = [], [], []
    for assignment in first:
        found = sending.items_of(session, [assignment.id])[assignment.id]
        for student in members[assignment.section_id]:
            token = signing_in.begin_session(
                session, session.get_one(Person, student), SignInOrigin("127.0.0.1")
            )
            students.append(student)
            tokens.append(token)
            items.append(tuple(item.id for item in found))
    return LargeSchool(actor, part_id, tuple(students), tuple(tokens), tuple(items))


def add_history(session: Session, school: LargeSchool, *, rows: int, days: int = 42) -> None:
    """So many repetitions over all students and the last weeks, levels and climbs included."""
    random = Random("history")  # noqa: S311 - invented history
    each = rows // len(school.students)
    now = datetime.now(UTC)
    steps = {}
    for student, items in zip(school.students, school.items, strict=True):
        made = []
        for place in range(each):
            item = items[place % len(items)]
            if item not in steps:
                steps[item] = sending.steps_of(session, item)[0]
            step = steps[item]
            at = (
                now
                - timedelta(days=days)
                + timedelta(days=(days - 2) * place / each, seconds=random.random() * 100)
            )
            played = Evidence(
                span=step.covers,
                at=at,
                id=repetition_id(random, at).int,
                tempo=TEMPO,
                is_clean=random.random() < 0.6,
                kind=step.kind,
            )
            made.append(
                evidence_row(
                    played,
                    program_id=school.actor.program_id,
                    student_id=student,
                    part_id=school.part_id,
                    zone=UTC,
                    item_id=item,
                    step=0,
                    step_name=step.name,
                )
            )
        evidence.put(session, evidence=made)
        session.commit()
