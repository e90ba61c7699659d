"""The server's connections: one that never says what it wants is closed."""

import asyncio
from collections import Counter
from typing import ClassVar

from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

from crumb.api.middleware.patience import ABORT

HEADER_SECONDS = 15.0
"""From a connection or the first byte of a request to the end of its headers."""
OF_ONE_ADDRESS = 1000
"""Connections that have said nothing yet: of one address, which may be a whole school's."""


class Connection(HttpToolsProtocol):
    """One connection, with a bound on how long its headers take."""

    _silent: ClassVar[Counter[str]] = Counter()

    _timer: asyncio.TimerHandle | None = None
    _peer = ""

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """Begin to wait for its first request."""
        super().connection_made(transport)
        self._peer = self.client[0] if self.client else ""
        if self._silent[self._peer] >= OF_ONE_ADDRESS:
            transport.abort()
            return
        self._wait()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait no more."""
        self._wait_no_more()
        super().connection_lost(exc)

    def data_received(self, data: bytes) -> None:
        """Take bytes in; those that begin no request are waited for as well."""
        super().data_received(data)
        is_answering = self.cycle is not None and not self.cycle.response_complete
        if self._timer is None and not is_answering and not self.transport.is_closing():
            self._wait()

    def on_message_begin(self) -> None:
        """A request begins."""
        super().on_message_begin()
        self.scope[ABORT] = self.transport.abort  # type: ignore[literal-required]
        if self._timer is None:
            self._wait()

    def on_headers_complete(self) -> None:
        """Its headers are there."""
        self._wait_no_more()
        super().on_headers_complete()

    def _wait(self) -> None:
        self._silent[self._peer] += 1
        self._timer = self.loop.call_later(HEADER_SECONDS, self.transport.abort)

    def _wait_no_more(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None
            self._silent[self._peer] -= 1
            if not self._silent[self._peer]:
                del self._silent[self._peer]
