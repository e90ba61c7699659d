"""Queries of the sign-in throttle: one statement counts a try and answers the count."""

from datetime import datetime, timedelta
from hashlib import sha256
from uuid import UUID

from sqlalchemy import delete, func, select, text, update
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from crumb.store.tables import KnownDevice, SignedIn, SignInGate

_COUNT = text(
    """
    insert into sign_in_gate (key, since, tries) values (:key, now(), 1)
    on conflict (key) do update set
      since = case when sign_in_gate.since < now() - make_interval(secs => :window)
                   then now() else sign_in_gate.since end,
      tries = case when sign_in_gate.since < now() - make_interval(secs => :window)
                   then 1 else sign_in_gate.tries + 1 end
    returning tries
    """
)


def gate_key(*words: str) -> bytes:
    """A key for a gate: whatever the words are, it fits."""
    return sha256("\0".join(words).encode("utf-8", "surrogatepass")).digest()


def count_try(session: Session, key: bytes, window: timedelta) -> int:
    """Count one more try at a gate; how many there were in its window, this one included."""
    values = {"key": key, "window": window.total_seconds()}
    return int(session.execute(_COUNT, values).scalar_one())


def open_gates(session: Session, keys: list[bytes]) -> None:
    """Forget the tries at some gates."""
    session.execute(delete(SignInGate).where(SignInGate.key.in_(keys)))


def uncount_try(session: Session, key: bytes) -> None:
    """Take back one try at a gate that others stand at, too."""
    session.execute(
        update(SignInGate)
        .where(SignInGate.key == key, SignInGate.tries > 0)
        .values(tries=SignInGate.tries - 1)
    )


def forget_old_gates(session: Session, older: timedelta) -> None:
    """Forget gates nobody has stood at for long."""
    session.execute(delete(SignInGate).where(SignInGate.since < func.now() - older))


def is_known_device(session: Session, person_id: UUID, device_hash: bytes) -> bool:
    """Whether this person signed in on this device before."""
    query = select(KnownDevice.seen_at).where(
        KnownDevice.person_id == person_id, KnownDevice.device_hash == device_hash
    )
    return session.scalar(query) is not None


def remember_device(session: Session, person_id: UUID, device_hash: bytes) -> None:
    """This person signed in on this device."""
    query = insert(KnownDevice).values(person_id=person_id, device_hash=device_hash)
    session.execute(
        query.on_conflict_do_update(
            index_elements=["device_hash", "person_id"], set_={"seen_at": func.now()}
        )
    )


def forget_ended_sessions(session: Session, now: datetime) -> None:
    """Delete sessions that have run out."""
    session.execute(delete(SignedIn).where(SignedIn.expires_at < now))


def end_session(session: Session, token_hash: bytes) -> None:
    """End one session, if it is there."""
    session.execute(delete(SignedIn).where(SignedIn.token_hash == token_hash))


def end_sessions_but(session: Session, person_id: UUID, token_hash: bytes) -> int:
    """End all sessions of a person but one; how many these were."""
    ended = session.execute(
        delete(SignedIn)
        .where(SignedIn.person_id == person_id, SignedIn.token_hash != token_hash)
        .returning(SignedIn.token_hash)
    )
    return len(ended.all())
