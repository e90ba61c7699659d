"""Routes whose act carries an id of the device: sent again, it answers the same."""

from collections.abc import Callable
from typing import TypeVar
from uuid import UUID

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from crumb.services.once import once
from crumb.services.who import Who

T = TypeVar("T")


def answered_once(
    session: Session, who: Who, key: UUID | None, act: str, do: Callable[[], T], shape: type[T]
) -> T:
    """What an act answers, in the shape of its route; see :func:`crumb.services.once.once`."""
    adapter: TypeAdapter[T] = TypeAdapter(shape)
    answer = once(
        session, who, key, act, lambda: adapter.dump_python(do(), mode="json", by_alias=True)
    )
    return adapter.validate_python(answer)
