"""Who may ask: only pages this server itself has served."""

from collections.abc import Iterable
from urllib.parse import urlsplit

from starlette.types import ASGIApp, Message, Receive, Scope, Send

from yarnkite.api.problems import problem
from yarnkite.entrance import ENTER

_CHANGING = {"POST", "PUT", "PATCH", "DELETE"}
_HEADERS = (
    (
        b"content-security-policy",
        b"default-src 'self'; img-src 'self' blob: data:; media-src 'self' blob:; "
        b"style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'",
    ),
    (b"x-content-type-options", b"nosniff"),
    (b"referrer-policy", b"no-referrer"),
    (b"cross-origin-resource-policy", b"same-origin"),
)


class SameOrigin:
    """Refuses other host names (DNS rebinding) and what other sites' pages ask for; adds safe headers.

    Another site may lead here by a link, to the front page; a picture, an answer or a file it gets none of, so that
    it can neither see nor tire the program.
    """

    def __init__(self, app: ASGIApp, host_names: frozenset[str]) -> None:
        self._app, self._host_names = app, host_names

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        headers = {name: value.decode("latin-1") for name, value in scope["headers"]}
        reason = self._reason_to_refuse(scope, headers)
        if reason is not None:
            await problem(403, "not_from_here", reason)(scope, receive, send)
            return

        await self._app(scope, receive, with_headers(send, _HEADERS))

    def _reason_to_refuse(self, scope: Scope, headers: dict[bytes, str]) -> str | None:
        host, origin, site = headers.get(b"host", ""), headers.get(b"origin"), headers.get(b"sec-fetch-site")
        if _host_name(host) not in self._host_names:
            return "This address is not one Yarn Kite answers under. Open the address it printed when it started."
        # Fetch Metadata: a browser says whose page asks; what is no browser sends neither this nor an origin.
        is_ours = site in (None, "same-origin", "none") and origin in (None, f"http://{host}")
        if is_ours:
            return None
        if scope["method"] in _CHANGING:
            return "Another site asked for a change here. Only Yarn Kite's own pages may do that."
        leads_here = headers.get(b"sec-fetch-mode") == "navigate" and headers.get(b"sec-fetch-dest") == "document"
        if leads_here and (scope["path"] == "/" or scope["path"].startswith(ENTER)):
            return None
        return "Another site asked for something here. Only Yarn Kite's own pages may do that."


def with_headers(send: Send, headers: Iterable[tuple[bytes, bytes]]) -> Send:
    """Return a ``send`` that adds headers to the answer."""

    async def send_with_headers(message: Message) -> None:
        if message["type"] == "http.response.start":
            message["headers"] = [*message.get("headers", []), *headers]
        await send(message)

    return send_with_headers


def _host_name(host: str) -> str:
    """Return the name in a Host header, or nothing for one that is more than a name and a port (RFC 9110, 7.2)."""
    try:
        parts = urlsplit(f"//{host}")
        if parts.netloc != host or "@" in host or (parts.port is None and host.endswith(":")):
            return ""
        return parts.hostname or ""
    except ValueError:
        return ""
