"""The door: who is not known gets no answer, and a browser that comes with a ticket is known from then on."""

from http.cookies import CookieError, SimpleCookie

from starlette.requests import Request
from starlette.responses import HTMLResponse, Response
from starlette.types import ASGIApp, Receive, Scope, Send

from yarnkite.api.problems import problem
from yarnkite.api.security import with_headers
from yarnkite.entrance import ENTER, KNOWN_S, Entrance

_SENTENCE = (
    "Yarn Kite does not know this browser. Open the address it printed when it was started; yarnkite enter prints a "
    "new one."
)
_PAGE = """<!doctype html><html lang="en"><meta charset="utf-8"><title>Yarn Kite</title>{head}
<style>
:root {{ color-scheme: light dark; }}
body {{ font: 16px/1.5 system-ui, sans-serif; max-width: 34em; margin: 18vh auto 0; padding: 0 1.5em;
  background: light-dark(#f6f2ea, #1c1a17); color: light-dark(#2a2622, #e9e2d6); }}
h1 {{ font-size: 1.4em; }}
code {{ background: light-dark(#e9e2d4, #2d2a25); padding: .1em .4em; border-radius: 3px; }}
a {{ color: light-dark(#a8321f, #f0917f); }}
</style><body>{body}</body></html>"""
_UNKNOWN = _PAGE.format(
    head="",
    body="""<h1>This browser is not known here</h1>
<p>Yarn Kite lets in only who started it. Open the address it printed when it was started: it works once, and this
browser is known from then on.</p>
<p>Have it print a new one in a terminal: <code>./run enter</code> (installed: <code>yarnkite enter</code>).</p>
<p>You were let in before and followed a link to here? <a href="/">Open Yarn Kite</a></p>""",
)
# Another site may have led to the ticket, and what it leads on to gets no strict cookie: so this page leads on.
_LET_IN = _PAGE.format(
    head='<meta http-equiv="refresh" content="0; url=/">', body='<p><a href="/">Open Yarn Kite</a></p>'
)


class Door:
    """Answers only who is known: by the key in a header, or by the cookie of a browser that was let in."""

    def __init__(self, app: ASGIApp, entrance: Entrance) -> None:
        self._app, self._entrance = app, entrance

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        request = Request(scope)
        path = request.url.path
        if request.method == "GET" and path.startswith(ENTER):
            await self._by_ticket(request, path.removeprefix(ENTER))(scope, receive, send)
        elif self._knows_program(request):
            await self._app(scope, receive, send)
        elif not self._entrance.knows(_session_in(request)):
            await _not_known(request)(scope, receive, send)
        elif request.method == "GET" and "text/html" in request.headers.get("accept", ""):
            # Whenever a page is opened the browser is known for as long again.
            await self._app(scope, receive, with_headers(send, [(b"set-cookie", self._cookie(request).encode())]))
        else:
            await self._app(scope, receive, send)

    def _by_ticket(self, request: Request, ticket: str) -> Response:
        # Whoever is known already may open the address again.
        if not self._entrance.admits(ticket) and not self._entrance.knows(_session_in(request)):
            return _not_known(request)
        response = HTMLResponse(_LET_IN, headers={"Cache-Control": "no-store"})
        response.headers.append("set-cookie", self._cookie(request))
        return response

    def _knows_program(self, request: Request) -> bool:
        way, _, key = request.headers.get("authorization", "").partition(" ")
        return way.lower() == "bearer" and self._entrance.is_key(key.strip())

    def _cookie(self, request: Request) -> str:
        kept = f"Max-Age={KNOWN_S}; Path=/; HttpOnly; SameSite=Strict"
        return f"{_cookie_name(request)}={self._entrance.session()}; {kept}"


def _cookie_name(request: Request) -> str:
    """Return a name of this port alone: browsers send a cookie to every port of a host."""
    return f"yarnkite-{(request.scope.get('server') or ('', 0))[1]}"


def _session_in(request: Request) -> str:
    try:
        found = SimpleCookie(request.headers.get("cookie", "")).get(_cookie_name(request))
    except CookieError:
        return ""
    return found.value if found is not None else ""


def _not_known(request: Request) -> Response:
    if "text/html" in request.headers.get("accept", ""):
        return HTMLResponse(_UNKNOWN, 401, headers={"Cache-Control": "no-store"})
    return problem(401, "not_known", _SENTENCE)
