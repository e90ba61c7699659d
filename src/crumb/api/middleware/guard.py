"""Security headers, and refusal of malformed addresses."""

from urllib.parse import unquote, urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from crumb.api.problems import problem
from crumb.api.text import has_control_characters
from crumb.settings import get_settings

POLICY = (
    "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:;"
    " media-src 'self' blob:;"  # a take is heard before it is handed in
    " font-src 'self' data:;"  # the engraver puts its own music font into a drawing
    " frame-ancestors 'none'; base-uri 'none'; form-action 'self'"
)


_ONLY_READ = ("GET", "HEAD", "OPTIONS")


def _is_foreign(headers: Headers) -> bool:
    """Whether a browser says that another site's page sent it. Other programs say nothing."""
    if headers.get("sec-fetch-site", "same-origin") not in ("same-origin", "none"):
        return True
    origin = headers.get("origin")
    if origin is None:
        return False
    allowed = {headers.get("host", ""), urlsplit(get_settings().public_url).netloc}
    return urlsplit(origin).netloc not in allowed


class Guard:
    """API answers are never kept by a shared cache; control characters lead nowhere.

    What changes something must come from a page of our own. Cookies are strict about that already;
    this holds where a browser is not.
    """

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer one request."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        is_api = scope["path"].startswith("/api")

        async def sending(message: Message) -> None:
            if message["type"] == "http.response.start":
                headers = MutableHeaders(scope=message)
                headers.setdefault("Content-Security-Policy", POLICY)
                headers.setdefault("X-Content-Type-Options", "nosniff")
                headers.setdefault("Referrer-Policy", "same-origin")
                if is_api:
                    headers.setdefault("Cache-Control", "no-store")
            await send(message)

        if scope["method"] not in _ONLY_READ and is_api and _is_foreign(Headers(scope=scope)):
            answer = problem(
                403,
                "From elsewhere",
                "Another web page sent this. Nothing was changed: do it in Crumb itself.",
            )
            await answer(scope, receive, sending)
            return
        query = unquote(scope.get("query_string", b"").decode("latin-1").replace("+", " "))
        if has_control_characters(scope["path"]) or has_control_characters(query):
            answer = problem(422, "Not understood", "There is a control character in this address.")
            await answer(scope, receive, sending)
            return
        await self.app(scope, receive, sending)
