"""What a recipe asks for in words, by the look that it names: places, parts of a thing, whether a cut-out matters."""

from ..engine import staging
from ..looks.registry import is_known, look_named
from ..maths.arrays import Byte
from ..model.cache import SharedCache
from ..model.guides import NO_GUIDES, Guides
from ..model.look import Look
from ..model.recipe import Recipe
from ..model.scene import Asked, SceneReading
from ..words.prompt import scene_of
from .looking import look_of


def _known(name: str) -> Look | None:
    """A look by name; None for a learned one that is not here, which reads a prompt as any other."""
    return look_named(name) if is_known(name) else None


def scene_asked(name: str, prompt: str) -> SceneReading:
    """The scene that a look reads in a prompt."""
    look = _known(name)
    return scene_of(prompt) if look is None else staging.scene_asked(look, prompt)


def parts_asked(name: str, phrase: str) -> tuple[str, ...]:
    """What a look reads in a phrase for the parts of its thing."""
    look = _known(name)
    return () if look is None or look.hears is None else look.hears(phrase)


def draws_around(name: str) -> bool:
    """Whether a look draws a place around its thing by itself."""
    look = _known(name)
    return look is not None and look.around is not None


def asked_by(recipe: Recipe) -> Asked | None:
    """The scene that the sampler takes a recipe to."""
    return staging.asked_by(recipe, look_of(recipe))


def takes_cover(recipe: Recipe) -> bool:
    """Whether a take of a recipe needs to know how solid a cut-out is."""
    return staging.takes_cover(recipe, look_of(recipe))


def staged(source: Byte, recipe: Recipe, cache: SharedCache, guides: Guides = NO_GUIDES) -> Byte:
    """The source (h, w, 3) as it is restyled: before the scene that the prompt names, with the things brought in."""
    return staging.stage(source, recipe, look_of(recipe), cache, guides).picture
