"""A request's id, its line in the log, and an answer in plain words whatever happens inside."""

import logging
import re
import time
from uuid import uuid4

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from crumb.api.problems import problem
from crumb.logs import request_id

log = logging.getLogger("crumb.requests")
_ID = re.compile(r"[A-Za-z0-9-]{8,64}")
_SLOW = 1.0  # seconds; what is quicker and went well is not worth a line


class Context:
    """The outermost: nothing gets past it as a broken connection or a bare error."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        given = Headers(scope=scope).get("x-request-id", "")
        mine = given if _ID.fullmatch(given) else str(uuid4())
        token = request_id.set(mine)
        begun = time.monotonic()
        status = 0

        async def sending(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
                MutableHeaders(scope=message)["X-Request-Id"] = mine
            await send(message)

        try:
            await self.app(scope, receive, sending)
        except Exception:
            log.exception("fault", extra=_told(scope))
            if not status:
                answer = problem(
                    500,
                    "A fault of ours",
                    "Something went wrong in Crumb, and nothing was changed. Try it again. If it"
                    " stays so, give this request's number to the person who looks after the"
                    " server.",
                    request_id=mine,
                )
                await answer(scope, receive, sending)
        finally:
            took = time.monotonic() - begun
            if status >= 500 or took > _SLOW:
                log.warning(
                    "answered", extra={**_told(scope), "status": status, "ms": round(took * 1000)}
                )
            request_id.reset(token)


def _told(scope: Scope) -> dict[str, object]:
    """The route as it is written in the code: an address may hold a code or a name."""
    route = scope.get("route")
    return {"method": scope["method"], "route": getattr(route, "path", "")}
