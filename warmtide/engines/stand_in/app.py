"""The simulated engine over HTTP: the protocol of docs/engine-protocol.md, and, where that is asked for, not quite that."""

import hmac
import io
import json
import re
import time
import traceback
from collections.abc import Awaitable, Callable, Iterator
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from fastapi import FastAPI, File, Request, UploadFile
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, PlainTextResponse, RedirectResponse, Response, StreamingResponse
from PIL import Image

from ...core.maths.arrays import Byte
from ...core.model.engine import About, ControlTold, Cost, LookTold, SamplerTold, fitted
from ...core.model.errors import BadInput
from ...core.model.recipe import Recipe, recipe_from
from ...core.pictures.image import decode
from ..protocol import PROTOCOL
from .paint import PAINTS
from .renders import Asked, Render, Renders

SIZES = (64, 2048)
_PAUSE = 2.0
_MOST_BYTES = 40_000_000
_FLOOD = 200_000
# Longer than anybody listens to nothing.
_SILENCE = 20.0
_KEY = re.compile(r"[0-9a-f]{64}")
_TITLES = {"a": "Studio A", "b": "Studio B"}


@dataclass(frozen=True)
class Manner:
    """How the simulated engine behaves: which of the two it is, seconds a render, the share that fails, how it is wrong, its token."""

    variant: str = "a"
    delay: float = 0.2
    fail: float = 0.0
    wrong: str | None = None
    token: str | None = None
    at_once: int = 2
    version: str = "1"


def about_of(manner: Manner) -> About:
    """What it says of itself."""
    a = manner.variant == "a"
    amounts = {"strength": (0, 1), "guidance": (1, 20), "seed": (0, 4294967295), "steps": (1, 100)}
    return About(
        protocol=PROTOCOL, name=f"studio-{manner.variant}", title=_TITLES[manner.variant], version=manner.version, sizes=SIZES,
        looks=tuple(LookTold(name=name, title=title, description=f"A simulated look, {title.lower()}.") for name, (title, _) in PAINTS[manner.variant].items()),
        controls=tuple(ControlTold.model_validate({"name": n, "low": low, "high": high}) for n, (low, high) in amounts.items()),
        samplers=(SamplerTold(name="even", title="Even steps"),) if a else (), holds=("lines",) if a else (), regions=a,
        at_once=manner.at_once, cost=Cost(take=manner.delay + 0.05, step=0.004),
    )  # fmt: skip


class Refused(Exception):
    """A request that is not done, with its status and a sentence."""

    def __init__(self, status: int, sentence: str) -> None:
        super().__init__(sentence)
        self.status = status


def create(manner: Manner) -> FastAPI:
    """The application."""
    app = FastAPI(title=_TITLES[manner.variant], openapi_url=None, docs_url=None, redoc_url=None)
    renders = Renders(manner.variant, manner.at_once, manner.delay, manner.fail)
    about = about_of(manner)
    app.state.renders = renders
    _guard(app, manner)

    @app.get("/about")
    async def tell() -> Response:
        if manner.wrong == "redirect":
            return RedirectResponse("http://127.0.0.1:9/about")
        told = about.model_dump(mode="json")
        if manner.wrong == "about":
            told["sizes"] = "any"
        return JSONResponse(told | ({"protocol": 99} if manner.wrong == "protocol" else {}))

    @app.put("/renders/{key}", status_code=202)
    async def ask(
        key: str,
        recipe: Annotated[UploadFile, File()],
        source: Annotated[UploadFile, File()],
        region: Annotated[UploadFile | None, File()] = None,
    ) -> dict[str, str]:
        if manner.wrong == "twice":
            renders.drop(_named(key))
        asked = _asked(
            await recipe.read(_MOST_BYTES),
            await source.read(_MOST_BYTES),
            await region.read(_MOST_BYTES) if region else None,
            about,
            manner,
        )
        renders.ask(_named(key), asked)
        return {"key": key}

    @app.get("/renders/{key}/events")
    async def events(key: str) -> Response:
        render = _known(renders, key, manner)
        told = _told(renders, render, manner)
        return StreamingResponse(told, media_type="text/event-stream", headers={"Cache-Control": "no-store"})

    @app.get("/renders/{key}/picture")
    async def picture(key: str) -> Response:
        render = _known(renders, key, manner)
        if render.picture is None:
            raise Refused(409, "This picture is not done; its events say when it is.")
        return _picture(render.picture, manner)

    @app.delete("/renders/{key}", status_code=204)
    async def drop(key: str) -> None:
        renders.drop(_named(key))

    return app


