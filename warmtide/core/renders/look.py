"""What the looks for untextured renders have in common."""

from collections.abc import Callable
from dataclasses import replace

import numpy as np

from ..engine.cache import SharedCache
from ..looks.base import Look, Original, Painter, shape_keeping
from ..scenes.words import SceneReading
from .planes import Built, understand_building


def built_of(original: Original, cache: SharedCache) -> Built:
    """The building understood, once a source."""

    def known() -> Built:
        return understand_building(np.ascontiguousarray(original.lab[..., 0]))

    return known() if original.key is None else cache.get(("built", original.key), known)


def _remarks(original: Original, cache: SharedCache) -> list[str]:
    return [] if built_of(original, cache).sure else ["planes"]


def building(
    name: str, title: str, description: str, paint: Painter, seconds: float,
    around: Callable[[str], SceneReading] | None = None, hears: Callable[[str], tuple[str, ...]] | None = None,
) -> Look:  # fmt: skip
    """A look for renders: it keeps the building's edges, and paints once."""
    plain = shape_keeping(name, title, "building", "render", description, paint, seconds, _remarks)
    return replace(plain, around=around, hears=hears)
