"""Fill an empty database with the demo: ``python -m crumb.demo.seed``.

Everything goes in through the same use cases that serve the product; running it again changes
nothing.
"""

import sys
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from fractions import Fraction
from random import Random
from uuid import UUID
from zoneinfo import ZoneInfo

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from crumb.core.names import name_key
from crumb.core.score.model import Part, Score
from crumb.core.score.position import Position, whole
from crumb.core.vocabulary import ItemRole, Role
from crumb.demo import auditions, ensembles, etude, people, slips, takes
from crumb.demo.auditions import AuditionEtude
from crumb.demo.history import player
from crumb.demo.playing import DAYS_OF_HISTORY, long_over, play
from crumb.formats.layout import PAGE
from crumb.formats.musicxml.writer import write_part
from crumb.jobs.recomputing import rebuild
from crumb.services.access import Actor
from crumb.services.drills.bench import LadderSettings
from crumb.services.library import pieces
from crumb.services.library.drawing import drawing
from crumb.services.maps import chunks, edits, versions
from crumb.services.music import imports, seating
from crumb.services.people import accounts, hashing
from crumb.services.people.roster import (
    SectionView,
    create_section,
    list_sections,
    set_leader,
)
from crumb.services.planning import plans
from crumb.services.planning.plan_settings import PlanSettings
from crumb.services.sending.assignment_request import AssignmentRequest, RequestedItem
from crumb.services.sending.assignments import chunk_for, send
from crumb.services.wall import leader_view
from crumb.store.files import FileStore, Sounds, get_files, get_sounds
from crumb.store.session import new_session
from crumb.store.tables import (
    Assignment,
    Person,
    Program,
    SectionMember,
)
from crumb.store.unit_of_work import NewSession, unit_of_work

AUDITION_IN_DAYS = 19
AUDITION_BEGUN_DAYS_AGO = 22
AUDITIONEES = 3
"""First chairs of a section who prepare an etude of their own."""
LADDER = LadderSettings(Fraction(etude.START), Fraction(etude.GOAL), Fraction(etude.STEP))
UPKEEP = (0, 3)
"""Measures whose chunks were learned before: kept going, not this week's focus."""
_DRILLS: tuple[tuple[int, str, dict[str, object]], ...] = (
    (13, "long-short", {}),
    (13, "alone", {}),
    (15, "backward", {}),
    (15, "alone", {}),
    (11, "alone", {}),
    (25, "hold", {"hold": 2}),
    (25, "alone", {}),
    (3, "alone", {}),
    (0, "alone", {}),
)
"""Measure (by index), drill, settings."""
ACCOUNTS = f"""\
  director   {people.DIRECTOR[1]}   password {people.DIRECTOR[2]}
  student    class code {people.CLASS_CODE}   name {{student}}   PIN {people.PIN}
"""


def seed(new_session: NewSession, files: FileStore, sounds: Sounds) -> str:
    """Make the demo if there is none; the accounts to show."""
    names = people.roster()
    told = ACCOUNTS.format(student=names["Clarinets"][0])
    known = select(func.count()).select_from(Program).where(Program.name == people.SCHOOL)
    with unit_of_work(new_session) as session:
        if session.scalar(known):
            return told
        actor = _director(session)
        for section, students in names.items():
            _fill(session, actor, create_section(session, actor, section), students)
    # Pieces are listed in the order in which they came: each comes in an act of its own.
    for ensemble in (ensembles.strings(), ensembles.band()):
        with unit_of_work(new_session) as session:
            ensembles.bring_in(session, files, actor, ensemble)
    for wanted in (auditions.violin_etude(), auditions.trombone_etude()):
        with unit_of_work(new_session) as session:
            sections = {section.name: section for section in list_sections(session, actor)}
            _audition(session, files, actor, wanted, sections[wanted.section])
    with unit_of_work(new_session) as session:
        _lead(session, actor, sections["Flutes"])
        part_id = _etude(session, files, actor)
        clarinets = sections["Clarinets"]
        _learned_before(session, actor, part_id, clarinets)
        _assign(session, actor, part_id, clarinets)
    rebuild(new_session)
    with unit_of_work(new_session) as session:
        _plan(session, actor, part_id, clarinets)
        slips.name_some(session, actor, part_id)
        takes.hand_in(session, sounds, actor, part_id, clarinets)
    return told


def _director(session: Session) -> Actor:
    name, email, password = people.DIRECTOR
    person = accounts.create_first_director(
        session, program=people.SCHOOL, name=name, email=email, password=password
    )
    program = session.get_one(Program, person.program_id)
    program.class_code = people.CLASS_CODE
    session.flush()
    return Actor(person.id, program.id, Role.DIRECTOR, name, program.name, program.class_code)


def _fill(session: Session, actor: Actor, section: SectionView, names: Sequence[str]) -> None:
    secret = hashing.hash_secret(people.PIN)
    random = Random(section.name)  # noqa: S311 - invented ids, no secret
    for name in names:
        person = Person(
            id=UUID(int=random.getrandbits(128), version=4),
            program_id=actor.program_id,
            role=Role.STUDENT,
            name=name,
            name_key=name_key(name),
            email=None,
            secret_hash=secret,
        )
        session.add(person)
        session.flush()
        session.add(SectionMember(section_id=section.id, person_id=person.id))
    session.flush()


def _lead(session: Session, actor: Actor, section: SectionView) -> None:
    """The first chair leads, and half of the others are counted for them."""
    (leader, _), *others = section.students
    set_leader(session, actor, section.id, leader, is_leader=True)
    for student, name in others[::2]:
        own = Actor(student, actor.program_id, Role.STUDENT, name)
        leader_view.show(session, own, section.id, shows=True)


