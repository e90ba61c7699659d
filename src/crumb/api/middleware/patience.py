"""Patience with whoever reads: an answer that nobody takes is given up.

Whatever is inside has given back its place before (``admission``); here the connection itself is
ended, so that a thousand of them do not stay open.
"""

import asyncio
from contextlib import suppress

from starlette.types import ASGIApp, Message, Receive, Scope, Send

ABORT = "crumb.abort"
"""Where the server puts what ends a connection at once (``api.connections``)."""
UNREAD_SECONDS = 20.0
"""So long a block of an answer may wait to be taken."""


class _Unread(Exception):
    """Nobody takes the answer."""


class Patience:
    """Ends connections on which an answer is not read."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return

        async def sending(message: Message) -> None:
            try:
                async with asyncio.timeout(UNREAD_SECONDS):
                    await send(message)
            except TimeoutError:
                if abort := scope.get(ABORT):
                    abort()
                raise _Unread from None

        with suppress(_Unread):
            await self.app(scope, receive, sending)
