"""What the parts of a scene hand to each other: the camera, the light, what was asked, what was drawn."""

from dataclasses import dataclass, field, replace
from functools import cache
from typing import Any

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.light import lit, shown
from ..model.scene import Asked

# What a pixel shows.
SKY, WATER, LAND, TREE, GRASS, BUILDING, GROUND = range(7)

TIMES = ("day", "morning", "golden", "sunset", "dusk", "night")
SKIES = ("fair", "clear", "overcast", "storm")
SEASONS = ("spring", "summer", "autumn", "winter")


@dataclass(frozen=True)
class Camera:
    """A pinhole that looks level along z: x right, y up, metres.

    Attributes
    ----------
    width, height : px. focal : px. horizon : row of the horizon, px, anywhere. eye : metres above the ground.
    """

    width: int
    height: int
    focal: float
    horizon: float
    eye: float = 1.7

    @property
    def middle(self) -> float:
        return self.width / 2

    def scaled(self, factor: float) -> "Camera":
        """The same view with `factor` times as many pixels."""
        size = int(self.width * factor), int(self.height * factor)
        return replace(
            self, width=size[0], height=size[1], focal=self.focal * factor, horizon=self.horizon * size[1] / self.height
        )


@dataclass(frozen=True)
class Light:
    """Sun or moon and sky.

    Attributes
    ----------
    time : one of TIMES. sky : one of SKIES. sun : unit direction to it. colour : its linear colour. ambient : what
    the sky gives from all sides. horizon : (w, 3) colour of the air along the horizon. disc : where the sun stands,
    px, or None when it is behind.
    """

    time: str
    sky: str
    sun: AnyArray
    colour: AnyArray
    ambient: AnyArray
    horizon: Float
    disc: tuple[float, float] | None = None

    @property
    def dull(self) -> bool:
        """No sun is seen: everything lies in even light."""
        return self.sky in ("overcast", "storm")


@dataclass(frozen=True)
class Layout:
    """What a source wants of a scene (see `layout`).

    Attributes
    ----------
    horizon : 0..1 of the height. skyline : (w,) where sky ends, 0..1 of the height. sky : (h, w) 0..1. guide : the
    source, (h, w, 3) sRGB 0..1. time : what its colours suggest, or None. plants : where trees stand: x and
    base 0..1, height 0..1 of the picture. waterline : where water begins, 0..1. pull : how far the broad lights and
    colours of the source are taken over, 0..1.
    """

    horizon: float | None = None
    skyline: Float | None = None
    sky: Float | None = None
    guide: Float | None = None
    time: str | None = None
    plants: tuple[tuple[float, float, float], ...] = ()
    waterline: float | None = None
    pull: tuple[float, float] = (1.0, 1.0)

    def horizon_or(self, own: float, low: float, high: float) -> float:
        """The source's horizon as far as a place can be seen with it, else the place's own."""
        return own if self.horizon is None else min(max(self.horizon, low), high)


@dataclass(frozen=True)
class Task:
    """One scene to draw: what was asked, how large, which seed, on what layout."""

    asked: Asked
    height: int
    width: int
    seed: int
    layout: Layout = field(default_factory=Layout)


@dataclass(frozen=True)
class Drawn:
    """A scene before it is developed.

    Attributes
    ----------
    picture : (h, w, 3) linear, any range. depth : (h, w) metres. labels : (h, w) what a pixel shows. exposure : the
    middle grey it is developed to, or None for the time's own. level : how far large differences of light are
    kept, 0..1. ground : row on which things stand, 0..1 of the height, or None where there is none. gloss : how much
    the ground mirrors, 0..1. wall : it is a wall on which things hang. attempts : plans
    until one kept its promise.
    """

    picture: Float
    depth: Float
    labels: Byte
    camera: Camera
    light: Light
    exposure: float | None = None
    level: float | None = None
    ground: float | None = 0.86
    gloss: float = 0.0
    wall: bool = False
    attempts: int = 1

    def with_picture(self, picture: AnyArray) -> "Drawn":
        return replace(self, picture=np.ascontiguousarray(picture, dtype=f32))


def reduced(picture: Float, depth: Float, labels: Byte, camera: Camera, light: Light, **told: Any) -> Drawn:
    """A drawing at the size of its camera from one with more pixels; `told` goes to `Drawn`."""
    size = camera.width, camera.height
    return Drawn(
        cv2.resize(picture, size, interpolation=cv2.INTER_AREA),
        cv2.resize(np.minimum(depth, f32(3e4)), size, interpolation=cv2.INTER_AREA),
        cv2.resize(labels, size, interpolation=cv2.INTER_NEAREST), camera, light, **told,
    )  # fmt: skip


def share_of(drawn: Drawn, label: int) -> float:
    """Share of a drawing's pixels with a label."""
    return float((drawn.labels == label).mean())


def linear(colour: AnyArray | tuple[float, ...]) -> Float:
    """sRGB 0..1 to linear."""
    return lit(np.asarray(colour, f32))


@cache
def paint(code: str) -> Float:
    """A linear colour from six hexadecimal digits; not to be written to."""
    colour = linear(tuple(int(code[i : i + 2], 16) / 255 for i in (0, 2, 4)))
    colour.flags.writeable = False
    return colour


def encoded(picture: AnyArray) -> Float:
    """Linear 0..1 to sRGB."""
    return shown(np.clip(picture, 0, 1))
