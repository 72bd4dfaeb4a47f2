"""Limits and errors: every refusal is one sentence."""

import time
from collections.abc import Awaitable, Callable

import structlog
from fastapi import FastAPI, Request, Response
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from prometheus_client import Counter, Histogram
from starlette.exceptions import HTTPException

from ..core.errors import BadInput
from ..core.image import FILE_LIMIT

log = structlog.get_logger()
REQUESTS = Counter("warmtide_requests", "Answered requests", ["method", "status"])
SECONDS = Histogram("warmtide_request_seconds", "Seconds from request to answer", ["route"])
_FORM_SLACK = 1 << 16
_JSON_LIMIT = 1 << 20
_CHANGES = {"POST", "PUT", "PATCH", "DELETE"}
_MISSING = {404: "There is nothing at this address; it may have been deleted.", 405: "That can't be done here."}


def problem(status: int, message: str) -> JSONResponse:
    return JSONResponse({"message": message}, status_code=status)


def _too_large(request: Request) -> str | None:
    try:
        length = int(request.headers.get("content-length", "0"))
    except ValueError:
        return "The request gives no valid length."
    form = request.headers.get("content-type", "").startswith("multipart/form-data")
    if form and length > FILE_LIMIT + _FORM_SLACK:
        return f"The file has {length / 1e6:.0f} MB; at most {FILE_LIMIT // 1024**2} MB can be brought in."
    if not form and length > _JSON_LIMIT:
        return "The request is too large."
    # In pieces without an end told a body of any size would be read.
    if "transfer-encoding" in request.headers or (form and "content-length" not in request.headers):
        return "The request must say how long it is."
    return None


def install(app: FastAPI) -> None:
    """Error handlers, size limits, a same-origin rule, metrics and a log line for every change."""

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
        return problem(error.status_code, _MISSING.get(error.status_code, str(error.detail)))

    @app.exception_handler(Exception)
    async def fault(request: Request, error: Exception) -> Response:
        log.error("request failed", path=request.url.path, exc_info=error)
        return problem(500, "Something went wrong inside Warm Tide; the server's messages say what.")

    @app.middleware("http")
    async def guard(request: Request, call: Callable[[Request], Awaitable[Response]]) -> Response:
        began = time.perf_counter()
        if message := _too_large(request):
            return problem(413, message)
        origin = request.headers.get("origin")
        if request.method in _CHANGES and origin and origin.split("://")[-1] != request.headers.get("host"):
            return problem(403, "Changes are only taken from Warm Tide's own pages.")
        response = await call(request)
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "no-referrer"
        response.headers["Content-Security-Policy"] = (
            "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; frame-ancestors 'none'"
        )
        route = getattr(request.scope.get("route"), "path", "other")
        REQUESTS.labels(request.method, str(response.status_code)).inc()
        SECONDS.labels(route).observe(time.perf_counter() - began)
        if request.method in _CHANGES:
            log.info("request", method=request.method, path=request.url.path, status=response.status_code)
        return response
