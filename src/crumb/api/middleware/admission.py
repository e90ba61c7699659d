"""Admission: no more requests at a time than there are threads and connections for.

A request that is let in has both until it is worked out, so none that holds one ever waits for the
other. Its body was read before (``bodies``), and its answer is sent after its place was given back:
nobody who sends or reads slowly holds a place. The rest wait in line, without holding anything;
when the line is long, or one has waited long, they are asked to come again. What takes long by its
nature (making drills, engraving whole parts, hashing) has a narrower gate of its own, so that
handing in and the Stand always find a place.
"""

import asyncio
import re
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from threading import Lock
from weakref import WeakKeyDictionary

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from crumb.api.problems import problem
from crumb.services.people.hashing import AT_ONCE

_PATIENCE = 6.0  # seconds in line
_PATIENCE_OF_HASHING = 40.0
"""A class signs in within seconds; a whole school stands in a line of its own meanwhile."""
_HELD_BYTES = 1_000_000
"""Of an answer that is longer, the place is given back before all of it is there."""
_HEAVY = re.compile(
    r"/api/(parts/[^/]+/(bench|ranking|file|recipe|engraving|reference|chunks|goal|kin|survey)"
    r"|assignments(/.*)?|kin/.*|pieces/.*|wall/.*)"
)
_HASHING = re.compile(
    r"/api/(session/(student|director)|setup|account/password|invitations/.*"
    r"|sections/[^/]+/students|students/[^/]+/pin)"
)
"""What hashes a password or a PIN: as many at once as are hashed at once, and one that is ready."""


@dataclass
class _Line:
    """Those who wait for some gates, and for how many seconds they do."""

    gates: tuple[asyncio.Semaphore, ...]
    patience: float = _PATIENCE
    waiting: int = 0


class _Door:
    """The gates, as one event loop sees them: a semaphore belongs to the loop it was used in.

    Each kind of request has a line of its own, so that a storm of one kind fills no other's.
    """

    def __init__(self, at_once: int) -> None:
        everybody = asyncio.Semaphore(at_once)
        heavy = asyncio.Semaphore(max(at_once // 3, 1))
        hashing = asyncio.Semaphore(max(min(AT_ONCE + 1, at_once // 2), 1))
        self.usual = _Line((everybody,))
        self.heavy = _Line((heavy, everybody))
        self.hashing = _Line((hashing, everybody), _PATIENCE_OF_HASHING)

    @property
    def waiting(self) -> int:
        """How many stand in line."""
        return self.usual.waiting + self.heavy.waiting + self.hashing.waiting

    def line_of(self, scope: Scope) -> _Line:
        """The line in which a request stands."""
        if _HEAVY.fullmatch(scope["path"]):
            return self.heavy
        if _HASHING.fullmatch(scope["path"]) and scope["method"] in ("POST", "PUT"):
            return self.hashing
        return self.usual


class Room:
    """The places of one server process: how many there are, how many are taken, how many wait."""

    def __init__(self, at_once: int, waiting: int) -> None:
        self.at_once, self.longest_line = at_once, waiting
        self.taken = 0
        self._doors: WeakKeyDictionary[asyncio.AbstractEventLoop, _Door] = WeakKeyDictionary()
        self._making = Lock()

    def door(self) -> _Door:
        """The gates of this event loop."""
        loop = asyncio.get_running_loop()
        with self._making:
            return self._doors.setdefault(loop, _Door(self.at_once))

    def told(self) -> str:
        """``ok``, or what is full."""
        waiting = sum(door.waiting for door in self._doors.values())
        if self.taken < self.at_once and not waiting:
            return "ok"
        return f"{self.taken} of {self.at_once} places are taken, and {waiting} requests wait"


class Admission:
    """The door of the API: one for each event loop, and a server has one."""

    def __init__(self, app: ASGIApp, *, room: Room) -> None:
        self.app = app
        self._room = room

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        path = scope.get("path", "")
        if scope["type"] != "http" or not path.startswith("/api/") or path == "/api/health":
            await self.app(scope, receive, send)
            return
        passed = await self._pass(self._room.door().line_of(scope))
        if passed is None:
            answer = problem(
                503, "Very busy", "Crumb is very busy just now. Nothing is lost: try again soon."
            )
            answer.headers["Retry-After"] = "3"
            await answer(scope, receive, send)
            return
        self._room.taken += 1
        answer_held = _Held(send, give_back=lambda: self._give_back(passed))
        try:
            await self.app(scope, receive, answer_held.send)
        finally:
            answer_held.give_back_once()
        await answer_held.send_rest()

    def _give_back(self, gates: Sequence[asyncio.Semaphore]) -> None:
        self._room.taken -= 1
        _open(gates)

    async def _pass(self, line: _Line) -> Sequence[asyncio.Semaphore] | None:
        """The gates, passed; None if the line is too long."""
        if any(gate.locked() for gate in line.gates) and line.waiting >= self._room.longest_line:
            return None
        line.waiting += 1
        passed: list[asyncio.Semaphore] = []
        try:
            async with asyncio.timeout(line.patience):
                for gate in line.gates:
                    await gate.acquire()
                    passed.append(gate)
        except TimeoutError:
            _open(passed)
            return None
        except BaseException:
            _open(passed)
            raise
        finally:
            line.waiting -= 1
        return passed


def _open(gates: Iterable[asyncio.Semaphore]) -> None:
    for gate in gates:
        gate.release()


class _Held:
    """An answer that is held until the place of its request was given back."""

    def __init__(self, send: Send, *, give_back: Callable[[], None]) -> None:
        self._send, self._give_back = send, give_back
        self._held: list[Message] = []
        self._bytes = 0
        self._has_place = True

    async def send(self, message: Message) -> None:
        """Hold a message, or hand it on where the place was given back already."""
        if not self._has_place:
            await self._send(message)
            return
        self._held.append(message)
        self._bytes += len(message.get("body", b""))
        if self._bytes > _HELD_BYTES:
            self.give_back_once()
            await self.send_rest()

    def give_back_once(self) -> None:
        """Give the place back, unless that was done."""
        if self._has_place:
            self._has_place = False
            self._give_back()

    async def send_rest(self) -> None:
        """Send what is held."""
        held, self._held = self._held, []
        for message in held:
            await self._send(message)
