"""Limits and errors: every refusal is one sentence."""

import asyncio
import time
from collections.abc import Awaitable, Callable

import structlog
from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from prometheus_client import Counter, Histogram
from starlette.exceptions import HTTPException
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from ..core.model.errors import BadInput
from ..core.pictures.image import FILE_LIMIT
from .entry import Door, is_our_name
from .faults import OUTSIDE, TooSlow, told

log = structlog.get_logger()
REQUESTS = Counter("warmtide_requests", "Answered requests", ["method", "status"])
SECONDS = Histogram("warmtide_request_seconds", "Seconds from request to answer", ["route"])
_FORM_SLACK = 1 << 16
_JSON_LIMIT = 1 << 20
# The file of a study is written to the disk as it comes.
STUDY_FILES = ("application/zip", "application/octet-stream")
_STUDY_PATH, _STUDY_LIMIT = "/api/studies/file", 32 << 30
_CHANGES = {"POST", "PUT", "PATCH", "DELETE"}
# A body may take so long, and longer for what has come of it by then at the slowest pace that is waited for, bytes a second.
_PATIENCE_SECONDS, _SLOWEST = 20.0, 50_000
_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    # Not "no-referrer": a form of our own page would then say that it comes from nowhere.
    "Referrer-Policy": "same-origin",
    "Content-Security-Policy": (
        "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none';"
        " base-uri 'none'; form-action 'self'"
    ),
}
_MISSING = {404: "There is nothing at this address; it may have been deleted.", 405: "That can't be done here."}


def problem(status: int, message: str) -> JSONResponse:
    # Halves of character pairs, which a request may hold, can't be sent.
    return JSONResponse({"message": message.encode("utf-8", "replace").decode()}, status_code=status)


def _too_large(request: Request) -> str | None:
    try:
        length = int(request.headers.get("content-length", "0"))
    except ValueError:
        return "The request gives no valid length."
    form = request.headers.get("content-type", "").startswith("multipart/form-data")
    if form and length > FILE_LIMIT + _FORM_SLACK:
        return f"The file has {length / 1e6:.0f} MB; at most {FILE_LIMIT // 1024**2} MB can be brought in."
    if request.url.path == _STUDY_PATH and request.headers.get("content-type") in STUDY_FILES:
        most = _STUDY_LIMIT
    else:
        most = _JSON_LIMIT
    if not form and length > most:
        return "The request is too large."
    # In pieces without an end told a body of any size would be read.
    if "transfer-encoding" in request.headers or (form and "content-length" not in request.headers):
        return "The request must say how long it is."
    return None


def install(app: FastAPI, names: frozenset[str], key: str) -> None:
    """Error handlers, size limits, who may come in, a same-origin rule, metrics and a log line for every change.

    Parameters
    ----------
    names : what the server may be called. key : what others than this machine must have; none is asked for where empty.
    """
    door = Door(key) if key else None
    _answer_faults(app)

    @app.middleware("http")
    async def guard(request: Request, call: Callable[[Request], Awaitable[Response]]) -> Response:
        began = time.perf_counter()
        try:
            response = await _refused(request, names, door)
        except TooSlow as error:
            response = problem(error.status_code, str(error.detail))
        if response is None:
            response = await call(request)
        for name, value in _HEADERS.items():
            response.headers[name] = value
        route = getattr(request.scope.get("route"), "path", "other")
        REQUESTS.labels(request.method, str(response.status_code)).inc()
        SECONDS.labels(route).observe(time.perf_counter() - began)
        if request.method in _CHANGES:
            log.info("request", method=request.method, path=request.url.path, status=response.status_code)
        return response

    # Outermost: what reads a body does so through it.
    app.add_middleware(PunctualBodies)


async def _refused(request: Request, names: frozenset[str], door: Door | None) -> Response | None:
    """What is answered instead of what was asked for, or None where nothing stands against it."""
    host = request.headers.get("host", "")
    if not is_our_name(host, names):
        return problem(400, "This is not an address of this Warm Tide; use the one that was printed at its start.")
    if message := _too_large(request):
        return problem(413, message)
    origin = request.headers.get("origin")
    if request.method in _CHANGES and origin and origin.split("://")[-1] != host:
        return problem(403, "Changes are only taken from Warm Tide's own pages.")
    return await door.answer(request) if door is not None else None


def _answer_faults(app: FastAPI) -> None:
    """One sentence for everything that goes wrong."""

    @app.exception_handler(BadInput)
    async def bad_input(_: Request, error: BadInput) -> Response:
        return problem(422, str(error))

    @app.exception_handler(RequestValidationError)
    async def bad_request(_: Request, error: RequestValidationError) -> Response:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"] if part not in ("body", "query", "path"))
        if "path" in first["loc"]:
            return problem(404, _MISSING[404])
        said = str(first["msg"]).removeprefix("Value error, ")
        return problem(422, f"{where or 'The request'}: {said[0].lower()}{said[1:]}.")

    @app.exception_handler(HTTPException)
    async def refused(_: Request, error: HTTPException) -> Response:
        answer = problem(error.status_code, _MISSING.get(error.status_code, str(error.detail)))
        answer.headers.update(error.headers or {})
        return answer

    async def outside(request: Request, error: Exception) -> Response:
        found = told(error)
        if found is None:
            return await fault(request, error)
        log.warning("request refused", path=request.url.path, status=found.status, error=str(error).partition("\n")[0])
        answer = problem(found.status, found.message)
        if found.again_in is not None:
            answer.headers["Retry-After"] = str(found.again_in)
        return answer

    for kind in OUTSIDE:
        app.add_exception_handler(kind, outside)

    @app.exception_handler(Exception)
    async def fault(request: Request, error: Exception) -> Response:
        log.error("request failed", path=request.url.path, exc_info=error)
        return problem(500, "Something went wrong inside Warm Tide; the server's messages say what.")


class PunctualBodies:
    """Lets go of a request whose body comes too slowly, so that nobody keeps a place by sending a byte a second."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or scope["method"] not in _CHANGES:
            await self.app(scope, receive, send)
            return
        began, got, whole = time.monotonic(), 0, False

        async def punctual() -> Message:
            nonlocal got, whole
            if whole:
                return await receive()
            left = began + _PATIENCE_SECONDS + got / _SLOWEST - time.monotonic()
            try:
                message = await asyncio.wait_for(receive(), max(left, 0.01))
            except TimeoutError:
                raise TooSlow from None
            got += len(message.get("body", b""))
            whole = not message.get("more_body", False)
            return message

        await self.app(scope, punctual, send)
