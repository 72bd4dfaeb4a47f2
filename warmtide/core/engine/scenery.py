"""The scene that words ask for, as what the content track expects where nothing of the source is left.

A denoiser shrinks what noise may have made toward the mean of its prior. Without a scene that mean is nothing, and
high strength ends in clouds; with one, it is the scene, laid out on the source.
"""

from ..maths.arrays import Bands, Float, f32
from ..maths.colour import to_lab, to_rgb
from ..maths.pyramid import build, planes
from ..maths.steps import eased
from ..model.recipe import Recipe
from ..model.scene import Asked
from ..scenes.layout import layout_of
from ..scenes.scene import draw_scene
from ..scenes.view import Layout
from .source import PreparedSource, from_space, to_space

# Strengths between which the scene takes over.
BEGINS, WHOLE = 0.45, 0.95
_LOOSENED = 0.85


def scene_share(strength: float) -> float:
    """How much of the prior's mean is the scene: nothing below strength .45, all of it from .95 on."""
    t = min(max((strength - BEGINS) / (WHOLE - BEGINS), 0.0), 1.0)
    return eased(t)


def held_colours(hold: float, asked: Asked, share: float) -> float:
    """The hold on colours as far as a scene leaves it: who asks for a sunset wants its colours, not the source's noon."""
    return hold if asked.time == "day" else hold * (1 - _LOOSENED * share)


def scene_layout(source: PreparedSource, shapes: float, colours: float) -> Layout:
    """What a source wants of the scene that is laid out on it, as far as shapes and colours are held."""
    return layout_of(to_rgb(from_space(source.image)), pull=(shapes, colours))


def scene_bands(asked: Asked, recipe: Recipe, source: PreparedSource) -> Bands:
    """Pyramid of the scene that a recipe's seed draws on a source; .1 to 1.2 s at 512 px."""
    height, width = source.shape
    layout = scene_layout(source, recipe.holds.shapes, held_colours(recipe.holds.colours, asked, 1.0))
    scene = draw_scene(asked, height, width, recipe.seed, layout)
    lab: Float = to_lab(scene.picture)
    return build(planes(to_space(lab)), source.levels)


def weighed(bands: Bands, share: float) -> Bands:
    """A mean `share` as strong."""
    return bands if share >= 1 else [(band * f32(share)).astype(f32) for band in bands]
