"""Accounts, passwords and PINs, server-side sessions, slowing down guesses."""

import secrets
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from hashlib import sha256
from uuid import uuid4

from argon2 import PasswordHasher
from argon2.exceptions import VerificationError
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from crumb.services.errors import NotAccepted, NotAllowed, NotSignedIn, TooManyTries, WrongSignIn
from crumb.services.who import Who
from crumb.settings import get_settings
from crumb.store.tables import Person, Program, SignedIn, SignInFailure

_hasher = PasswordHasher()
WINDOW = timedelta(minutes=10)
TRIES = 5
TRIES_FROM_ONE_PLACE = 60
SHORTEST_PASSWORD = 10
_CODE_LETTERS = "BCDFGHJKLMNPQRSTVWXZ23456789"


@lru_cache
def _nobodys_hash() -> str:
    """What a name that nobody has is checked against, so that it takes as long as any other."""
    return hash_secret("nobody has this password")


def hash_secret(secret: str) -> str:
    """The Argon2id hash of a password or PIN."""
    return _hasher.hash(secret)


def new_class_code() -> str:
    """A code that is easy to copy from a board: no vowels, no look-alikes."""
    return "".join(secrets.choice(_CODE_LETTERS) for _ in range(6))


def is_empty(session: Session) -> bool:
    """Whether no account was ever made here."""
    return session.scalar(select(func.count()).select_from(Person)) == 0


def create_first_director(
    session: Session, *, program: str, name: str, email: str, password: str
) -> Person:
    """Make the program and its director on an empty database.

    Raises:
        NotAllowed: there is an account already.
        NotAccepted: the password is too short.
    """
    session.execute(select(func.pg_advisory_xact_lock(727_001)))
    if not is_empty(session):
        raise NotAllowed("This server has its director already: sign in instead.")
    if len(password) < SHORTEST_PASSWORD:
        raise NotAccepted(f"A password has at least {SHORTEST_PASSWORD} characters.")
    school = Program(id=uuid4(), name=program.strip(), class_code=new_class_code())
    session.add(school)
    session.flush()
    person = Person(
        id=uuid4(),
        program_id=school.id,
        role="director",
        name=name.strip(),
        email=email.strip(),
        secret_hash=hash_secret(password),
    )
    session.add(person)
    session.commit()
    return person


def sign_in_director(session: Session, *, email: str, password: str, place: str) -> str:
    """The token of a new session.

    Raises:
        WrongSignIn, TooManyTries: as they say.
    """
    person = session.scalar(select(Person).where(func.lower(Person.email) == email.strip().lower()))
    account = f"director:{email.strip().lower()[:200]}"
    return _sign_in(session, person, secret=password, account=account, place=place)


def sign_in_student(session: Session, *, class_code: str, name: str, pin: str, place: str) -> str:
    """The token of a new session.

    Raises:
        WrongSignIn, TooManyTries: as they say.
    """
    code, said = class_code.strip().upper(), " ".join(name.split()).lower()
    person = session.scalar(
        select(Person)
        .join(Program, Program.id == Person.program_id)
        .where(
            Program.class_code == code,
            func.lower(Person.name) == said,
            Person.role == "student",
        )
    )
    account = f"student:{code[:12]}:{said[:80]}"
    return _sign_in(session, person, secret=pin, account=account, place=place)


def _sign_in(
    session: Session, person: Person | None, *, secret: str, account: str, place: str
) -> str:
    now = datetime.now(UTC)
    for name, limit in ((account, TRIES), (f"place:{place}", TRIES_FROM_ONE_PLACE)):
        failures = session.scalar(
            select(func.count())
            .select_from(SignInFailure)
            .where(SignInFailure.account == name, SignInFailure.at > now - WINDOW)
        )
        if (failures or 0) >= limit:
            raise TooManyTries
    if not _matches(person, secret) or person is None:
        session.add_all(
            [
                SignInFailure(account=account, at=now),
                SignInFailure(account=f"place:{place}", at=now),
            ]
        )
        session.execute(delete(SignInFailure).where(SignInFailure.at < now - 6 * WINDOW))
        session.commit()
        raise WrongSignIn
    token = secrets.token_urlsafe(32)
    session.execute(delete(SignedIn).where(SignedIn.expires_at < now))
    session.execute(delete(SignInFailure).where(SignInFailure.account == account))
    session.add(
        SignedIn(
            token_hash=_digest(token),
            person_id=person.id,
            expires_at=now + timedelta(days=get_settings().session_days),
        )
    )
    session.commit()
    return token


def _matches(person: Person | None, secret: str) -> bool:
    """Takes as long for an unknown account as for a wrong secret."""
    try:
        return _hasher.verify(person.secret_hash if person else _nobodys_hash(), secret) and bool(
            person
        )
    except VerificationError:
        return False


def _digest(token: str) -> bytes:
    return sha256(token.encode()).digest()


def who_is(session: Session, token: str | None) -> Who:
    """The person behind a session token.

    Raises:
        NotSignedIn: no such session, or it has run out.
    """
    if not token:
        raise NotSignedIn
    row = session.execute(
        select(Person, Program)
        .join(SignedIn, SignedIn.person_id == Person.id)
        .join(Program, Program.id == Person.program_id)
        .where(SignedIn.token_hash == _digest(token), SignedIn.expires_at > datetime.now(UTC))
    ).one_or_none()
    if row is None:
        raise NotSignedIn
    person, program = row
    return Who(
        person_id=person.id,
        program_id=program.id,
        role="director" if person.role == "director" else "student",
        name=person.name,
        program_name=program.name,
        class_code=program.class_code,
    )


def sign_out(session: Session, token: str | None) -> None:
    """End the session; nothing happens if there is none."""
    if token:
        session.execute(delete(SignedIn).where(SignedIn.token_hash == _digest(token)))
        session.commit()
