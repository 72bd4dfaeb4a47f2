"""Compile or load every kernel before the first take is waited for."""

from collections.abc import Iterable

import numpy as np

from ..core.engine.cache import SharedCache
from ..core.engine.restyle import restyle
from ..core.looks.registry import looks
from ..core.recipe import Recipe


def warm_kernels(names: Iterable[str] | None = None) -> None:
    """Render a thumbnail in every look, or in those named. All take a minute or two without the kernels' cache, 5 to 11 s
    with it."""
    noise = np.random.default_rng(0).integers(0, 255, (64, 64, 3), dtype=np.uint8)
    cache = SharedCache()
    for name in looks() if names is None else names:
        restyle(noise, Recipe(look=name, strength=0.9, steps=6), cache=cache)
