"""The ground in its light: grass, rock, sand and snow by slope and height, and the air before it."""

import math
from typing import NamedTuple

import numpy as np

from ..maths.arrays import AnyArray, Byte, Float
from ..maths.jit import kernel
from ..maths.sampling import bounded, tiled
from .atmosphere import RAYLEIGH
from .given import Lit, eye_of, grain
from .terrain import LandPlan, Surface
from .view import LAND, Camera, paint
from .walk import height_at, heights_of

# Rows of a palette, and palettes by name in that order.
_DARK_GRASS, _LIGHT_GRASS, _ROCK, _SAND, _BARE = range(5)
PALETTES = {
    "spring": ("2c3f1e", "5f6c3a", "8a857c", "c9b183", "3a4a22"),
    "summer": ("344322", "6c7244", "8f887d", "cdb58a", "3a4526"),
    "dry": ("7d6a34", "b99d58", "9a8a74", "d2b588", "6b5a34"),
    "autumn": ("5e5028", "8f7a40", "8b8378", "c5ab80", "66502c"),
    "desert": ("c88f58", "d39c63", "a8663f", "d9a56a", "b97f4c"),
    "snow": ("8b93a0", "a5a79f", "77787c", "b7b3ad", "5e6a5e"),
    "moor": ("4a4c2a", "7e7448", "7d7c7a", "a89a80", "4a3e30"),
    "coast": ("3a4a28", "6a7048", "a89a86", "d6c49c", "566030"),
    "lawn": ("2e4420", "566c38", "8a857c", "cbb893", "4a4a2a"),
}


class Cover(NamedTuple):
    """What covers a land, as kernels have it: see `terrain.Surface`."""

    snowline: float
    rock_slope: float
    sand: float
    bare: float
    strata: float
    ripple: float
    ripple_x: float
    ripple_z: float
    snow: float


def cover_of(surface: Surface, snow: float = 0.0) -> Cover:
    """What covers a land, with at least so much snow."""
    given = (surface.snowline, surface.rock_slope, surface.sand, surface.bare, surface.strata, surface.ripple)
    return Cover(*(float(value) for value in (*given, *surface.ripple_way, max(surface.snow, snow))))


class Ground(NamedTuple):
    """A land ready for shading: its slopes, what reaches it of sun and sky, near shadows, colours, cover, air."""

    slope_x: Float
    slope_z: Float
    near_x: Float
    near_z: Float
    sun_share: Float
    sky_share: Float
    near_shade: Float
    colours: AnyArray
    cover: Cover
    haze: float
    haze_height: float


def colours_of(palette: str) -> AnyArray:
    return np.stack([paint(code) for code in PALETTES[palette]]).astype(np.float64)


