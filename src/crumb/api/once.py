"""Routes whose act carries an idempotency key: a repeated request gets the first answer."""

from collections.abc import Callable
from typing import TypeVar
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.idempotency import once

T = TypeVar("T")


def answered_once(
    session: Session, actor: Actor, key: UUID | None, act: str, do: Callable[[], T], shape: type[T]
) -> T:
    """An act done once: its answer, in the shape of its route; see ``services.idempotency``."""
    adapter: TypeAdapter[T] = TypeAdapter(shape)
    answer = once(
        session, actor, key, act, lambda: adapter.dump_python(do(), mode="json", by_alias=True)
    )
    return adapter.validate_python(answer)
