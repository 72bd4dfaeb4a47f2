"""A clear body on its ground: what glass and ice share."""

from dataclasses import dataclass

import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.light import linear_of
from ...maths.relief import broad, normals
from ..shared.shading import Lamp, Surface, shade, shadow
from .optics import gathered, seen_through
from .workpiece import Workpiece

_ABSORBED_OVER = 52
_GAP = 5


@dataclass(frozen=True)
class Seen:
    """A clear body in its light.

    Attributes
    ----------
    ground : (h, w, 3) the ground around, in shadow and gathered light. through : the ground seen through the body.
    gloss : what the body mirrors. passes : (h, w, 3) share of light that gets through. normal : of the body.
    """

    ground: Float
    through: Float
    gloss: Float
    passes: Float
    normal: tuple[Float, Float, Float]


def clear_colours(piece: Workpiece, milky: float = 0.0) -> Float:
    """(n, 3) what a body of usual thickness lets through, by part: the part's colour, lightened."""
    lab = piece.colours.copy()
    lab[:, 0] = np.clip(lab[:, 0] * 0.55 + 0.45, 0.55, 0.99)
    lab[:, 1:] *= f32(1.25)
    through = np.clip(linear_of(lab), 0.03, 0.985)
    return np.clip(through * (1 - milky) + milky * np.array((0.80, 0.92, 0.97), f32), 0, 1).astype(f32)


def see(piece: Workpiece, height: AnyArray, colours: Float, lamp: Lamp, usual: str, colour: str | None, exposure: float, soft: float) -> Seen:  # fmt: skip
    """Put a clear body of the art's shape and a height on its ground, or before its backdrop.

    Parameters
    ----------
    colours : (n, 3) what passes, by part. usual, colour : ground. soft : blur of what is seen through, in units.
    """
    art, u = piece.art, piece.unit
    height = np.asarray(height, f32)
    normal = normals(height)
    absorbed = blur(art.by_part(-np.log(colours) / (_ABSORBED_OVER * u)), 1.2 * u)
    passes = np.exp(-absorbed * height[..., None] * 1.15).astype(f32)
    if piece.backdrop is not None:
        ground = piece.behind(exposure)
        # Upright in a place there is no ground close behind: light only shines through.
        behind = ground
    else:
        lies = piece.ground(usual, colour)
        thrown = gathered(height, normal, art.solid, passes, lamp.sun, _GAP * u)
        free = np.where(art.solid, 0, shadow(np.where(art.solid, height, 0).astype(f32), lamp, 260 * u))
        light = np.clip(free[..., None] + np.clip(2 * blur(thrown, 1.3 * u), 0, 12), 0, 7)
        around = 0.42 * (1 - 0.44 * broad(art.solid.astype(f32), 10 * u))
        slope = normals(lies.height)
        facing = np.clip(slope[0] * lamp.sun[0] + slope[1] * lamp.sun[1] + slope[2] * lamp.sun[2], 0, 1)
        lit = light * facing[..., None] * np.array((1.75, 1.68, 1.55), f32)
        ground = (lies.albedo * (lit + around[..., None] * np.array((1, 1.02, 1.06), f32))).astype(f32)
        behind = ground
    if soft:
        behind = blur(behind, soft * u)
    through = seen_through(behind, height, normal, art.cover, absorbed, _GAP * u)
    none = np.zeros_like(ground)
    mirror = Surface(height, none, piece.rough(0.03), 0.0, 0.04, 0.0, normal)
    full = np.ones_like(height)
    gloss = shade(mirror, Lamp(lamp.sun, (2, 2, 2), lamp.room), u, lit=full, seen=full)
    return Seen(ground, through, gloss, passes, normal)
