"""What the simulated engine has been asked for: each key once, a few at a time, with all that is told of it."""

import base64
import random
import threading
import time
from collections import OrderedDict
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from typing import Any

import cv2
import numpy as np

from ...core.maths.arrays import Byte
from ...core.model.recipe import Recipe
from ...core.pictures.image import png
from .paint import painted

_KEPT = 64
_PREVIEW_SIDE, _PREVIEW_EVERY = 128, 4


@dataclass(frozen=True)
class Asked:
    """One render as it was asked for: pictures (h, w, 3) and (h, w) uint8."""

    recipe: Recipe
    source: Byte
    region: Byte | None


@dataclass
class Render:
    """One render: what was told of it so far, and its picture when it is done."""

    asked: Asked
    events: list[tuple[str, dict[str, Any]]] = field(default_factory=list)
    picture: bytes | None = None
    over: bool = False
    dropped: bool = False
    changed: threading.Condition = field(default_factory=threading.Condition)

    def give_up(self) -> None:
        """Nobody waits any more: it is not gone on with, and its streams end."""
        with self.changed:
            self.dropped = self.over = True
            self.changed.notify_all()

    def tell(self, kind: str, **values: Any) -> None:
        with self.changed:
            self.events.append((kind, values))
            self.over = self.over or kind in ("done", "failed")
            self.changed.notify_all()


class Renders:
    """Renders by key; the last few are kept."""

    def __init__(self, variant: str, at_once: int, delay: float, fail: float) -> None:
        self.variant, self.delay, self.fail = variant, delay, fail
        self._kept: OrderedDict[str, Render] = OrderedDict()
        self._pool = ThreadPoolExecutor(at_once)
        self._lock = threading.Lock()
        self._chance = random.Random(1)
        self.begun = 0

    def get(self, key: str) -> Render | None:
        return self._kept.get(key)

    def ask(self, key: str, asked: Asked) -> Render:
        """The render of a key: the one that is there, unless it has failed."""
        with self._lock:
            found = self._kept.get(key)
            if found is not None and not (found.over and found.picture is None):
                return found
            render = self._kept[key] = Render(asked)
            waiting = sum(not other.over for other in self._kept.values()) - 1
            while len(self._kept) > _KEPT:
                self._kept.popitem(last=False)
            self.begun += 1
            unlucky = self._chance.random() < self.fail
        render.tell("queued", at=waiting)
        self._pool.submit(self._make, render, unlucky)
        return render

    def drop(self, key: str) -> None:
        with self._lock:
            render = self._kept.pop(key, None)
        if render is not None:
            render.give_up()

    def _make(self, render: Render, unlucky: bool) -> None:
        try:
            picture = None
            for done, of, picture in painted(
                self.variant, render.asked.source, render.asked.recipe, render.asked.region
            ):
                if render.dropped:
                    return
                time.sleep(self.delay / of)
                if unlucky and done * 2 >= of:
                    render.tell("failed", error="The kiln went out; ask again.")
                    return
                render.tell("step", done=done, of=of)
                if done % _PREVIEW_EVERY == 0 and done < of:
                    render.tell("preview", png=_preview(picture))
            assert picture is not None
            render.picture = png(picture)
            render.tell("done", width=picture.shape[1], height=picture.shape[0])
        except Exception as error:
            render.tell("failed", error=f"The simulated engine could not paint this: {error}.")

    def told(self, render: Render, pause: float) -> Iterator[tuple[str, dict[str, Any]] | None]:
        """Everything that is told of a render from its beginning, as it comes; None now and then while nothing does."""
        at = 0
        while True:
            with render.changed:
                if at == len(render.events) and not render.over:
                    render.changed.wait(pause)
                fresh = render.events[at:]
            if not fresh:
                if render.over:
                    return
                yield None
            for event in fresh:
                at += 1
                yield event


def _preview(picture: Byte) -> str:
    scale = min(_PREVIEW_SIDE / max(picture.shape[:2]), 1)
    size = (max(round(picture.shape[1] * scale), 1), max(round(picture.shape[0] * scale), 1))
    small = np.ascontiguousarray(cv2.resize(picture, size, interpolation=cv2.INTER_AREA))
    return base64.b64encode(png(small)).decode()
