"""What the looks for untextured renders have in common."""

from collections.abc import Callable
from dataclasses import replace

from ...model.cache import SharedCache
from ...model.look import Look, Painter, shape_keeping
from ...model.scene import SceneReading
from ...model.sitting import Original
from ...understanding.building.planes import built_of


def _remarks(original: Original, cache: SharedCache) -> list[str]:
    return [] if built_of(original, cache).sure else ["planes"]


def building(
    name: str, title: str, description: str, paint: Painter, seconds: float,
    around: Callable[[str], SceneReading] | None = None, hears: Callable[[str], tuple[str, ...]] | None = None,
) -> Look:  # fmt: skip
    """A look for renders: it keeps the building's edges, and paints once."""
    plain = shape_keeping(name, title, "building", "render", description, paint, seconds, _remarks)
    return replace(plain, around=around, hears=hears)
