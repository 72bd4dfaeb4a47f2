"""What kernels of the scenes are given together, by name."""

from typing import NamedTuple

import numpy as np

from ..maths.arrays import AnyArray, Float
from ..maths.noise import fine_texture, soft_texture
from .view import Camera


class Eye(NamedTuple):
    """A pinhole that looks along z: focal length, column of its middle and row of the horizon in px, and where it stands (m)."""

    focal: float
    middle: float
    horizon: float
    x: float
    y: float
    z: float


def eye_of(camera: Camera, y: float, x: float = 0.0, z: float = 0.0) -> Eye:
    """A camera as kernels have it, standing at (x, y, z)."""
    return Eye(float(camera.focal), float(camera.middle), float(camera.horizon), float(x), float(y), float(z))


class Lit(NamedTuple):
    """Light: unit direction to the sun, its colour, what comes from all sides, colour (w, 3) of the air by column."""

    sun: AnyArray
    colour: AnyArray
    ambient: AnyArray
    air: AnyArray


def lit_by(sun: AnyArray, colour: AnyArray, ambient: AnyArray, air: AnyArray) -> Lit:
    return Lit(sun, colour, ambient, np.asarray(air, np.float64))


class Grain(NamedTuple):
    """Textures that repeat: soft and fine noise."""

    soft: Float
    fine: Float


def grain() -> Grain:
    return Grain(soft_texture(), fine_texture())