def _bring_in(
    session: Session, files: FileStore, actor: Actor, part: Part, title: str, file_name: str
) -> UUID:
    """A piece of one part; the part's id."""
    score = Score(title, people.COMPOSER, (part,))
    data = write_part(part, title=title, composer=people.COMPOSER).encode()
    piece = imports.store_score(session, files, actor, score=score, file_name=file_name, data=data)
    _, parts = pieces.piece_with_parts(session, actor, piece.id)
    return parts[0].id


def _audition(
    session: Session, files: FileStore, actor: Actor, wanted: AuditionEtude, section: SectionView
) -> None:
    """An etude that the first chairs of a section prepare, some weeks in."""
    part_id = _bring_in(session, files, actor, wanted.part, wanted.title, wanted.file_name)
    seat = seating.PartWish(part_id, False, wanted.part.instrument, (section.id,))
    hand = pieces.load_part(session, actor, part_id)
    seating.put_parts(session, actor, hand.row.piece_id, [seat])
    view = versions.apply(session, actor, part_id, 0, edits.by_measures(4))
    ladder = LadderSettings(Fraction(wanted.start), Fraction(wanted.goal), Fraction(wanted.step))
    first_chairs = [student for student, _ in section.students[:AUDITIONEES]]
    today = datetime.now().astimezone().date()
    items = tuple(RequestedItem(c.id, "alone", {}, ladder) for c in view.chunks)
    only = frozenset(first_chairs)
    wish = AssignmentRequest(part_id, (section.id,), today, 20, items, only=only)
    sent = send(session, actor, wish, today)
    begun = datetime.now(UTC) - timedelta(days=AUDITION_BEGUN_DAYS_AGO)
    assignment = long_over(session, actor, sent, begun, today - timedelta(days=1))
    players = {student: player(place) for place, student in enumerate(first_chairs)}
    play(session, actor, assignment, players, begun, apart=2, at_most=6, salt=wanted.title)


def _etude(session: Session, files: FileStore, actor: Actor) -> UUID:
    part_id = _bring_in(
        session, files, actor, etude.clarinet_etude(), etude.TITLE, "lantern-etude.musicxml"
    )
    view = versions.apply(session, actor, part_id, 0, edits.by_measures(2))
    for at in (Position(9, Fraction(2)), Position(11, Fraction(0))):
        if not any(c.span.start == at for c in view.chunks):
            view = versions.apply(session, actor, part_id, view.version, edits.split(at))
    drawing(pieces.load_part(session, actor, part_id).part, PAGE)
    return part_id


def _wishes(session: Session, actor: Actor, part_id: UUID) -> list[RequestedItem]:
    """The runs at P and what surrounds them, each with a drill that suits it."""
    hand = pieces.load_part(session, actor, part_id)
    by_start = {c.span.start.index: c for c in chunks.view_map(session, hand).chunks}
    return [
        RequestedItem(
            by_start[index].id,
            drill,
            settings,
            LADDER,
            ItemRole.UPKEEP if index in UPKEEP else ItemRole.FOCUS,
        )
        for index, drill, settings in _DRILLS
    ]


def _assign(session: Session, actor: Actor, part_id: UUID, section: SectionView) -> None:
    today = datetime.now().astimezone().date()
    wish = AssignmentRequest(
        part_id=part_id,
        section_ids=(section.id,),
        due_on=today + timedelta(days=AUDITION_IN_DAYS),
        minutes_a_day=20,
        items=tuple(_wishes(session, actor, part_id)),
    )
    begun = datetime.now(UTC) - timedelta(days=DAYS_OF_HISTORY + 1)
    sent = send(session, actor, wish, today)
    assignment = session.scalars(select(Assignment).where(Assignment.sending_id == sent)).one()
    assignment.sent_at = begun
    session.flush()
    players = {student: player(place) for place, (student, _) in enumerate(section.students)}
    play(session, actor, assignment, players, begun)


def _learned_before(session: Session, actor: Actor, part_id: UUID, section: SectionView) -> None:
    """The rest of the etude, met chunk by chunk in the weeks before, and run through."""
    hand = pieces.load_part(session, actor, part_id)
    now_sent = {index for index, _, _ in _DRILLS}
    others = [
        c for c in chunks.view_map(session, hand).chunks if c.span.start.index not in now_sent
    ]
    wished = [RequestedItem(c.id, "alone", {}, LADDER) for c in others]
    everything = chunk_for(session, hand, whole(hand.part))
    wished.append(RequestedItem(everything, "run-through", {}, LADDER))
    today = datetime.now().astimezone().date()
    wish = AssignmentRequest(part_id, (section.id,), today, 20, tuple(wished))
    sent = send(session, actor, wish, today)
    begun = datetime.now(UTC) - timedelta(days=DAYS_OF_HISTORY + 1)
    assignment = long_over(session, actor, sent, begun, today - timedelta(days=21))
    players = {student: player(place) for place, (student, _) in enumerate(section.students)}
    play(session, actor, assignment, players, begun, apart=1, at_most=6)


def _plan(session: Session, actor: Actor, part_id: UUID, section: SectionView) -> None:
    """The audition: every player's days until then."""
    today = datetime.now(UTC).astimezone(ZoneInfo(actor.time_zone)).date()
    wish = PlanSettings(
        part_id=part_id,
        section_id=section.id,
        on=today + timedelta(days=AUDITION_IN_DAYS),
        minutes_a_day=30,
        weekdays_off=frozenset({6}),
    )
    plans.send(session, actor, wish, today)


if __name__ == "__main__":
    sys.stdout.write(seed(new_session, get_files(), get_sounds()))
