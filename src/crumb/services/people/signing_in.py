"""Signing in and out: passwords and PINs, server-side sessions."""

import secrets
from collections import OrderedDict
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from hashlib import sha256

from sqlalchemy.orm import Session

from crumb.core.names import name_key
from crumb.core.vocabulary import Role
from crumb.services.access import Actor
from crumb.services.errors import NotSignedIn, WrongSignIn
from crumb.services.people.hashing import hash_secret, is_outdated, is_secret
from crumb.services.people.throttle import HOUR, SignInOrigin, Throttle, throttle_for
from crumb.settings import get_settings
from crumb.store.pipeline import Rows, Script, Statement, batch, run
from crumb.store.queries import people
from crumb.store.queries import signing_in as store
from crumb.store.queries.record_evidence import who_of
from crumb.store.tables import Person, SignedIn


@dataclass(frozen=True, slots=True)
class Credentials:
    """Credentials of a sign-in: an address, or a class code and a name; and the secret."""

    secret: str
    email: str = ""
    class_code: str = ""
    name: str = ""

    @property
    def account(self) -> str:
        """The key by which tries are counted, whether there is such an account or not."""
        if self.email:
            return f"director\0{name_key(self.email)}"
        return f"student\0{self.class_code.strip().upper()}\0{name_key(self.name)}"

    def person(self, session: Session) -> Person | None:
        """The person of the account."""
        if self.email:
            return people.by_email(session, self.email)
        return people.student_by_name(session, self.class_code, self.name)


@dataclass(frozen=True, slots=True)
class Attempt:
    """A try that was counted: its gates, and the hash of the account's secret, if there is one."""

    said: Credentials
    gates: Throttle
    hashed: str | None

    def check(self) -> str:
        """The hash that is kept from now on. It takes long and needs no database.

        Raises:
            TooManyTries: a gate is closed.
            WrongSignIn: no such account, or another secret.
        """
        self.gates.check()
        if not is_secret(self.hashed, self.said.secret) or self.hashed is None:
            raise WrongSignIn
        return hash_secret(self.said.secret) if is_outdated(self.hashed) else self.hashed


def count_try(session: Session, said: Credentials, comer: SignInOrigin) -> Attempt:
    """Count a try before its secret is looked at; whoever calls keeps that, whatever comes."""
    person = said.person(session)
    gates = throttle_for(session, said.account, person.id if person else None, comer)
    return Attempt(said, gates.counted(session), person.secret_hash if person else None)


def sign_in(session: Session, attempt: Attempt, hashed: str, comer: SignInOrigin) -> str:
    """The token of a new session, after :meth:`Attempt.check`.

    Raises:
        WrongSignIn: the secret was changed meanwhile.
    """
    person = attempt.said.person(session)
    if person is None or person.secret_hash != attempt.hashed:
        raise WrongSignIn
    person.secret_hash = hashed
    attempt.gates.open(session)
    return begin_session(session, person, comer)


def begin_session(session: Session, person: Person, comer: SignInOrigin) -> str:
    """A new session of somebody whose secret was right, on a device that is known from now on."""
    now = datetime.now(UTC)
    token = secrets.token_urlsafe(32)
    store.forget_ended_sessions(session, now)
    store.forget_old_gates(session, 24 * HOUR)
    if comer.device:
        store.remember_device(session, person.id, comer.device_hash)
    session.add(
        SignedIn(
            token_hash=_digest(token),
            person_id=person.id,
            expires_at=now + timedelta(days=get_settings().session_days),
        )
    )
    return token


def _digest(token: str) -> bytes:
    return sha256(token.encode("utf-8", "surrogatepass")).digest()


def actor_of(session: Session, token: str | None) -> Actor:
    """The person behind a session token.

    Raises:
        NotSignedIn: no such session, or it has run out.
    """
    return run(session, actor_by(token))


def actor_by(token: str | None) -> Script[Actor]:
    """The plan of :func:`actor_of`."""
    if not token:
        raise NotSignedIn
    digest = _digest(token)
    (rows,) = yield batch(who_of(digest))
    return _who_from(digest, rows)


def _who_from(digest: bytes, rows: Rows) -> Actor:
    if not rows:
        _met.pop(digest, None)
        raise NotSignedIn
    *known, section_ids, student_id = rows[0]
    person_id, program_id, name_of_role, *about = known
    role = Role(name_of_role)
    sections = frozenset(section_ids or ()) if role is Role.ASSISTANT else None
    actor = replace(
        Actor(person_id, program_id, role, *about), sections=sections, student_id=student_id
    )
    _met[digest] = actor
    _met.move_to_end(digest)
    while len(_met) > _MOST_MET:
        _met.popitem(last=False)
    return actor


_met: OrderedDict[bytes, Actor] = OrderedDict()
"""The last owner of each session. A guess that is always verified."""
_MOST_MET = 20_000


@dataclass(frozen=True, slots=True)
class CachedSession:
    """A cached session, and the query that revalidates it, sent in one batch."""

    actor: Actor
    ask: Statement
    _digest: bytes

    def prove(self, rows: Rows) -> None:
        """Hold the guess against the rows of its statement.

        Raises:
            NotSignedIn: the session has ended, or is not what it was.
        """
        if _who_from(self._digest, rows) != self.actor:
            raise NotSignedIn


def cached_session_by(token: str | None) -> CachedSession | None:
    """The cached owner of a session; None if this process never looked it up."""
    digest = _digest(token or "")
    known = _met.get(digest)
    return None if known is None else CachedSession(known, who_of(digest), digest)


def sign_out(session: Session, token: str | None) -> None:
    """End the session; nothing happens if there is none."""
    if token:
        store.end_session(session, _digest(token))


def end_other_sessions(session: Session, actor: Actor, token: str | None) -> int:
    """Sign this person out everywhere else; how many sessions that ended."""
    return store.end_sessions_but(session, actor.person_id, _digest(token or ""))
