"""What the live process does: one draft after another, with everything warm."""

import os
import threading
import time
from functools import cache
from typing import Any

from ..core.job.take import render, restyle
from ..core.looks.learned.dictionary import read
from ..core.looks.learned.painter import look_from
from ..core.looks.registry import add, is_known
from ..core.maths.arrays import Byte
from ..core.model.cache import SharedCache
from ..core.model.guides import Guides
from ..core.model.recipe import Recipe
from ..core.pictures.image import webp
from ..core.readings.registry import readings
from .warm import warm_looks


@cache
def _cache() -> SharedCache:
    return SharedCache(120_000_000)


def stay_while_wanted(parent: int) -> None:
    """End this process when its parent is gone, even if that was killed, and even before this one had begun."""

    def watch() -> None:
        while os.getppid() == parent:
            time.sleep(0.2)
        os._exit(0)

    threading.Thread(target=watch, daemon=True).start()


def ready(look: str) -> None:
    """Load what a look needs before a draft in it is asked for."""
    warm_looks((look,))


def preview(source: Byte, recipe: Recipe, files: dict[str, bytes]) -> Byte:
    """A draft without its figures."""
    _learn(files)
    return restyle(source, recipe, None, _cache())


def _learn(files: dict[str, bytes]) -> None:
    for name, data in files.items():
        if not is_known(name):
            add(look_from(read(data)))


def glimpse(source: Byte, recipe: Recipe, files: dict[str, bytes], guides: Guides) -> tuple[bytes, dict[str, Any]]:
    """A draft as WebP, with its figures. `files` are those of learned looks, by name."""
    _learn(files)
    rendered = render(source, recipe, None, _cache(), guides)
    figures = rendered.reading.figures
    told = {"figures": {kind.name: kind.stored(figures) for kind in readings()}, "warnings": figures["warnings"]}
    return webp(rendered.picture, 640, 90), {"seconds": rendered.seconds, **told}
