"""Database scripts that run unchanged on a session or on a pipelined connection.

A script is a generator: it yields batches of statements that may go to the database together, and
is sent their rows. It runs on a session of SQLAlchemy, or on an asynchronous connection where every
round trip counts. Either way it is one transaction.
"""

from collections.abc import Generator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, NamedTuple, TypeVar

from psycopg import AsyncConnection, Connection
from sqlalchemy.orm import Session

T = TypeVar("T")


class Statement(NamedTuple):
    """One statement with its values."""

    sql: str
    values: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Batch:
    """Statements that go together; after the last batch the transaction is over."""

    asks: tuple[Statement, ...]
    is_last: bool = False


Rows = list[Any]
Script = Generator[Batch, list[Rows], T]


def batch(*asks: Statement, is_last: bool = False) -> Batch:
    """A batch."""
    return Batch(asks, is_last)


def run(session: Session, script: Script[T]) -> T:
    """Run a script in the transaction of a session, which the caller commits."""
    session.flush()  # what follows goes past the session, and must see what it holds
    connection: Connection[Any] = session.connection().connection.driver_connection  # type: ignore[assignment]
    try:
        batch = next(script)
        while True:
            found: list[Rows] = []
            for ask in batch.asks:
                cursor = connection.execute(ask.sql, ask.values)
                found.append(cursor.fetchall() if cursor.description else [])
            batch = script.send(found)
    except StopIteration as end:
        result: T = end.value
        return result


_BEGIN, _COMMIT = Statement("begin", {}), Statement("commit", {})


async def run_async(connection: AsyncConnection[Any], script: Script[T]) -> T:
    """Run a script in a transaction of its own, each batch in one round trip."""
    has_begun = False
    try:
        batch = next(script)
        while True:
            asks: Sequence[Statement] = batch.asks
            if not has_begun:
                asks, has_begun = (_BEGIN, *asks), True
            if batch.is_last:
                asks = (*asks, _COMMIT)
            found = await _asked(connection, asks)
            if asks[0] is _BEGIN:
                del found[0]
            batch = script.send(found)
    except StopIteration as end:
        result: T = end.value
        return result
    finally:
        await connection.rollback()


async def _asked(connection: AsyncConnection[Any], asks: Sequence[Statement]) -> list[Rows]:
    async with connection.pipeline():
        cursors = [await connection.execute(ask.sql, ask.values) for ask in asks]
    # The results are there once the pipeline was left.
    return [await c.fetchall() if c.description else [] for c in cursors]
