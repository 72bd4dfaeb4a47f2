"""A town seen: fronts, streets, wet ground and water that mirror them once."""

import math
from dataclasses import dataclass
from typing import NamedTuple

import cv2
import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.jit import kernel
from ..maths.noise import rng
from ..maths.sampling import bounded, chance, tiled
from .blocks import Blocks, cast, front
from .given import eye_of, grain, lit_by
from .sky import Sky
from .view import BUILDING, GROUND, SKY, WATER, Camera
from .water import make_waves


@dataclass(frozen=True)
class Town:
    """Blocks `block` metres wide with `gap` between them, columns x0..x1, rows z0..z1.

    form : row and column of its middle, reach in blocks, tallest and least height in m. street : one looks along
    column 0, which is a street; otherwise over water that ends at `shore` (m).
    """

    block: float
    gap: float
    columns: tuple[int, int]
    rows: tuple[int, int]
    form: tuple[float, float, float, float, float]
    seed: int
    street: bool
    shore: float
    wave: float
    wet: float
    haze: float
    origin: tuple[float, float]
    eye: float


class _Shore(NamedTuple):
    """Water before a town: where it ends (m), slopes of its waves, how steep they are."""

    shore: float
    x: Float
    z: Float
    steep: float


# Metres: half the road's width, from where on it is pavement; slabs of it; dashes of the middle line; from lamp to lamp.
_ROAD, _SLAB, _DASH, _LAMPS = 7.2, 1.2, 6.0, 18.0
# How bright they are, by eye on the quay's photographs: asphalt, pavement, the middle line, the kerb; a joint's share.
_ASPHALT, _PAVEMENT, _LINE, _KERB, _JOINT = 0.055, 0.13, 0.30, 0.16, 0.65
# Lengths of two trains of waves (m), and how much the shorter adds.
_LONG, _SHORT, _ADDED = 30.0, 9.0, 0.6
_FAR = 1e8


class _Spot(NamedTuple):
    """A place on the ground or the water: where it is, how much of it a pixel covers, how steeply it is looked at."""

    x: float
    z: float
    foot: float
    down: float


@kernel
def _lamp_tint(k):  # type: ignore[no-untyped-def]
    return 1.0 if k == 0 else (0.72 if k == 1 else 0.40)


@kernel
def _from_lamp(z):  # type: ignore[no-untyped-def]
    """How far along the street the next lamp is, as a share of the way between two."""
    return z / _LAMPS - math.floor(z / _LAMPS) - 0.5


@kernel
def _slope(waves, spot, cells):  # type: ignore[no-untyped-def]
    long = tiled(waves, spot.x / _LONG * cells, spot.z / _LONG * cells)
    return long + _ADDED * tiled(waves, spot.x / _SHORT * cells, spot.z / _SHORT * cells)


@kernel
def _sea(spot, water, ambient, pixel):  # type: ignore[no-untyped-def]
    """Water at a spot: adds what it shows of its depth; how much of a mirror it is, and its slope across and along."""
    cells = water.x.shape[0]
    a = water.steep / (1 + spot.foot / 1.2)
    gx = _slope(water.x, spot, cells) * a * 0.5
    gz = _slope(water.z, spot, cells) * a
    fresnel = min(0.02 + 0.98 * (1 - min(-spot.down + 0.06, 1.0)) ** 5, 0.92)
    pixel[0] += (1 - fresnel) * ambient[0] * 0.10
    pixel[1] += (1 - fresnel) * ambient[1] * 0.17
    pixel[2] += (1 - fresnel) * ambient[2] * 0.20
    return fresnel, gx, gz


@kernel
def _paved(spot, off, street, near, broad):  # type: ignore[no-untyped-def]
    """How bright road and pavement are `off` metres from the street's middle; near, broad : noise there."""
    shade = _ASPHALT if off < _ROAD else _PAVEMENT
    shade *= 1 + 0.22 * near + 0.06 * broad
    if street:
        if off < 0.12 and spot.z / _DASH - math.floor(spot.z / _DASH) < 0.55:
            shade = _LINE
        if abs(off - _ROAD) < 0.16:
            shade = _KERB
        if off > _ROAD and spot.foot < 0.15:
            seam_x = abs(spot.x / _SLAB - math.floor(spot.x / _SLAB) - 0.5)
            seam_z = abs(spot.z / _SLAB - math.floor(spot.z / _SLAB) - 0.5)
            if seam_x > 0.48 or seam_z > 0.48:
                shade *= _JOINT
    return shade


@kernel
def _street(spot, i, j, grid, lit, night, wet, grain, pixel):  # type: ignore[no-untyped-def]
    """The ground at a spot: adds its colour; how much of a mirror it is where it is wet, and its slope across and along."""
    off = abs(spot.x - 0.5 * grid.block)
    near = tiled(grain.fine, spot.x * 6.0, spot.z * 6.0) * max(0.0, 1 - spot.foot / 0.6)
    broad = tiled(grain.soft, spot.x * 1.1, spot.z * 1.1)
    shade = _paved(spot, off, grid.street, near, broad)
    lamp = _from_lamp(spot.z)
    pool = math.exp(-lamp * lamp * 16) * math.exp(-(((off - 8.0) / 5.0) ** 2)) * 0.9 * night
    for k in range(3):
        tint = _lamp_tint(k)
        light = lit.colour[k] * max(lit.sun[1], 0.0) * (0.25 if grid.street else 1.0) + lit.ambient[k] * 0.8
        light += pool * tint * 1.6 + 0.10 * night * tint
        pixel[k] += shade * light * (1 - 0.6 * wet)
    if wet <= 0:
        return 0.0, 0.0, 0.0
    puddle = (
        0.5 + 0.9 * tiled(grain.soft, spot.x * 2.6 + 31, spot.z * 1.5) + 0.25 * broad - (0.35 if off > _ROAD else 0.0)
    )
    puddle = min(1.0, max(0.0, puddle))
    fresnel = (0.05 + 0.95 * (1 + spot.down) ** 5) * (0.35 + 0.65 * puddle) * wet + 0.10 * wet * puddle
    # Wet asphalt smears lights far more along the view than across it.
    rough = (1 - puddle) * 0.055 + 0.006
    gx = (chance(i, j, 5) - 0.5) * rough * 0.35 + 0.5 * rough * tiled(grain.fine, spot.x * 9.0, spot.z * 9.0)
    gz = (chance(i, j, 6) - 0.5) * rough * 2.6 + rough * 1.2 * tiled(grain.fine, spot.x * 7.0 + 50, spot.z * 7.0)
    return fresnel * (0.75 if off < _ROAD else 0.5) * 1.5, gx, gz


