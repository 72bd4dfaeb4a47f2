"""Who may come in: the names the server goes by, and the key that others than this machine need."""

import hmac
import ipaddress
import time
from collections import OrderedDict, deque
from html import escape
from urllib.parse import parse_qs

from fastapi import Request, Response
from fastapi.responses import HTMLResponse, RedirectResponse

COOKIE = "warmtide"
_ANY_ADDRESS = "any-address"
_TRIES, _WITHIN = 10, 60.0
# Callers whose wrong tries are remembered at once.
_CALLERS = 1000
_YEAR = 365 * 24 * 3600
_FORM_LIMIT = 2048


def is_our_name(header: str, names: frozenset[str]) -> bool:
    """Whether a Host header names this server; a page elsewhere could lead a browser here under a name of its own."""
    host = header.rpartition(":")[0] if header.rpartition(":")[2].isdigit() and not header.endswith("]") else header
    host = host.lower().rstrip(".")
    if host in names:
        return True
    if _ANY_ADDRESS not in names:
        return False
    try:
        ipaddress.ip_address(host.strip("[]"))
    except ValueError:
        return False
    return True


class Door:
    """Lets in whoever has the key; ten wrong tries a minute from one address, and it stays shut for a while."""

    def __init__(self, key: str) -> None:
        self._key = key.encode()
        self._wrong: OrderedDict[str, deque[float]] = OrderedDict()

    def _fits(self, given: str) -> bool:
        return hmac.compare_digest(given.encode(), self._key)

    async def answer(self, request: Request) -> Response | None:
        """What stands between a request and the program, or None where it may go on."""
        if self._fits(request.cookies.get(COOKIE, "")):
            return None
        caller = request.client.host if request.client else ""
        tried = await self._tried(request)
        if tried is None:
            return self._page(401 if request.url.path.startswith("/api") else 200)
        if self._shut(caller):
            return self._page(429, "Too many wrong keys; wait a minute and try again.")
        if not self._fits(tried):
            self._note(caller)
            return self._page(403, "That is not the key; it was printed with the address at the first start.")
        self._wrong.pop(caller, None)
        answer = RedirectResponse("/", status_code=303)
        answer.set_cookie(COOKIE, tried, max_age=_YEAR, httponly=True, samesite="strict")
        return answer

    async def _tried(self, request: Request) -> str | None:
        """The key that a request brings: in the address that was printed, or from the sign-in page."""
        if request.method == "GET" and request.url.path == "/":
            return request.query_params.get("key")
        if request.method == "POST" and request.url.path == "/sign-in":
            body = b""
            async for piece in request.stream():
                body += piece
                if len(body) > _FORM_LIMIT:
                    return ""
            return parse_qs(body.decode("utf-8", "replace")).get("key", [""])[0].strip()
        return None

    def _shut(self, caller: str) -> bool:
        tries = self._wrong.get(caller)
        if not tries:
            return False
        while tries and time.monotonic() - tries[0] > _WITHIN:
            tries.popleft()
        return len(tries) >= _TRIES

    def _note(self, caller: str) -> None:
        self._wrong.setdefault(caller, deque(maxlen=_TRIES)).append(time.monotonic())
        self._wrong.move_to_end(caller)
        while len(self._wrong) > _CALLERS:
            self._wrong.popitem(last=False)

    def _page(self, status: int, said: str = "") -> Response:
        """The sign-in page, which needs nothing else of the program."""
        note = f"<p role=alert>{escape(said)}</p>" if said else ""
        page = _PAGE.replace("<!-- said -->", note)
        headers = {"Retry-After": "60"} if status == 429 else {}
        return HTMLResponse(page, status_code=status, headers={"Cache-Control": "no-store", **headers})


_PAGE = """<!doctype html><html lang=en><meta charset=utf-8><meta name=viewport content="width=device-width">
<title>Warm Tide</title><style>
body{margin:0;min-height:100vh;display:grid;place-items:center;background:#f4f0e8;color:#22313a;font:16px/1.5 system-ui,sans-serif}
form{width:min(26rem,90vw);display:grid;gap:.75rem}h1{margin:0;font-size:1.5rem}p{margin:0}
input,button{font:inherit;padding:.6rem .75rem;border:1px solid #8b979d;border-radius:.4rem;background:#fff;color:inherit}
button{background:#22313a;color:#fff;border-color:#22313a}p[role=alert]{color:#9a2f12}
</style><form method=post action=/sign-in><h1>Warm Tide</h1>
<p>This Warm Tide runs on another machine. Its key was printed there with the address, and lies in its data folder.</p>
<!-- said --><label for=key>Key</label><input id=key name=key type=password autocomplete=current-password autofocus required>
<button>Come in</button></form></html>"""
