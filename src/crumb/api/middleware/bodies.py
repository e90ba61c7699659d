"""Request bodies: their size, whether the sender may send them, and all of them before any work.

Whoever sends slowly waits here, where nothing is held but the bytes that came.
"""

import asyncio
from collections import Counter
from collections.abc import Callable
from tempfile import SpooledTemporaryFile

from sqlalchemy.exc import SQLAlchemyError
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.requests import Request, cookie_parser
from starlette.responses import Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from crumb.api.addresses import place_of
from crumb.api.problems import from_database, from_error, problem
from crumb.core.errors import CrumbError

LARGEST = 1_000_000
"""Bytes of JSON; five hundred repetitions are a fifth of it."""
SMALL = 20_000
"""A body as small as that is read before anybody asks whose it is."""
IDLE_SECONDS = 10.0
"""So long nothing may come."""
LEAST_BYTES_A_SECOND = 10_000
"""Slower than that, after the first seconds, no network of today is."""
_FIRST_SECONDS = 20.0
OF_ONE_ADDRESS = 200
"""Bodies that one address sends at a time; a school's, behind one address, arrive in a moment."""
_IN_MEMORY = 256_000
_BLOCK = 65_536


class _TooLarge(Exception):
    """More came than was announced or is allowed."""


class _TooSlow(Exception):
    """Nothing came for long, or so little that it would last for hours."""


class _Gone(Exception):
    """Whoever sent it hung up."""


class Bodies:
    """Looks at what is announced, takes all of it in, and hands it on as a whole.

    Args:
        app: what is inside.
        uploads: addresses that files are sent to, with the bytes allowed there.
        check: told an address and a session's token, raises unless that person may send there.
        cookie: where the token is.
    """

    def __init__(
        self,
        app: ASGIApp,
        *,
        uploads: dict[str, int],
        check: Callable[[str, str | None], None],
        cookie: str,
    ) -> None:
        self.app = app
        self._uploads, self._check, self._cookie = uploads, check, cookie
        self._sending: Counter[str] = Counter()

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http" or scope["method"] in ("GET", "HEAD", "OPTIONS"):
            await self.app(scope, receive, send)
            return
        limit = self._uploads.get(scope["path"], LARGEST)
        refused = await self._refused(scope, limit)
        if refused is not None:
            await refused(scope, receive, send)
            return
        with SpooledTemporaryFile[bytes](max_size=_IN_MEMORY) as body:
            try:
                await self._take_in(scope, receive, limit, body)
            except _TooLarge:
                await _too_large(limit)(scope, receive, send)
            except _TooSlow:
                await _too_slow()(scope, receive, send)
            except _Gone:
                return
            else:
                await self.app(scope, _again(body, receive), send)

    async def _refused(self, scope: Scope, limit: int) -> Response | None:
        """What is said before the body is read, if anything."""
        headers = Headers(scope=scope)
        announced = headers.get("content-length", "")
        length = int(announced) if announced.isdecimal() else None
        if length is not None and length > limit:
            return _too_large(limit)
        if scope["path"] not in self._uploads and length is not None and length <= SMALL:
            return None
        token = cookie_parser(headers.get("cookie", "")).get(self._cookie)
        try:
            await run_in_threadpool(self._check, scope["path"], token)
        except CrumbError as error:
            # Whoever is not signed in sends nothing large.
            return from_error(error) if length != 0 or token is None else None
        except SQLAlchemyError as error:
            answer = from_database(error)
            if answer is None:
                raise
            return answer
        return None

    async def _take_in(
        self, scope: Scope, receive: Receive, limit: int, body: SpooledTemporaryFile[bytes]
    ) -> None:
        place = place_of(Request(scope))
        if self._sending[place] >= OF_ONE_ADDRESS:
            raise _TooSlow
        self._sending[place] += 1
        try:
            await _take_in(receive, limit, body)
        finally:
            self._sending[place] -= 1
            if not self._sending[place]:
                del self._sending[place]


async def _take_in(receive: Receive, limit: int, body: SpooledTemporaryFile[bytes]) -> None:
    loop = asyncio.get_running_loop()
    begun, seen, more = loop.time(), 0, True
    while more:
        latest = begun + _FIRST_SECONDS + seen / LEAST_BYTES_A_SECOND
        try:
            async with asyncio.timeout_at(min(loop.time() + IDLE_SECONDS, latest)):
                message = await receive()
        except TimeoutError:
            raise _TooSlow from None
        if message["type"] == "http.disconnect":
            raise _Gone
        part = message.get("body", b"")
        seen += len(part)
        if seen > limit:
            raise _TooLarge
        body.write(part)
        more = message.get("more_body", False)
    body.seek(0)


def _again(body: SpooledTemporaryFile[bytes], receive: Receive) -> Receive:
    """What was taken in, as if it came now; afterwards, what else comes."""
    is_over = False

    async def replay() -> Message:
        nonlocal is_over
        if is_over:
            return await receive()
        part = body.read(_BLOCK)
        is_over = len(part) < _BLOCK
        return {"type": "http.request", "body": part, "more_body": not is_over}

    return replay


def _too_large(limit: int) -> Response:
    size = f"{limit // 1_000_000} MB"
    return problem(413, "Too large", f"This is larger than the {size} that can be sent here.")


def _too_slow() -> Response:
    answer = problem(
        408, "Too slow", "This did not arrive in time. Nothing was changed: send it again."
    )
    answer.headers["Connection"] = "close"
    return answer