@kernel
def _front(x, y, z, way, hit, grid, lit, night, foot, soft, c):  # type: ignore[no-untyped-def]
    """A building's front where a ray met it, with the glow of the street's lamps on it."""
    front(x, y, z, hit, way[0], way[1], way[2], grid, lit, night, foot, soft, c)
    if grid.street:
        lamp = _from_lamp(z)
        glow = math.exp(-lamp * lamp * 9) * math.exp(-(((y - 4.0) / 4.0) ** 2)) * 0.10 * night
        c[0] += glow
        c[1] += glow * 0.72
        c[2] += glow * 0.4


# Long: a ray is followed once into what mirrors it; its place and way would be handed to and fro.
@kernel
def _look(eye, grid, lit, night, dome, above, haze, water, wet, grain, out, depth, labels):  # type: ignore[no-untyped-def]
    rows, columns = depth.shape
    hit, c = np.zeros(6), np.zeros(6)
    for j in range(rows):
        for i in range(columns):
            dx, dy, dz = (i + 0.5 - eye.middle) / eye.focal, (eye.horizon - j - 0.5) / eye.focal, 1.0
            px, py, pz = eye.x, eye.y, eye.z
            before, weight, label, seen = 0.0, 1.0, SKY, 1e9
            for bounce in range(2):
                t = cast(px, py, pz, dx, dy, dz, grid, hit)
                down = -py / dy if dy < -1e-5 else 1e9
                if t < down and t < _FAR:
                    foot = (t + before) / eye.focal * (3.0 if bounce else 1.0)
                    x, y, z = px + dx * t, py + dy * t, pz + dz * t
                    _front(x, y, z, (dx, dy, dz), hit, grid, lit, night, foot, grain.soft, c)
                    through = math.exp(-(t + before) * haze)
                    for k in range(3):
                        out[j, i, k] += weight * ((c[k] + c[3 + k]) * through + lit.air[i, k] * (1 - through))
                    if bounce == 0:
                        label, seen = BUILDING, t
                    break
                if down >= _FAR:
                    sy = eye.horizon - eye.focal * dy / dz + above
                    sx = eye.middle + eye.focal * dx / dz
                    for k in range(3):
                        out[j, i, k] += weight * bounded(dome[:, :, k], sx, sy)
                    break
                if bounce == 1:
                    break
                qx, qz, seen = px + dx * down, pz + dz * down, down
                norm = 1 / math.sqrt(dx * dx + dy * dy + dz * dz)
                vx, vy, vz = dx * norm, dy * norm, dz * norm
                spot = _Spot(qx, qz, down * down / (eye.focal * eye.y), vy)
                if not grid.street and qz < water.shore:
                    label = WATER
                    weight, gx, gz = _sea(spot, water, lit.ambient, out[j, i])
                else:
                    label = GROUND
                    weight, gx, gz = _street(spot, i, j, grid, lit, night, wet, grain, out[j, i])
                    if wet <= 0:
                        through = math.exp(-down * haze)
                        for k in range(3):
                            out[j, i, k] = out[j, i, k] * through + lit.air[i, k] * (1 - through)
                        break
                turn = 2 * (vx * (-gx) + vy + vz * (-gz)) / (1 + gx * gx + gz * gz)
                dx, dy, dz = vx + gx * turn, max(vy - turn, 0.002), max(vz + gz * turn, 0.02)
                px, py, pz, before = qx, 0.01, qz, down
            depth[j, i], labels[j, i] = seen, label


def look_at(
    town: Town, camera: Camera, sky: Sky, above: float, colour: AnyArray, ambient: AnyArray, air: AnyArray, night: float
) -> tuple[Float, Float, Byte]:
    """Picture (linear), depth and labels of a town. About .5 s at 768 px."""
    picture = np.zeros((camera.height, camera.width, 3), f32)
    depth = np.full((camera.height, camera.width), 1e9, f32)
    labels = np.zeros((camera.height, camera.width), np.uint8)
    waves = make_waves(rng(town.seed, 3), 30.0, 1.0, 0.0)
    factor = camera.width / sky.picture.shape[1]
    size = camera.width, int(sky.picture.shape[0] * factor)
    dome = np.ascontiguousarray(cv2.resize(sky.picture, size, interpolation=cv2.INTER_LINEAR))
    grid = Blocks(
        town.block, town.gap, *town.columns, *town.rows, town.seed, town.street, *(float(value) for value in town.form)
    )
    eye = eye_of(camera, town.eye, *town.origin)
    shore = _Shore(town.shore, waves.x, waves.z, town.wave)
    lit = lit_by(sky.light.sun, colour, ambient, air)
    _look(eye, grid, lit, night, dome, above, town.haze, shore, town.wet, grain(), picture, depth, labels)
    return picture, depth, labels
