"""A scene from words: the place is drawn, seen through its weather, and developed."""

from dataclasses import dataclass, replace

import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.noise import rng
from ..model.scene import Asked
from .develop import develop
from .figures import birds, boats, people
from .layout import toned
from .registry import place_named
from .view import SKY, Camera, Drawn, Layout, Light, Task
from .weather import depth_of_field, neon_light, rain, rays, snowfall, veil

_ATTEMPTS = 6
# Far from any seed an artist counts through.
_NEXT_SEED = 7_919_317


@dataclass(frozen=True)
class Scene:
    """A scene, developed.

    Attributes
    ----------
    picture : (h, w, 3) sRGB 0..1. depth : (h, w) metres. labels : (h, w), see `view`. ground : where things stand, 0..1
    of the height, or None. gloss : how much the ground mirrors. wall : one hangs things on it. attempts : drawings until the promise was kept.
    """

    picture: Float
    depth: Float
    labels: Byte
    camera: Camera
    light: Light
    ground: float | None
    gloss: float
    wall: bool
    attempts: int

    @property
    def sky(self) -> "np.ndarray[tuple[int, int], np.dtype[np.bool_]]":
        return self.labels == SKY

    def bytes(self) -> Byte:
        return (np.clip(self.picture, 0, 1) * 255 + 0.5).astype(np.uint8)


def _peopled(drawn: Drawn, asked: Asked, seed: int) -> Drawn:
    for k, (name, add) in enumerate((("boats", boats), ("birds", birds), ("people", people))):
        if name in asked.extras and (name != "people" or asked.place not in ("space", "underwater")):
            drawn = drawn.with_picture(add(drawn, rng(seed, 99, k)))
    return drawn


def _weathered(drawn: Drawn, asked: Asked, seed: int) -> Drawn:
    if asked.rays:
        drawn = drawn.with_picture(rays(drawn))
    if asked.blurred:
        drawn = drawn.with_picture(depth_of_field(drawn))
    if asked.rain > 0:
        drawn = drawn.with_picture(rain(drawn.picture, asked.rain, rng(seed, 98, 1)))
    if asked.snowfall > 0:
        drawn = drawn.with_picture(snowfall(drawn.picture, asked.snowfall, rng(seed, 98, 2)))
    if asked.neon and asked.place != "street":
        drawn = drawn.with_picture(neon_light(drawn, rng(seed, 98, 3)))
    return drawn


def draw_scene(asked: Asked, height: int, width: int, seed: int, layout: Layout | None = None) -> Scene:
    """Draw a scene.

    Parameters
    ----------
    asked : see `words.read_scene`. height, width : px, 32 or more. seed : its layout and its light.
    layout : what a source wants of it, see `layout.layout_of`.

    A drawing that misses what its place promises (a lake without water) is drawn again with another seed, at most
    six times; the same arguments give the same pixels. .1 to 1.2 s at 512 px on one core.
    """
    place = place_named(asked.place)
    layout = layout or Layout()
    if layout.waterline is not None and place.with_water:
        place = place_named(place.with_water)
    own = replace(asked, time=layout.time) if layout.time and asked.time == place.presumed == "day" else asked
    used, attempts = seed, 0
    while True:
        drawn = place.draw(Task(own, height, width, used, layout))
        attempts += 1
        # A drawn skyline says what is to be seen; the place's own promise is for what the seed alone decides.
        if layout.skyline is not None or place.kept(drawn) or attempts == _ATTEMPTS:
            break
        used += _NEXT_SEED
    if own.mist > 0 and not place.outdoors:
        drawn = drawn.with_picture(veil(drawn, own.mist, rng(used, 98, 0)))
    drawn = _weathered(_peopled(drawn, own, used), own, used)
    picture = develop(drawn)
    if layout.guide is not None:
        picture = toned(picture, drawn.labels == SKY, layout)
    picture = np.clip(picture, 0, 1).astype(f32)
    return Scene(
        picture,
        drawn.depth,
        drawn.labels,
        drawn.camera,
        drawn.light,
        drawn.ground,
        drawn.gloss,
        drawn.wall,
        attempts - 1 + drawn.attempts,
    )
