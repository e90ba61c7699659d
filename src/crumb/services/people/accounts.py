"""Accounts and the program: the first director, a changed password, whoever is invited to help."""

import secrets
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from hashlib import sha256
from uuid import UUID, uuid4
from zoneinfo import available_timezones

from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from crumb.core.names import name_key
from crumb.core.vocabulary import Paper, Role
from crumb.core.words import UK, US
from crumb.services.access import Actor
from crumb.services.errors import NotAccepted, NotAllowed, NotFound, WrongSignIn
from crumb.services.people.hashing import hash_secret
from crumb.services.people.roster import get_section, get_student
from crumb.services.people.signing_in import Attempt, Credentials, end_other_sessions
from crumb.store.queries import helping as ask
from crumb.store.queries import people
from crumb.store.tables import Invitation, Person, Program

SHORTEST_PASSWORD = 10
INVITED_FOR = timedelta(days=7)
_CODE_LETTERS = "BCDFGHJKLMNPQRSTVWXZ23456789"


def new_class_code() -> str:
    """A code that is easy to copy from a board: no vowels, no look-alikes."""
    return "".join(secrets.choice(_CODE_LETTERS) for _ in range(6))


def is_empty(session: Session) -> bool:
    """Whether no account was ever made here."""
    return not people.is_anybody(session)


def create_first_director(
    session: Session,
    *,
    program: str,
    name: str,
    email: str,
    password: str,
    time_zone: str = "UTC",
) -> Person:
    """Make the program and its director on an empty database.

    Raises:
        NotAllowed: there is an account already.
        NotAccepted: the password is too short, or there is no such time zone.
    """
    people.lock_first_account(session)
    if not is_empty(session):
        raise NotAllowed("This server has its director already: sign in instead.")
    school = Program(
        id=uuid4(),
        name=program.strip(),
        class_code=new_class_code(),
        time_zone=checked_zone(time_zone),
    )
    session.add(school)
    session.flush()
    return new_account(session, school.id, Role.DIRECTOR, (name, email, password))


def checked_zone(name: str) -> str:
    """A time zone by its name in the IANA database.

    Raises:
        NotAccepted: there is none of that name.
    """
    if name not in available_timezones():
        raise NotAccepted("There is no such time zone; one is called Europe/Lisbon, say.")
    return name


def checked_password(password: str) -> str:
    """A password that is long enough.

    Raises:
        NotAccepted: it is not.
    """
    if len(password) < SHORTEST_PASSWORD:
        raise NotAccepted(f"A password has at least {SHORTEST_PASSWORD} characters.")
    return password


def new_account(
    session: Session, program_id: UUID, role: Role, said: tuple[str, str, str]
) -> Person:
    """An account with a name, an address and a password.

    Raises:
        NotAccepted: the address is taken or the password too short.
    """
    name, email, password = said
    person = Person(
        id=uuid4(),
        program_id=program_id,
        role=role,
        name=name.strip(),
        name_key=name_key(name),
        email=email.strip(),
        email_key=name_key(email),
        secret_hash=hash_secret(checked_password(password)),
    )
    session.add(person)
    try:
        session.flush()
    except IntegrityError as error:
        raise NotAccepted("There is an account with this address already: sign in.") from error
    return person


def credentials_of(session: Session, actor: Actor, password: str) -> Credentials:
    """What somebody who is signed in would sign in with, the password as they say it."""
    return Credentials(password, email=session.get_one(Person, actor.person_id).email or "")


def change_password(
    session: Session, actor: Actor, token: str | None, attempt: Attempt, new: str
) -> None:
    """Another password for oneself, after the old one was checked like at a sign-in.

    Everywhere else one is signed out.

    Raises:
        WrongSignIn: the password was changed meanwhile.
        NotAccepted: the new one is too short.
    """
    person = session.get_one(Person, actor.person_id)
    if person.secret_hash != attempt.hashed:
        raise WrongSignIn("The old password is not right.")
    person.secret_hash = hash_secret(checked_password(new))
    attempt.gates.open(session)
    session.flush()
    end_other_sessions(session, actor, token)


@dataclass(frozen=True, slots=True)
class ProgramChange:
    """A change of a program's settings; None leaves a setting as it is."""

    time_zone: str | None = None
    words: str | None = None
    paper: str | None = None


