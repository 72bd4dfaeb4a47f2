"""What the looks that make a thing of flat art have in common."""

from ...model.cache import SharedCache
from ...model.look import Look, Painter, shape_keeping
from ...model.sitting import Original
from .workpiece import known_parts

# Share of the outline above which thin lines are worth a word.
_THIN = 0.08


def _remarks(original: Original, cache: SharedCache) -> list[str]:
    art = known_parts(original, cache)
    return ["thin"] if art is not None and art.small > _THIN else []


def material(name: str, title: str, description: str, paint: Painter, seconds: float, own_colour: bool = False) -> Look:
    """A material as a look: it keeps the source's shapes, paints once, and brings its own ground.

    Parameters
    ----------
    seconds : one run at 512 px. own_colour : its colours are its own whatever the art's are, as gold's.
    """
    return shape_keeping(
        name, title, "material", "flat art", description, paint, seconds, _remarks, own_colour, placed=True
    )
