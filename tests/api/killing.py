"""A database that goes away at a chosen moment of a request, and what is there afterwards."""

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import psycopg
import pytest
from sqlalchemy import Engine, text

from crumb.store.tables import Base

_NO_WORK = {"worker", "sign_in_gate", "known_device", "signed_in"}


class Killed(Exception):
    """The process was killed here."""


class Switch:
    """Counts the steps of what is asked of the database, and kills at one of them.

    Args:
        at: the step, from 1; None: never.
        at_commit: kill when the first commit is asked for.
    """

    def __init__(self, at: int | None, *, at_commit: bool) -> None:
        self._at, self._at_commit = at, at_commit
        self.steps = self.commits = 0

    def step(self, *, commits: bool) -> None:
        """One statement, or one commit."""
        self.steps += 1
        if self.steps == self._at or (commits and self._at_commit):
            raise Killed
        self.commits += commits


@contextmanager
def killed(at: int | None = None, *, at_commit: bool = False) -> Iterator[Switch]:
    """Until the end of the block, every statement and every commit is a step."""
    switch = Switch(at, at_commit=at_commit)
    execute, commit = psycopg.Cursor.execute, psycopg.Connection.commit

    def counted_execute(self: Any, *args: Any, **more: Any) -> Any:
        switch.step(commits=False)
        return execute(self, *args, **more)

    def counted_commit(self: Any) -> None:
        switch.step(commits=True)
        commit(self)

    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(psycopg.Cursor, "execute", counted_execute)
        patch.setattr(psycopg.Connection, "commit", counted_commit)
        yield switch


def everything(engine: Engine) -> dict[str, tuple[int, int]]:
    """How many rows each table has, and a sum of what stands in them."""
    names = [name for name in Base.metadata.tables if name not in _NO_WORK]
    each = [
        f"select '{name}', count(*), coalesce(sum(hashtextextended(r::text, 0)), 0) from {name} r"
        for name in names
    ]
    with engine.connect() as connection:
        rows = connection.execute(text(" union all ".join(each)))
        return {name: (count, int(total)) for name, count, total in rows}
