"""What a take is worked out from, stage by stage; each is kept under a key that says all it hangs on."""

from dataclasses import dataclass

from ..maths.arrays import Bands, Byte, Float
from ..maths.pyramid import build, planes
from ..model.cache import SharedCache
from ..model.face import Face
from ..model.guides import Guides
from ..model.look import Look
from ..model.recipe import Holds, Recipe
from ..model.scene import Asked
from ..understanding.places import find_places
from ..words.effects import Effect, places_of, worded
from .noise import sampler_noise
from .plan import Ground, Plan, make_ground
from .scenery import scene_bands, weighed
from .source import PreparedSource, prepare, to_space


@dataclass(frozen=True)
class Order:
    """What one take is made by; `guides` at the size of its source, `marks` as in `restyled`."""

    recipe: Recipe
    look: Look
    guides: Guides
    cache: SharedCache
    marks: float = 1.0


@dataclass(frozen=True)
class SourceKey:
    """A source as it is restyled: hash of its pixels, levels of its pyramid, where faces are, what was said of its subject."""

    pixels: str
    levels: int
    faces: tuple[Face, ...]
    said: str = ""


def prepared_source(order: Order, key: SourceKey, picture: Byte, subject: Float) -> PreparedSource:
    """The source analysed; `subject` (h, w) 0..1 is what it is about."""
    return order.cache.get(key, lambda: prepare(picture, key.levels, key.faces, subject))


@dataclass(frozen=True)
class SceneKey:
    """A scene laid out on a source."""

    source: SourceKey
    asked: Asked
    seed: int
    shapes: float
    colours: float


def mean_of(order: Order, key: SourceKey, source: PreparedSource, asked: Asked, share: float, staged: bool) -> Bands:
    """The mean of the prior where words ask for a scene: that scene, `share` as strong.

    staged : the source stands before the scene already, and is itself the mean.
    """
    recipe, holds = order.recipe, order.recipe.holds
    drawn = SceneKey(key, asked, recipe.seed, holds.shapes, holds.colours)
    own = source.bands if staged else order.cache.get(drawn, lambda: scene_bands(asked, recipe, source))
    return weighed(own, share)


@dataclass(frozen=True)
class GroundKey:
    """A source as seed, strength, holds and guides see it, before a scene or without."""

    source: SourceKey
    seed: int
    strength: float
    holds: Holds
    guides: str
    asked: Asked | None


def ground_of(
    order: Order, key: SourceKey, source: PreparedSource, plan: Plan, asked: Asked | None, mean: Bands | None, share: float
) -> Ground:  # fmt: skip
    """The source bent by the seed, with holds and prior weighed on it; `mean` and `share` as in `make_ground`."""
    recipe, guides = order.recipe, order.guides
    place = GroundKey(key, recipe.seed, recipe.strength, recipe.holds, guides.key, asked if mean else None)
    return order.cache.get(place, lambda: make_ground(recipe, source, plan, guides, mean, share))


@dataclass(frozen=True)
class NoiseKey:
    """The sampler's noise."""

    seed: int
    height: int
    width: int
    levels: int


def noise_of(order: Order, plan: Plan) -> Bands:
    """Noise at unit sigma."""
    key = NoiseKey(order.recipe.seed, *plan.shape, plan.levels)
    return order.cache.get(key, lambda: sampler_noise(key.seed, key.height, key.width, key.levels))


@dataclass(frozen=True)
class PlacesKey:
    """Places of a source that words speak of."""

    source: SourceKey
    names: tuple[str, ...]


def masks_of(order: Order, key: SourceKey, source: PreparedSource, effect: Effect) -> dict[str, Float]:
    """Where in the picture the words belong that name a place."""
    names = places_of(effect)
    if not names:
        return {}
    return order.cache.get(PlacesKey(key, names), lambda: find_places(source.lab, names, source.faces, source.ground))


@dataclass(frozen=True)
class WordsKey:
    """A source as words see it."""

    source: SourceKey
    seed: int
    effect: tuple[tuple[str, float], ...]


def worded_bands(
    order: Order, key: SourceKey, source: PreparedSource, effect: Effect, masks: dict[str, Float], levels: int
) -> Bands:
    """Pyramid of the source as the words see it, which the colour hold keeps: it would take their colour back else."""
    seed = order.recipe.seed
    seen = WordsKey(key, seed, tuple(sorted(effect.items())))
    return order.cache.get(seen, lambda: build(planes(to_space(worded(source.lab, effect, seed, masks))), levels))