# Long: what lies where, and its light, hang on the same dozen numbers of a place.
@kernel
def _shade(eye, land, ground, lit, rayleigh, grain, seen, labels, out):  # type: ignore[no-untyped-def]
    cover, palette = ground.cover, ground.colours
    rows, columns = seen.shape
    c = np.zeros(3)
    for j in range(rows):
        for i in range(columns):
            if labels[j, i] != LAND:
                continue
            z = seen[j, i]
            x = (i + 0.5 - eye.middle) / eye.focal * z
            u = (x - land.left) / land.cell
            v = z / land.cell
            h = height_at(land, x, z)
            dx = bounded(ground.slope_x, u, v)
            dz = bounded(ground.slope_z, u, v)
            open_sky = bounded(ground.sky_share, u, v)
            sunny = bounded(ground.sun_share, u, v)
            if z < land.near_depth:
                share = min(1.0, (land.near_depth - z) / (land.near_depth * 0.3))
                nu = (x - land.near_left) / land.near_cell
                nv = z / land.near_cell
                dx += share * bounded(ground.near_x, nu, nv)
                dz += share * bounded(ground.near_z, nu, nv)
                sunny *= 1 - share * bounded(ground.near_shade, nu, nv)
            slope = math.sqrt(dx * dx + dz * dz)
            # Detail finer than a pixel's footprint would only flicker.
            foot = z / eye.focal
            n0 = tiled(grain.soft, x / 6.0, z / 6.0 + h / 9.0)
            n1 = tiled(grain.soft, x * 0.9, z * 0.9 + h * 0.7) if foot < 3 else 0.0
            n2 = tiled(grain.fine, x * 9.0, z * 9.0 + h * 8.0) if foot < 0.25 else 0.0
            rock = max(0.0, min(1.0, (slope - cover.rock_slope + 0.16 * n0) / 0.22))
            if foot < 6:
                bump = (rock * 0.9 + 0.10 if cover.ripple <= 0 else 0.03) * 0.5 * min(1.0, (6 - foot) / 3.0)
                dx += (tiled(grain.soft, x * 0.9 + 1.5, z * 0.9 + h * 0.7) - n1) * bump
                dz += (tiled(grain.soft, x * 0.9, z * 0.9 + h * 0.7 + 1.5) - n1) * bump
            if cover.ripple > 0 and foot < 0.09:
                along = (
                    (x * cover.ripple_x + z * cover.ripple_z) * 6.0
                    + 1.92 * tiled(grain.soft, x * 1.3, z * 1.3)
                    + 0.6 * n0
                )
                wave = math.cos(along * 2.198) * cover.ripple * min(1.0, (0.09 - foot) / 0.06)
                dx += wave * cover.ripple_x
                dz += wave * cover.ripple_z
            norm = 1 / math.sqrt(1 + dx * dx + dz * dz)
            nx = -dx * norm
            ny = norm
            nz = -dz * norm
            facing = max(0.0, nx * lit.sun[0] + ny * lit.sun[1] + nz * lit.sun[2])
            tone = 0.5 + 0.22 * n0 + 0.12 * n1 if cover.ripple <= 0 else 0.5 + 0.1 * n0
            tone = min(max(tone, 0.0), 1.0)
            patch = min(max(0.5 + 0.55 * tiled(grain.soft, x / 38.0 + 11, z / 60.0 + 5), 0.0), 1.0) * 0.55
            floor = (
                min(max((n0 * 0.7 + n1 * 0.4 + cover.bare * 2 - 1.0) * 1.3 + 0.5, 0.0), 1.0) if cover.bare > 0 else 0.0
            )
            sandy = (
                min(max((cover.sand - h) / (0.35 * abs(cover.sand) + 0.3) + 0.3 * n1, 0.0), 1.0)
                if cover.sand > 0
                else 0.0
            )
            layer = 0.5 + 0.25 * n1 + 0.15 * n2
            if cover.strata > 0:
                layer += 0.28 * math.sin(h * cover.strata + 2.2 * n0 + 0.8 * n1)
            layer = min(max(layer, 0.0), 1.3)
            fleck = 1 + 0.16 * n2 + 0.10 * n1 if cover.ripple <= 0 else 1 + 0.05 * n2 * max(0.0, 1 - foot * 8)
            for k in range(3):
                a = palette[_DARK_GRASS, k] * (1 - tone) + palette[_LIGHT_GRASS, k] * tone
                if cover.ripple <= 0:
                    a += (palette[_LIGHT_GRASS, k] * (1.25 if k == 0 else 1.05) - a) * patch
                a += (palette[_BARE, k] - a) * floor
                a += (palette[_SAND, k] - a) * sandy
                a += (palette[_ROCK, k] * (0.55 + 0.9 * layer) - a) * rock
                c[k] = a * fleck
            snow = (h - cover.snowline) / 140.0 + 0.55 * n0 - max(0.0, slope - 0.55) * 2.0 + 0.25 * n1
            if cover.snow > 0:
                snow = max(snow, cover.snow * 3.0 - max(0.0, slope - 0.75) * 4.0 + 0.35 * n0)
            if snow > 0:
                snow = min(snow * 2.0, 1.0)
                white = 0.80 + 0.03 * n2
                for k in range(3):
                    c[k] += (white * (1 + 0.015 * k) - c[k]) * snow
                # Light goes into snow and comes out elsewhere: shaded slopes stay bright.
                soft_facing = 0.4 * facing + 0.6 * (ny * lit.sun[1] + nx * lit.sun[0] * 0.5 + nz * lit.sun[2] * 0.5)
                facing = facing * (1 - 0.35 * snow) + 0.35 * snow * max(0.0, soft_facing)
            sky = open_sky * (0.55 + 0.45 * ny)
            back = 0.10 * max(0.0, 1 - ny) * max(lit.sun[1], 0.0)
            thick = ground.haze * math.exp(-max(h, 0.0) / ground.haze_height)
            for k in range(3):
                light = lit.colour[k] * (facing * sunny + back * (1 - 0.1 * k)) + lit.ambient[k] * sky
                through = math.exp(-z * (rayleigh[k] * 1.6 + thick))
                out[j, i, k] = c[k] * light * through + lit.air[i, k] * (1 - through)


def shade(plan: LandPlan, camera: Camera, seen: Float, labels: Byte, ground: Ground, lit: Lit, out: Float) -> None:
    """Paint the land of a view into `out` (h, w, 3), linear. About .2 s at 768 px."""
    _shade(eye_of(camera, 0.0), heights_of(plan), ground, lit, RAYLEIGH, grain(), seen, labels, out)
