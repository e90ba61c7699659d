"""Request bodies: their size, and whether the sender may send them, before they are read."""

from collections.abc import Callable
from contextlib import suppress

from sqlalchemy.exc import SQLAlchemyError
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers
from starlette.requests import cookie_parser
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from crumb.api.problems import from_database, from_error, problem
from crumb.core.errors import CrumbError

LARGEST = 1_000_000
"""Bytes of JSON; five hundred repetitions are a fifth of it."""
SMALL = 20_000
"""A body as small as that is read before anybody asks whose it is."""


class TooLarge(Exception):
    """More came than was announced or is allowed."""


class Bodies:
    """Looks at what is announced, and counts what comes.

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

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http" or scope["method"] in ("GET", "HEAD", "OPTIONS"):
            await self.app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        limit = self._uploads.get(scope["path"], LARGEST)
        announced = headers.get("content-length", "")
        length = int(announced) if announced.isdecimal() else None
        if length is not None and length > limit:
            await _too_large(limit)(scope, receive, send)
            return
        if scope["path"] in self._uploads or length is None or length > SMALL:
            token = cookie_parser(headers.get("cookie", "")).get(self._cookie)
            try:
                await run_in_threadpool(self._check, scope["path"], token)
            except CrumbError as error:
                # Said before the body is read: whoever is not signed in sends nothing large.
                if length != 0 or token is None:
                    await from_error(error)(scope, receive, send)
                    return
            except SQLAlchemyError as error:
                answer = from_database(error)
                if answer is None:
                    raise
                await answer(scope, receive, send)
                return
        seen = 0

        async def counting() -> Message:
            nonlocal seen
            message = await receive()
            if message["type"] == "http.request":
                seen += len(message.get("body", b""))
                if seen > limit:
                    raise TooLarge
            return message

        async def sending(message: Message) -> None:
            # Whatever is inside makes of a body that ends too early is not what went wrong.
            if seen <= limit:
                await send(message)

        with suppress(TooLarge):
            await self.app(scope, counting, sending)
        if seen > limit:
            await _too_large(limit)(scope, receive, send)


def _too_large(limit: int) -> ASGIApp:
    size = f"{limit // 1_000_000} MB"
    return problem(413, "Too large", f"This is larger than the {size} that can be sent here.")
