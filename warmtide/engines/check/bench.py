"""What checks of an engine work with: its address, a picture to restyle, raw requests, and what came of earlier ones."""

import hashlib
import json
import time
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import httpx
import httpx_sse
import numpy as np

from ...core.maths.arrays import Byte
from ...core.model.engine import About
from ...core.model.errors import BadInput
from ...core.pictures.image import png
from ..answers import about_from, picture_from
from ..line import Address
from ..protocol import PICTURE_SPARE, PROTOCOL, STREAM_BYTES, Event, event_from, render_path

# Seconds that an answer may be waited for, a word on a stream of events, and the whole of a render of the size that is asked for here.
ANSWER, WORD, RENDER = 10.0, 15.0, 120.0
_SHAPE = (96, 128)


class Wrong(Exception):
    """What is wrong, as a sentence."""


class NotAsked(Exception):
    """The check does not apply to what the engine says of itself."""


def _picture() -> Byte:
    """A small scene: a sky, water, a dark boat; something for an engine to keep or lose."""
    height, width = _SHAPE
    rgb = np.zeros((height, width, 3), np.uint8)
    rgb[:] = np.linspace((120, 150, 190), (230, 200, 160), height).astype(np.uint8)[:, None]
    rgb[60:] = (40, 70, 90)
    rgb[48:66, 40:92] = (90, 40, 30)
    rgb[20:50, 64:67] = (30, 26, 24)
    return rgb


