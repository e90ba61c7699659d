"""Acts that are done once, however often they are sent.

A device makes an id for an act and sends it again until it has an answer. The id and the answer are
kept in the transaction of the act itself: either all of it is there or nothing. Decision 0036.
"""

from collections.abc import Callable
from typing import TypeVar
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.access import Actor
from crumb.services.errors import NotAccepted
from crumb.store.queries import idempotency as ask
from crumb.store.queries import locks
from crumb.store.tables import IdempotencyKey

T = TypeVar("T")


def once(session: Session, actor: Actor, key: UUID | None, act: str, do: Callable[[], T]) -> T:
    """The answer of an act: computed now, or the stored one if the act was done before.

    Args:
        session: the request's.
        actor: does it.
        key: made on the device; None (an older page): the act is done each time.
        act: its name, at most 40 letters.
        do: does it; what it returns is kept as JSON and comes back in that shape.

    Raises:
        NotAccepted: the key is that of another act, or of somebody else.
    """
    if key is None:
        return do()
    locks.have_key(session, key)
    known = ask.key_of(session, key)
    if known is not None:
        if (known.person_id, known.act) != (actor.person_id, act):
            raise NotAccepted("This was sent with the mark of something else. Send it again.")
        answer: T = known.answer
        return answer
    answer = do()
    session.add(
        IdempotencyKey(
            id=key, program_id=actor.program_id, person_id=actor.person_id, act=act, answer=answer
        )
    )
    session.flush()
    return answer