def change_program(session: Session, actor: Actor, change: ProgramChange) -> Actor:
    """Say where the school is, whose words it uses, what paper it prints on.

    What was played keeps the day it had. Paper follows the words unless it is said too.

    Raises:
        NotAccepted: there is no such time zone, or no such words or paper.
    """
    program = session.get_one(Program, actor.program_id)
    if change.time_zone is not None:
        program.time_zone = checked_zone(change.time_zone)
    if change.words is not None:
        if change.words not in USUAL_PAPER:
            raise NotAccepted("Words are those of US or of UK schools.")
        program.words = change.words
    paper = change.paper or USUAL_PAPER.get(change.words or "", program.paper)
    if paper not in USUAL_PAPER.values():
        raise NotAccepted("Paper is US Letter or A4.")
    program.paper = paper
    return replace(actor, time_zone=program.time_zone, words=program.words, paper=program.paper)


USUAL_PAPER: Mapping[str, str] = {US: Paper.US_LETTER, UK: Paper.A4}
"""What schools that use these words print on."""


@dataclass(frozen=True, slots=True)
class Help:
    """How somebody helps: an assistant with sections, a helper with one student, or a director."""

    role: Role = Role.DIRECTOR
    section_ids: tuple[UUID, ...] = ()
    student_id: UUID | None = None


def check_help(session: Session, actor: Actor, wanted: Help) -> None:
    """Whether somebody can help so.

    Raises:
        NotFound: no such section or student here.
        NotAccepted: an assistant without sections, a helper without a student, or more than that.
    """
    has_sections, has_student = bool(wanted.section_ids), wanted.student_id is not None
    if (has_sections, has_student) != (
        wanted.role is Role.ASSISTANT,
        wanted.role is Role.HELPER,
    ) or wanted.role is Role.STUDENT:
        raise NotAccepted("An assistant has sections, a helper one student, a director neither.")
    for section_id in wanted.section_ids:
        get_section(session, actor, section_id)
    if wanted.student_id is not None:
        get_student(session, actor, wanted.student_id)


@dataclass(frozen=True, slots=True)
class OpenInvitation:
    """An invitation that can still be used: whom it is for, who made it, until when."""

    id: UUID
    help: Help
    made_by: str
    expires_at: datetime


def open_invitations(session: Session, actor: Actor) -> list[OpenInvitation]:
    """Invitations of the program that can still be used, those that end first before the others."""
    return [
        OpenInvitation(
            one.id,
            Help(Role(one.role), tuple(one.section_ids), one.student_id),
            name,
            one.expires_at,
        )
        for one, name in ask.open_invitations(session, actor.program_id)
    ]


def take_invitation_back(session: Session, actor: Actor, invitation_id: UUID) -> None:
    """End an invitation that nobody used.

    Raises:
        NotFound: there is none.
    """
    if not ask.end_invitation(session, actor.program_id, invitation_id):
        raise NotFound("This invitation is not open any more.")


def invite(session: Session, actor: Actor, wanted: Help) -> tuple[UUID, str]:
    """An invitation's id and token, good for a week and one use; it ends with who made it.

    Raises:
        NotFound, NotAccepted: as :func:`check_help` says.
    """
    check_help(session, actor, wanted)
    made, token = uuid4(), secrets.token_urlsafe(24)
    session.add(
        Invitation(
            id=made,
            token_hash=_digest(token),
            program_id=actor.program_id,
            made_by=actor.person_id,
            role=wanted.role,
            section_ids=list(wanted.section_ids),
            student_id=wanted.student_id,
            expires_at=datetime.now(UTC) + INVITED_FOR,
        )
    )
    return made, token


def invited_to(session: Session, token: str) -> tuple[Program, Role]:
    """The program that an invitation is to, and what one will be there.

    Raises:
        NotFound: it was used, has run out, or never was.
    """
    found = _invitation(session, token)
    return session.get_one(Program, found.program_id), Role(found.role)


def accept(session: Session, token: str, *, name: str, email: str, password: str) -> Person:
    """Make the account that somebody was invited to.

    Raises:
        NotFound: no such invitation.
        NotAccepted: the address is taken or the password too short.
    """
    invitation = _invitation(session, token, for_use=True)
    invitation.used_at = datetime.now(UTC)
    role = Role(invitation.role)
    person = new_account(session, invitation.program_id, role, (name, email, password))
    ask.give_charges(session, person.id, invitation.section_ids, invitation.student_id)
    return person


def _invitation(session: Session, token: str, *, for_use: bool = False) -> Invitation:
    found = ask.invitation_by(session, _digest(token), for_use=for_use)
    if found is None:
        raise NotFound("This invitation was used or has run out: ask for another.")
    return found


def _digest(token: str) -> bytes:
    return sha256(token.encode("utf-8", "surrogatepass")).digest()
