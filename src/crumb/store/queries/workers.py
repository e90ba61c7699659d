"""Queries of workers' signs of life, for health."""

from sqlalchemy import text
from sqlalchemy.orm import Session

_ALIVE = text(
    """
    insert into worker (name, seen_at) values (:name, now())
    on conflict (name) do update set seen_at = now()
    """
)
_GONE = text("delete from worker where seen_at < now() - interval '1 day'")
_SEEN = text("select extract(epoch from now() - max(seen_at)) from worker")


def sign_of_life(session: Session, host: str, process: int) -> None:
    """This worker is there."""
    session.execute(_ALIVE, {"name": f"{host[:80]}:{process}"})
    session.execute(_GONE)


def silent_seconds(session: Session) -> float | None:
    """How long no worker gave a sign of life; None if there never was one."""
    found = session.scalar(_SEEN)
    return None if found is None else float(found)
