"""One take from beginning to end: what the command line and the workers both do."""

import time
from dataclasses import dataclass
from typing import Any

from .arrays import Byte
from .engine.cache import SharedCache
from .engine.restyle import Progress, restyle
from .engine.source import pixel_key
from .readings.measure import measure
from .recipe import Recipe, take_key


@dataclass(frozen=True)
class Rendered:
    """A take with its key, readings and the seconds that rendering took."""

    picture: Byte
    key: str
    seconds: float
    readings: dict[str, Any]


def render(
    source: Byte, recipe: Recipe, progress: Progress | None = None, cache: SharedCache | None = None
) -> Rendered:
    """Restyle a framed source (h, w, 3) and read the result."""
    began = time.perf_counter()
    picture = restyle(source, recipe, progress, cache)
    seconds = time.perf_counter() - began
    return Rendered(picture, take_key(pixel_key(source), recipe), round(seconds, 3), measure(source, picture))
