"""One take from beginning to end: what the command line and the workers both do."""

import time
from collections.abc import Callable
from dataclasses import dataclass

from ..engine.draft import drafted
from ..engine.restyle import Progress, original_of, painted_whole, restyled, subject_in
from ..engine.seen import seen_of
from ..engine.staging import scene_asked, stage
from ..maths.arrays import Byte, pixel_key
from ..maths.colour import bytes_to_lab, lab_to_bytes
from ..model.cache import SharedCache
from ..model.guides import NO_GUIDES, Guides
from ..model.look import Look
from ..model.recipe import Recipe, take_key
from ..readings.look import at_reading_size
from ..readings.measure import Reading, read
from ..readings.pair import FullRendering, SourceReading, full_rendering
from ..words.effects import Effect, worded
from ..words.heard import left_of
from ..words.prompt import effect_of
from .looking import look_of


@dataclass(frozen=True)
class Rendered:
    """A take with its key, its reading and the seconds that both took."""

    picture: Byte
    key: str
    seconds: float
    reading: Reading


def _full(source: Byte, look: Look, recipe: Recipe, cache: SharedCache) -> FullRendering:
    small = at_reading_size(source)
    # Walls of brick by a lake are what was asked for, where the look draws them itself.
    own = (recipe.prompt, recipe.seed) if look.hears is not None and recipe.guidance > 1 else ("", 1)
    # Words that a look does not hear change the whole take that it makes, and so what it makes wholly.
    effect = effect_of(left_of(recipe.prompt, look), recipe.avoid, recipe.guidance) if look.handling.whole else {}
    return cache.get(
        ("full", pixel_key(small), look.name, own, tuple(sorted(effect.items()))),
        lambda: full_rendering(_worded(painted_whole(small, look, *own, cache), effect, recipe.seed)),
    )


def _worded(rgb: Byte, effect: Effect, seed: int) -> Byte:
    """A picture as words see it all over, wherever they belong."""
    if not effect:
        return rgb
    everywhere = {name.rpartition("/")[2]: amount for name, amount in effect.items()}
    return lab_to_bytes(worded(bytes_to_lab(rgb), everywhere, seed))


def _asked(source: Byte, recipe: Recipe) -> tuple[Byte, ...]:
    """The source as the words of a recipe see it all over, small; none without words."""
    effect = effect_of(recipe.prompt, recipe.avoid, recipe.guidance)
    return (_worded(at_reading_size(source), effect, recipe.seed),) if effect else ()


def read_take(source: Byte, take: Byte, recipe: Recipe, cache: SharedCache, guides: Guides = NO_GUIDES) -> Reading:
    """Read a take against the framed source that it was made from; what belongs to the source is kept in `cache`."""
    seen, _ = drafted(source, recipe.quality)
    # With a scene behind it or things brought in, it is that whole picture that must stay.
    framed, led = seen, guides.at(*seen.shape[:2])
    look = look_of(recipe)
    set_up = stage(framed, recipe, look, cache, led)
    seen = set_up.picture
    about = seen_of(source, guides, cache)
    known = cache.get(
        ("reading", pixel_key(seen), about.faces, about.key),
        lambda: SourceReading(seen, about.faces, subject_in(set_up, about)),
    )
    reading = read(known, take, _full(seen, look, recipe, cache), _asked(seen, recipe))
    if scene_asked(look, recipe.prompt).asked is not None and recipe.guidance > 1:
        # A sunset that was asked for is as loud as it is.
        reading.figures["warnings"] = [name for name in reading.figures["warnings"] if name != "saturation"]
    if look.handling.whole:
        # Features were given another size on purpose.
        reading.figures["warnings"] = [name for name in reading.figures["warnings"] if name != "face"]
    if look.remarks is not None and recipe.strength > 0:
        reading.figures["warnings"] += look.remarks(original_of(set_up, led), cache)
    return reading


def restyle(
    source: Byte,
    recipe: Recipe,
    progress: Progress | None = None,
    cache: SharedCache | None = None,
    guides: Guides = NO_GUIDES,
) -> Byte:
    """Restyle a framed source (h, w, 3) in the look that the recipe names; see `engine.restyle`."""
    return restyled(source, recipe, look_of(recipe), progress, cache, guides)


def render(
    source: Byte,
    recipe: Recipe,
    progress: Progress | None = None,
    cache: SharedCache | None = None,
    guides: Guides = NO_GUIDES,
    painted: Callable[[Byte], None] | None = None,
) -> Rendered:
    """Restyle a framed source (h, w, 3) and read the result; `painted` gets the picture before it is read."""
    cache = cache if cache is not None else SharedCache()
    began = time.perf_counter()
    picture = restyle(source, recipe, progress, cache, guides)
    if painted is not None:
        painted(picture)
    reading = read_take(source, picture, recipe, cache, guides)
    seconds = time.perf_counter() - began
    return Rendered(picture, take_key(pixel_key(source), recipe, guides.key), round(seconds, 3), reading)
