"""The made-up people of the demo, drawn small for tests."""

from functools import cache

import numpy as np

from demo.people.build import Build, by_lot
from demo.people.render import cut_portrait, portrait
from warmtide.core.maths.arrays import Byte, Float


@cache
def _drawn(build: Build, height: int, width: int, zoom: float) -> Byte:
    return portrait(build, height, width, seed=4, zoom=zoom, fine=1)


def person(
    build: Build | None = None, height: int = 256, width: int = 224, zoom: float = 1.0, **changes: float
) -> Byte:
    """A person before the evening quay; `changes` to the lamp-keeper where no build is given."""
    return _drawn(build or Build(**changes), height, width, zoom).copy()


@cache
def cut_person(build: Build | None = None) -> tuple[Byte, Float]:
    """The same cut out: colours, and how solid each pixel is."""
    return cut_portrait(build or Build(), 256, 224)


def street(*heads: tuple[Build, int, float, float], height: int = 683, width: int = 1024) -> Byte:
    """Heads pasted into a dull street: who, how wide the face is in pixels, and where its middle stands, 0..1."""
    ys = np.linspace(0, 1, height)[:, None, None]
    ground = np.broadcast_to(120 + 50 * ys, (height, width, 3)) + np.random.default_rng(3).normal(
        0, 6, (height, width, 1)
    )
    out = np.clip(ground, 0, 255).astype(np.uint8)
    for build, wide, x, y in heads:
        # A face is about .28 of the picture of a head that is this tall.
        tall = max(round(wide / 0.28), 24)
        seen = portrait(build, tall, tall, seed=4, fine=2)
        top, left = round(y * height - 0.36 * tall), round(x * width - tall / 2)
        part = out[max(top, 0) : top + tall, max(left, 0) : left + tall]
        part[:] = seen[max(-top, 0) :, max(-left, 0) :][: part.shape[0], : part.shape[1]]
    return out


__all__ = ["Build", "by_lot", "cut_person", "person", "street"]
