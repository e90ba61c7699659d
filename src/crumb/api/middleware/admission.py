"""Admission: no more requests at a time than there are threads and connections for.

A request that is let in has both until it is answered, so none that holds one ever waits for the
other. The rest wait in line, without holding anything; when the line is long, or one has waited
long, they are asked to come again. What takes long by its nature (making drills, engraving whole
parts) has a narrower gate of its own, so that handing in and the Stand always find a place.
"""

import asyncio
import re
from threading import Lock
from weakref import WeakKeyDictionary

from starlette.types import ASGIApp, Receive, Scope, Send

from crumb.api.problems import problem

_PATIENCE = 6.0  # seconds in line
_HEAVY = re.compile(
    r"/api/(parts/[^/]+/(bench|ranking|file|recipe|engraving|reference|chunks|goal|kin|survey)"
    r"|assignments(/.*)?|kin/.*|pieces/.*|wall/.*)"
)


class _Door:
    """The gates, as one event loop sees them: a semaphore belongs to the loop it was used in."""

    def __init__(self, at_once: int) -> None:
        self.all = asyncio.Semaphore(at_once)
        self.heavy = asyncio.Semaphore(max(at_once // 3, 1))
        self.line = 0


class Admission:
    """The door of the API: one for each event loop, and a server has one."""

    def __init__(self, app: ASGIApp, *, at_once: int, waiting: int) -> None:
        self.app = app
        self._at_once, self._longest_line = at_once, waiting
        self._doors: WeakKeyDictionary[asyncio.AbstractEventLoop, _Door] = WeakKeyDictionary()
        self._making = Lock()

    def _door(self) -> _Door:
        loop = asyncio.get_running_loop()
        with self._making:
            return self._doors.setdefault(loop, _Door(self._at_once))

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        path = scope.get("path", "")
        if scope["type"] != "http" or not path.startswith("/api/") or path == "/api/health":
            await self.app(scope, receive, send)
            return
        door = self._door()
        gates = [door.heavy, door.all] if _HEAVY.fullmatch(path) else [door.all]
        passed = await self._pass(door, gates)
        if passed is None:
            answer = problem(
                503, "Very busy", "Crumb is very busy just now. Nothing is lost: try again soon."
            )
            answer.headers["Retry-After"] = "3"
            await answer(scope, receive, send)
            return
        try:
            await self.app(scope, receive, send)
        finally:
            for gate in passed:
                gate.release()

    async def _pass(
        self, door: _Door, gates: list[asyncio.Semaphore]
    ) -> list[asyncio.Semaphore] | None:
        """The gates, passed; None if the line is too long."""
        if all(not gate.locked() for gate in gates):
            for gate in gates:
                await gate.acquire()
            return gates
        if door.line >= self._longest_line:
            return None
        door.line += 1
        passed: list[asyncio.Semaphore] = []
        try:
            async with asyncio.timeout(_PATIENCE):
                for gate in gates:
                    await gate.acquire()
                    passed.append(gate)
        except TimeoutError:
            for gate in passed:
                gate.release()
            return None
        except BaseException:
            for gate in passed:
                gate.release()
            raise
        finally:
            door.line -= 1
        return passed