@dataclass
class Bench:
    """One conformance run."""

    address: Address
    picture: Byte = field(default_factory=_picture)
    run: str = field(default_factory=lambda: str(time.time_ns()))
    _done: dict[str, tuple[list[Event], bytes, str]] = field(default_factory=dict)

    @cached_property
    def client(self) -> httpx.Client:
        return httpx.Client(
            base_url=self.address.url,
            verify=self.address.trusted(),
            follow_redirects=False,
            trust_env=False,
            timeout=ANSWER,
        )

    @property
    def headers(self) -> dict[str, str]:
        token = self.address.token()
        return {} if token is None else {"Authorization": f"Bearer {token}"}

    def request(self, method: str, path: str, headers: dict[str, str] | None = None, **more: Any) -> httpx.Response:
        """One request with the token, or `Wrong` where nothing comes."""
        try:
            return self.client.request(method, path, headers=self.headers if headers is None else headers, **more)
        except httpx.TransportError as error:
            raise Wrong(f"{method} {path} was not answered ({type(error).__name__}).") from None

    @cached_property
    def about(self) -> About:
        answer = self.request("GET", "/about")
        if answer.status_code != 200:
            raise Wrong(f"/about answers with status {answer.status_code}; it should be 200.")
        try:
            return about_from(answer.content)
        except BadInput as error:
            raise Wrong(f"It {error}.") from None

    def key(self, what: str) -> str:
        """A key that this run alone has."""
        return hashlib.sha256(f"{self.run} {what}".encode()).hexdigest()

    def recipe(self, **changes: Any) -> dict[str, Any]:
        """A recipe that the engine has said that it can do."""
        holds = dict.fromkeys(("lines", "shapes", "colours", "faces", "subject", "depth"), 0.0)
        amounts = {
            c.name: min(
                max(
                    {"strength": 0.5, "guidance": 5, "seed": 7, "steps": 6, "look_weight": 1}.get(c.name, c.low), c.low
                ),
                c.high,
            )
            for c in self.about.controls
        }
        known = {
            "strength": 0.5,
            "guidance": 5.0,
            "seed": 7,
            "steps": 6,
            "look_weight": 1.0,
            "second_share": 0.0,
        } | amounts
        whole = {**known, "seed": int(known["seed"]), "steps": int(known["steps"])}
        return {
            "look": self.about.looks[0].name, "second_look": None, "prompt": "", "avoid": "", "size": max(self.source.shape[:2]),
            "sampler": self.about.samplers[0].name if self.about.samplers else "", "holds": holds, **whole, **changes,
        }  # fmt: skip

    @cached_property
    def source(self) -> Byte:
        """The picture at a size that the engine takes."""
        import cv2

        side = min(max(_SHAPE[1], self.about.sizes[0]), self.about.sizes[1])
        scale = side / _SHAPE[1]
        return np.ascontiguousarray(
            cv2.resize(self.picture, (side, max(round(_SHAPE[0] * scale), 1)), interpolation=cv2.INTER_AREA)
        )

    def put(self, key: str, recipe: Any = None, source: bytes | None = None, **planes: Byte) -> httpx.Response:
        """Ask for a render."""
        parts = {
            "recipe": (
                "recipe.json",
                recipe if isinstance(recipe, bytes) else json.dumps(recipe or self.recipe()).encode(),
                "application/json",
            ),
            "source": ("source.png", source if source is not None else png(self.source), "image/png"),
        }
        parts |= {name: (f"{name}.png", png(plane), "image/png") for name, plane in planes.items()}
        return self.request("PUT", render_path(key), files=parts)

    def events(self, key: str) -> list[Event]:
        """Everything that is told of a render until it is over, or `Wrong`."""
        found: list[Event] = []
        began, read = time.monotonic(), 0
        try:
            timeout = httpx.Timeout(WORD, connect=ANSWER)
            with self.client.stream("GET", render_path(key, "events"), headers=self.headers, timeout=timeout) as answer:
                if answer.status_code != 200:
                    raise Wrong(f"The events of a render answer with status {answer.status_code}; it should be 200.")
                for sent in httpx_sse.EventSource(answer).iter_sse():
                    read += len(sent.data)
                    event = event_from(sent.event, sent.data)
                    if event is not None:
                        found.append(event)
                    if event is not None and event.event in ("done", "failed"):
                        return found
                    if time.monotonic() - began > RENDER or read > STREAM_BYTES or len(found) > 50_000:
                        raise Wrong(
                            f"The events of a render do not end; {len(found)} came in {time.monotonic() - began:.0f} s."
                        )
        except BadInput as error:
            raise Wrong(f"It {error}.") from None
        except httpx.ReadTimeout:
            raise Wrong(f"Nothing comes for {WORD:.0f} s on a stream of events; an empty comment would do.") from None
        except (httpx.TransportError, httpx.StreamError) as error:
            raise Wrong(f"The events of a render can't be read ({error}).") from None
        raise Wrong("The events of a render end before it is done or failed.")

    def made(self, what: str, recipe: dict[str, Any] | None = None, **planes: Byte) -> tuple[list[Event], Byte]:
        """A render from beginning to end, once a run: its events and its picture; or `Wrong`."""
        key = self.key(what)
        if what not in self._done:
            answer = self.put(key, recipe, None, **planes)
            if answer.status_code not in (200, 201, 202):
                raise Wrong(f"A render that it can do is refused with status {answer.status_code}.")
            events = self.events(key)
            if events[-1].event == "failed":
                raise Wrong(f"A render that it can do fails: {events[-1].model_dump().get('error')}")
            picture = self.request("GET", render_path(key, "picture"))
            self._done[what] = (events, picture.content, picture.headers.get("content-type", ""))
        events, data, kind = self._done[what]
        if len(data) > 4 * self.source.shape[0] * self.source.shape[1] + PICTURE_SPARE:
            raise Wrong(f"It answered with {len(data)} bytes; a PNG of so many pixels has fewer.")
        try:
            return events, picture_from(kind, data, self.source.shape[0], self.source.shape[1])
        except BadInput as error:
            raise Wrong(f"It {error}.") from None

    def data(self, what: str) -> bytes:
        """The bytes of a picture that was made."""
        self.made(what)
        return self._done[what][1]

    def refused(self, what: str, answer: httpx.Response, *statuses: int) -> None:
        """`Wrong` unless a request is refused with one of these statuses and one sentence."""
        if answer.status_code not in statuses:
            raise Wrong(
                f"{what} is answered with status {answer.status_code}; {' or '.join(map(str, statuses))} would be right."
            )
        try:
            error = answer.json()["error"]
        except (ValueError, KeyError, TypeError):
            raise Wrong(f'{what} is refused without a sentence; {{"error": "..."}} as JSON would be right.') from None
        if not isinstance(error, str) or not error.strip() or "Traceback" in error or len(error) > 1000:
            raise Wrong(f"{what} is refused with what is no sentence.")


__all__ = ["PROTOCOL", "Bench", "NotAsked", "Wrong"]
