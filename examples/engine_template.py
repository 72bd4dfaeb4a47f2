"""An engine for Warm Tide in one file: fill in `ABOUT` and `restyle`, then

    python engine_template.py --port 8910        (needs fastapi, uvicorn, python-multipart, pillow and numpy)
    warmtide engine check http://127.0.0.1:8910
    warmtide engine add http://127.0.0.1:8910

What stands here does all of docs/engine-protocol.md but the picture."""

import argparse
import hmac
import io
import json
import re
import threading
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import uvicorn
from fastapi import FastAPI, File, HTTPException, Request, UploadFile
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse, Response, StreamingResponse
from PIL import Image

ABOUT = {
    "protocol": 1, "name": "template", "title": "Template", "version": "1", "repeatable": True, "sizes": [64, 2048],
    "looks": [{"name": "plain", "title": "Plain", "description": "What this engine makes."}],
    "controls": [{"name": "strength", "low": 0, "high": 1}],
    "samplers": [], "holds": [], "regions": False, "words": False, "at_once": 1, "cost": {"take": 0.2, "step": 0},
}  # fmt: skip


def restyle(source, recipe, tell):
    """The one function to fill in.

    source : (h, w, 3) uint8 sRGB. recipe : as asked for, checked against ABOUT. tell(done, of) : call it now and then.
    Returns (h, w, 3) uint8; at strength 0 the source itself.
    """
    tell(1, 1)
    other = 255 - source
    return (source + recipe["strength"] * (other.astype(float) - source) + 0.5).astype(np.uint8)


class Render:
    """One key: what was told so far, and the picture when it is done."""

    def __init__(self):
        self.events, self.picture, self.over = [], None, False
        self.changed = threading.Condition()

    def tell(self, kind, **values):
        if self.over:
            raise InterruptedError
        with self.changed:
            self.events.append((kind, values))
            self.over = kind in ("done", "failed")
            self.changed.notify_all()

    def make(self, source, recipe):
        try:
            result = np.asarray(restyle(source, recipe, lambda done, of: self.tell("step", done=done, of=of)))
            out = io.BytesIO()
            Image.fromarray(result).save(out, "PNG")
            self.picture = out.getvalue()
            self.tell("done", width=result.shape[1], height=result.shape[0])
        except Exception as error:
            self.over or self.tell("failed", error=f"The engine could not paint this: {error}.")

    def stream(self):
        at = 0
        while not (self.over and at == len(self.events)):
            with self.changed:
                if at == len(self.events):
                    self.changed.wait(2)
                fresh = self.events[at:]
            at += len(fresh)
            yield "".join(f"event: {kind}\ndata: {json.dumps(values)}\n\n" for kind, values in fresh) or ": waiting\n\n"


def checked(recipe):
    """The recipe, if this engine has said that it can do it."""
    if not isinstance(recipe, dict) or recipe.get("look") not in [look["name"] for look in ABOUT["looks"]]:
        raise HTTPException(400, "There is no such look here.")
    for control in ABOUT["controls"]:
        if not control["low"] <= float(recipe.get(control["name"], control["low"])) <= control["high"]:
            raise HTTPException(400, f"{control['name']} is out of its range.")
    return recipe


def create(token):
    app, renders, pool = FastAPI(), {}, ThreadPoolExecutor(ABOUT["at_once"])

    def known(key):
        if key not in renders:
            raise HTTPException(404, "Nothing was asked for under this key.")
        return renders[key]

    app.exception_handler(HTTPException)(lambda _, e: JSONResponse({"error": e.detail}, e.status_code))
    app.exception_handler(RequestValidationError)(
        lambda *_: JSONResponse({"error": "It needs a recipe and a source."}, 422)
    )

    @app.middleware("http")
    async def guard(request: Request, call_next):
        if token and not hmac.compare_digest(request.headers.get("authorization", ""), f"Bearer {token}"):
            return JSONResponse({"error": "The token is missing or another."}, 401)
        return await call_next(request)

    app.get("/about")(lambda: ABOUT)

    @app.put("/renders/{key}", status_code=202)
    def put(key: str, recipe: UploadFile = File(), source: UploadFile = File()):  # noqa: B008
        if not re.fullmatch(r"[0-9a-f]{64}", key):
            raise HTTPException(404, "A key is 64 hexadecimal digits.")
        found = renders.get(key)
        if found is None or (found.over and found.picture is None):
            try:
                asked = checked(json.load(recipe.file))
                picture = np.asarray(Image.open(source.file).convert("RGB"))
            except (ValueError, OSError):
                raise HTTPException(400, "The recipe or the source can't be read.") from None
            renders[key] = Render()
            pool.submit(renders[key].make, picture, asked)
        return {"key": key}

    @app.get("/renders/{key}/events")
    def events(key: str):
        return StreamingResponse(known(key).stream(), media_type="text/event-stream")

    @app.get("/renders/{key}/picture")
    def picture(key: str):
        if (data := known(key).picture) is None:
            raise HTTPException(409, "This picture is not done.")
        return Response(data, media_type="image/png")

    @app.delete("/renders/{key}", status_code=204)
    def drop(key: str):
        renders.pop(key, Render()).over = True

    return app


if __name__ == "__main__":
    given = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    given.add_argument("--port", type=int, default=8910)
    given.add_argument("--token-file", type=Path)
    chosen = given.parse_args()
    secret = chosen.token_file.read_text().strip() if chosen.token_file else None
    uvicorn.run(create(secret), port=chosen.port, log_level="warning")
