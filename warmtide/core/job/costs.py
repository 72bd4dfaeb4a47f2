"""What takes will cost, before this machine's own speed is known."""

from ..engine.draft import drafted_shape
from ..engine.staging import scene_asked
from ..model.recipe import BUILT_IN, Recipe
from .looking import look_of

# Seconds of one core that every step of a 512 x 341 take costs.
_STEP_SECONDS = 0.012
_READ_SECONDS = 0.06
_REFERENCE_PIXELS = 512 * 341
_PNG_BYTES = 1.7


def expected_seconds(recipe: Recipe, height: int, width: int, people: bool = False) -> float:
    """Seconds of one core for one take and its reading, before this machine's own speed is known.

    Where there are people their faces are painted a second time.
    """
    if recipe.strength <= 0:
        return 0.02
    height, width = drafted_shape(height, width, recipe.quality)
    steps = recipe.steps_run * _STEP_SECONDS
    look = look_of(recipe)
    paint = look.seconds * (2 if people and look.handling.portrait else 1)
    return (0.08 + _READ_SECONDS + steps + paint) * height * width / _REFERENCE_PIXELS


def scene_of_take(recipe: Recipe) -> tuple[object, ...] | None:
    """What tells the scene that a take needs from others; None when it needs none. One process draws each once."""
    heard = recipe.engine == BUILT_IN and recipe.strength > 0 and recipe.guidance > 1
    asked = scene_asked(look_of(recipe), recipe.prompt).asked if heard else None
    return None if asked is None else (asked, recipe.seed, recipe.placement, recipe.quality, recipe.size)


def expected_scene_seconds(recipe: Recipe, height: int, width: int) -> float:
    """Seconds of one core for the scene that a recipe names, drawn once."""
    height, width = drafted_shape(height, width, recipe.quality)
    return 0.3 + 0.6 * height * width / _REFERENCE_PIXELS


def take_shape(recipe: Recipe, height: int, width: int) -> tuple[int, int]:
    """Height and width of a take whose source is framed at so many pixels: smaller for a draft."""
    return drafted_shape(height, width, recipe.quality)


def expected_bytes(height: int, width: int) -> int:
    """Disk for one take with its previews."""
    return int(height * width * _PNG_BYTES)
