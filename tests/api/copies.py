"""A school that was built once, put into any database as a school of its own.

Building one over the wire takes a second, and each test wants a fresh one. The rows of the first
are read back as text; a copy is the same text with other ids, another class code and other
sessions. Two databases are never mixed up: ids are unique to each copy.
"""

import json
import re
import secrets
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from hashlib import sha256
from uuid import uuid4

from sqlalchemy import Engine, text
from sqlalchemy.orm import Session

from crumb.store.tables import Base

_UUID = re.compile(r"[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}")
_LEFT_OUT = {"worker", "sign_in_gate"}
Rows = dict[str, list[str]]
"""Rows by table, each as JSON."""


@dataclass(frozen=True, slots=True)
class Snapshot:
    """Rows of a school, and anything else that names its ids, as JSON."""

    rows: Rows
    more: str


def rows_of(engine: Engine) -> Rows:
    """Every row of a database."""
    found: Rows = {}
    with engine.connect() as connection:
        for table in Base.metadata.sorted_tables:
            if table.name not in _LEFT_OUT:
                query = text(f"select to_jsonb(r)::text from {table.name} r order by 1")
                found[table.name] = list(connection.scalars(query))
    return found


def added(before: Rows, after: Rows) -> Rows:
    """What came on top; whatever was there must have stayed as it was."""
    assert all(set(rows) <= set(after[name]) for name, rows in before.items())
    return {name: sorted(set(rows) - set(before[name])) for name, rows in after.items()}


def session_hash(token: str) -> str:
    """How a session's token stands in a row as JSON."""
    return f"\\\\x{sha256(token.encode()).hexdigest()}"


def put(
    session: Session, snapshot: Snapshot, known: Mapping[str, str], tokens: Iterable[str] = ()
) -> tuple[str, dict[str, str]]:
    """Put a copy into a database.

    Args:
        session: on that database; the caller commits.
        snapshot: what to copy.
        known: texts that stand for something of the copy's own: ids, a class code.
        tokens: sessions of the first, each replaced by one of the copy's.

    Returns:
        ``more`` of the copy, and the new token of each old one.
    """
    new_tokens = {token: secrets.token_urlsafe(32) for token in tokens}
    names = dict(known)
    names |= {session_hash(old): session_hash(new) for old, new in new_tokens.items()}
    whole = json.dumps([snapshot.rows, snapshot.more])
    for old in set(_UUID.findall(whole)):
        names.setdefault(old, str(uuid4()))
    pattern = re.compile("|".join(re.escape(name) for name in sorted(names, key=len, reverse=True)))

    def renamed(said: str) -> str:
        return pattern.sub(lambda found: names[found.group()], said)

    # Rows come in the order of their tables and not of what they point at.
    session.execute(text("set local session_replication_role = replica"))
    for table, rows in snapshot.rows.items():
        if rows:
            session.execute(
                text(
                    f"insert into {table} select * from"
                    f" jsonb_populate_recordset(null::{table}, cast(:rows as jsonb))"
                    " on conflict do nothing"
                ),
                {"rows": f"[{','.join(renamed(row) for row in rows)}]"},
            )
    session.execute(text("set local session_replication_role = origin"))
    return renamed(snapshot.more), new_tokens