def _guard(app: FastAPI, manner: Manner) -> None:
    """Its token is asked for, and what goes wrong is one sentence."""

    @app.middleware("http")
    async def guard(request: Request, call_next: Callable[[Request], Awaitable[Response]]) -> Response:
        given = request.headers.get("authorization", "")
        if (
            manner.token is not None
            and manner.wrong != "open"
            and not hmac.compare_digest(given.encode(), f"Bearer {manner.token}".encode())
        ):
            return JSONResponse({"error": "The token is missing or another; ask whoever runs this engine."}, 401)
        if int(request.headers.get("content-length", "0") or 0) > _MOST_BYTES:
            return JSONResponse({"error": f"A request has at most {_MOST_BYTES // 10**6} MB."}, 413)
        return await call_next(request)

    @app.exception_handler(Refused)
    async def refused(_: Request, error: Refused) -> Response:
        if manner.wrong == "trace":
            return PlainTextResponse("".join(traceback.format_exception(error)), 500)
        return JSONResponse({"error": str(error)}, error.status)

    @app.exception_handler(RequestValidationError)
    async def unreadable(_: Request, __: Exception) -> Response:
        return JSONResponse({"error": "A render is asked for with a recipe and a source, as parts of a form."}, 422)


def _named(key: str) -> str:
    if not _KEY.fullmatch(key):
        raise Refused(404, "A render's key is 64 hexadecimal digits.")
    return key


def _known(renders: Renders, key: str, manner: Manner) -> Render:
    found = renders.get(_named(key))
    if found is None or manner.wrong == "forgets":
        raise Refused(404, "Nothing was asked for under this key; PUT it first.")
    return found


def _asked(recipe: bytes, source: bytes, region: bytes | None, about: About, manner: Manner) -> Asked:
    try:
        values = json.loads(recipe)
        if not isinstance(values, dict):
            raise BadInput("A recipe is one JSON object.")
        read = recipe_from({**values, "engine": about.name})
        picture = np.ascontiguousarray(decode(source).rgba[..., :3])
        plane = None if region is None else _plane(region, picture)
        if manner.wrong != "lenient":
            _check(read, picture, about)
        else:
            read = fitted(about, read.changed(strength=min(read.strength, 1))).recipe
    except BadInput as error:
        raise Refused(400, str(error)) from None
    except ValueError:
        raise Refused(400, "The recipe is no JSON.") from None
    if manner.wrong == "source" and read.strength == 0:
        read = read.changed(strength=0.3)
    if manner.wrong == "changing":
        read = read.changed(seed=int(np.random.default_rng().integers(1, 10**6)))
    return Asked(read, picture, plane)


def _check(recipe: Recipe, picture: Byte, about: About) -> None:
    """Refuse what this engine has said that it can't do."""
    side = max(picture.shape[:2])
    if not about.sizes[0] <= side <= about.sizes[1]:
        raise BadInput(f"The source's long side is {side} px; from {about.sizes[0]} to {about.sizes[1]} are taken.")
    if recipe.look not in {look.name for look in about.looks}:
        raise BadInput(f"There is no look {recipe.look}; there is {', '.join(look.name for look in about.looks)}.")
    for control in about.controls:
        value = getattr(recipe, control.name)
        if not control.low <= value <= control.high:
            raise BadInput(
                f"{control.name} goes from {control.low:g} to {control.high:g}; {value:g} is not in that range."
            )


def _plane(data: bytes, picture: Byte) -> Byte:
    plane = np.ascontiguousarray(decode(data).rgba[..., 0])
    if plane.shape != picture.shape[:2]:
        raise BadInput("The region has another size than the source; both have the same.")
    return plane


def _sent(kind: str, data: str) -> str:
    return f"event: {kind}\ndata: {data}\n\n"


def _told(renders: Renders, render: Render, manner: Manner) -> Iterator[str]:
    """The events of a render, as this engine tells them."""
    if manner.wrong == "flood":
        for k in range(_FLOOD):
            yield _sent("step", json.dumps({"done": k % 10, "of": 10}))
    for event in renders.told(render, _PAUSE):
        if manner.wrong == "silent":
            continue
        if event is None:
            yield ": still here\n\n"
            continue
        kind, values = event
        if kind == "done" and manner.wrong == "undone":
            return
        yield _sent(kind, "{" if manner.wrong == "garbled" else json.dumps(values))
    if manner.wrong == "silent":
        time.sleep(_SILENCE)


def _picture(data: bytes, manner: Manner) -> Response:
    if manner.wrong == "cut":
        data = data[: len(data) // 2]
    elif manner.wrong == "large":
        data += b"\0" * 50_000_000
    elif manner.wrong in ("size", "type"):
        image = Image.open(io.BytesIO(data))
        out = io.BytesIO()
        (image.resize((image.width // 2, image.height // 2)) if manner.wrong == "size" else image).save(
            out, "PNG" if manner.wrong == "size" else "JPEG"
        )
        data = out.getvalue()
    return Response(data, media_type="image/png")
