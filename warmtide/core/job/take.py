"""One take from beginning to end, whichever engine makes it: what the command line and the workers both do."""

import time
from collections.abc import Callable
from dataclasses import dataclass

from ..maths.arrays import Byte, pixel_key
from ..model.cache import SharedCache
from ..model.guides import NO_GUIDES, Guides
from ..model.recipe import Recipe, take_key
from ..readings.measure import Reading, read
from .engine import Progress, Work, engine_of


@dataclass(frozen=True)
class Rendered:
    """A take with its key, its reading and the seconds that both took."""

    picture: Byte
    key: str
    seconds: float
    reading: Reading


def _silent(_: int, __: int) -> None:
    """Nobody watches."""


def _work(source: Byte, recipe: Recipe, cache: SharedCache | None, guides: Guides) -> Work:
    key = take_key(pixel_key(source), recipe, guides.key, engine_of(recipe).tag)
    return Work(source, recipe, guides, key, cache if cache is not None else SharedCache())


def _read(work: Work, take: Byte) -> Reading:
    against = engine_of(work.recipe).against(work)
    reading = read(against.source, take, against.full, against.meant)
    kept = [name for name in reading.figures["warnings"] if name not in against.quiet]
    reading.figures["warnings"] = [*kept, *against.remarks]
    return reading


def read_take(source: Byte, take: Byte, recipe: Recipe, cache: SharedCache, guides: Guides = NO_GUIDES) -> Reading:
    """Read a take against the framed source that it was made from; what belongs to the source is kept in `cache`."""
    return _read(_work(source, recipe, cache, guides), take)


def restyle(
    source: Byte,
    recipe: Recipe,
    progress: Progress | None = None,
    cache: SharedCache | None = None,
    guides: Guides = NO_GUIDES,
) -> Byte:
    """Restyle a framed source (h, w, 3) in the look, and by the engine, that the recipe names; see `engine.restyle`."""
    return engine_of(recipe).render(_work(source, recipe, cache, guides), progress or _silent)


def render(
    source: Byte,
    recipe: Recipe,
    progress: Progress | None = None,
    cache: SharedCache | None = None,
    guides: Guides = NO_GUIDES,
    painted: Callable[[Byte], None] | None = None,
) -> Rendered:
    """Restyle a framed source (h, w, 3) and read the result; `painted` gets the picture before it is read."""
    began = time.perf_counter()
    work = _work(source, recipe, cache, guides)
    picture = engine_of(recipe).render(work, progress or _silent)
    if painted is not None:
        painted(picture)
    reading = _read(work, picture)
    return Rendered(picture, work.key, round(time.perf_counter() - began, 3), reading)
