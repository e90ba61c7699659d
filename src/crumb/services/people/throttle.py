"""Sign-in throttle: it slows guessing, and nobody can lock out somebody else.

A try is counted before the secret is checked, and uncounted if it was right. Three counters:

- A device on which this person signed in before has a counter of its own, so strangers' guesses
  never close it.
- A strange device counts against the account at this address, and against the account at all
  addresses.
- An address is never closed to the school behind it: only far beyond what a school's first morning
  brings must strange devices there wait.

The numbers are ours. A PIN of six digits stands 40 guesses an hour for over a year.
"""

from dataclasses import dataclass, replace
from datetime import timedelta
from hashlib import sha256
from uuid import UUID

from sqlalchemy.orm import Session

from crumb.services.errors import TooManyTries
from crumb.store.queries import signing_in as store

TEN_MINUTES, HOUR = timedelta(minutes=10), timedelta(hours=1)
DEVICE_TRIES = 10
HERE_TRIES = 5
ACCOUNT_TRIES = 40
PLACE_TRIES = 1_000


@dataclass(frozen=True, slots=True)
class SignInOrigin:
    """The origin of a sign-in: the address, and the device's cookie, if any."""

    place: str
    device: str | None = None

    @property
    def device_hash(self) -> bytes:
        """How the device is kept."""
        return sha256((self.device or "").encode("utf-8", "surrogatepass")).digest()


@dataclass(frozen=True, slots=True)
class Throttle:
    """The gates that one try passes, with how many tries each lets through.

    ``own`` are of this account, ``shared`` of everybody at the address.
    """

    own: tuple[tuple[bytes, int, timedelta], ...]
    shared: tuple[tuple[bytes, int, timedelta], ...] = ()
    is_closed: bool = False

    def counted(self, session: Session) -> "Throttle":
        """Count a try at every gate; it stays counted, so whoever calls commits it by itself."""
        beyond = [
            store.count_try(session, key, window) > limit
            for key, limit, window in sorted((*self.own, *self.shared))
        ]
        return replace(self, is_closed=any(beyond))

    def check(self) -> None:
        """Whether this try may go on.

        Raises:
            TooManyTries: one of the gates is closed.
        """
        if self.is_closed:
            raise TooManyTries

    def open(self, session: Session) -> None:
        """The secret was right: these tries were no guesses."""
        store.open_gates(session, [key for key, _, _ in self.own])
        for key, _, _ in self.shared:
            store.uncount_try(session, key)


def throttle_for(
    session: Session, account: str, person_id: UUID | None, comer: SignInOrigin
) -> Throttle:
    """The gates for a try at an account; one that does not exist has gates like any other."""
    if (
        person_id is not None
        and comer.device
        and store.is_known_device(session, person_id, comer.device_hash)
    ):
        key = store.gate_key("device", account, comer.device_hash.hex())
        return Throttle(((key, DEVICE_TRIES, TEN_MINUTES),))
    here = (store.gate_key("here", account, comer.place), HERE_TRIES, TEN_MINUTES)
    anywhere = (store.gate_key("account", account), ACCOUNT_TRIES, HOUR)
    place = (store.gate_key("place", comer.place), PLACE_TRIES, TEN_MINUTES)
    return Throttle((here, anywhere), (place,))
