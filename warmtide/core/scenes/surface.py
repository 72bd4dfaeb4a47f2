"""The ground in its light: grass, rock, sand and snow by slope and height, and the air before it."""

import math
from dataclasses import dataclass

import numpy as np

from ..maths.arrays import AnyArray, Byte, Float
from ..maths.jit import kernel
from ..maths.noise import fine_texture, soft_texture
from ..maths.sampling import bounded, tiled
from .atmosphere import RAYLEIGH
from .terrain import NEAR_CELL, NEAR_DEPTH, LandPlan
from .view import Camera, paint
from .walk import height_at

# Grass dark and light, rock, sand, bare ground.
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


@dataclass(frozen=True)
class Ground:
    """A land ready for shading: its slopes, what reaches it of sun and sky, near shadows, air."""

    slope_x: Float
    slope_z: Float
    near_x: Float
    near_z: Float
    sun_share: Float
    sky_share: Float
    near_shade: Float
    colours: AnyArray
    numbers: AnyArray
    haze: float
    haze_height: float


def colours_of(palette: str) -> AnyArray:
    return np.stack([paint(code) for code in PALETTES[palette]]).astype(np.float64)


@kernel
def _shade(  # type: ignore[no-untyped-def]
    focal, middle, horizon, seen, labels, far, cell, left, near, near_cell, near_left, near_depth, slope_x, slope_z,
    near_x, near_z, sun_share, sky_share, near_shade, sun, colour, ambient, air, numbers, palette, haze, haze_height,
    rayleigh, soft, fine, out,
):  # fmt: skip
    snowline = numbers[0]
    rock_slope = numbers[1]
    sand = numbers[2]
    bare = numbers[3]
    strata = numbers[4]
    ripple = numbers[5]
    rows, columns = seen.shape
    c = np.zeros(3)
    for j in range(rows):
        for i in range(columns):
            if labels[j, i] != 2:
                continue
            z = seen[j, i]
            x = (i + 0.5 - middle) / focal * z
            u = (x - left) / cell
            v = z / cell
            h = height_at(far, cell, left, near, near_cell, near_left, near_depth, x, z)
            dx = bounded(slope_x, u, v)
            dz = bounded(slope_z, u, v)
            open_sky = bounded(sky_share, u, v)
            lit = bounded(sun_share, u, v)
            if z < near_depth:
                share = min(1.0, (near_depth - z) / (near_depth * 0.3))
                nu = (x - near_left) / near_cell
                nv = z / near_cell
                dx += share * bounded(near_x, nu, nv)
                dz += share * bounded(near_z, nu, nv)
                lit *= 1 - share * bounded(near_shade, nu, nv)
            slope = math.sqrt(dx * dx + dz * dz)
            # Detail finer than a pixel's footprint would only flicker.
            foot = z / focal
            n0 = tiled(soft, x / 6.0, z / 6.0 + h / 9.0)
            n1 = tiled(soft, x * 0.9, z * 0.9 + h * 0.7) if foot < 3 else 0.0
            n2 = tiled(fine, x * 9.0, z * 9.0 + h * 8.0) if foot < 0.25 else 0.0
            rock = max(0.0, min(1.0, (slope - rock_slope + 0.16 * n0) / 0.22))
            if foot < 6:
                bump = (rock * 0.9 + 0.10 if ripple <= 0 else 0.03) * 0.5 * min(1.0, (6 - foot) / 3.0)
                dx += (tiled(soft, x * 0.9 + 1.5, z * 0.9 + h * 0.7) - n1) * bump
                dz += (tiled(soft, x * 0.9, z * 0.9 + h * 0.7 + 1.5) - n1) * bump
            if ripple > 0 and foot < 0.09:
                along = (x * numbers[6] + z * numbers[7]) * 6.0 + 1.92 * tiled(soft, x * 1.3, z * 1.3) + 0.6 * n0
                wave = math.cos(along * 2.198) * ripple * min(1.0, (0.09 - foot) / 0.06)
                dx += wave * numbers[6]
                dz += wave * numbers[7]
            norm = 1 / math.sqrt(1 + dx * dx + dz * dz)
            nx = -dx * norm
            ny = norm
            nz = -dz * norm
            facing = max(0.0, nx * sun[0] + ny * sun[1] + nz * sun[2])
            tone = 0.5 + 0.22 * n0 + 0.12 * n1 if ripple <= 0 else 0.5 + 0.1 * n0
            tone = min(max(tone, 0.0), 1.0)
            patch = min(max(0.5 + 0.55 * tiled(soft, x / 38.0 + 11, z / 60.0 + 5), 0.0), 1.0) * 0.55
            floor = min(max((n0 * 0.7 + n1 * 0.4 + bare * 2 - 1.0) * 1.3 + 0.5, 0.0), 1.0) if bare > 0 else 0.0
            sandy = min(max((sand - h) / (0.35 * abs(sand) + 0.3) + 0.3 * n1, 0.0), 1.0) if sand > 0 else 0.0
            layer = 0.5 + 0.25 * n1 + 0.15 * n2
            if strata > 0:
                layer += 0.28 * math.sin(h * strata + 2.2 * n0 + 0.8 * n1)
            layer = min(max(layer, 0.0), 1.3)
            grain = 1 + 0.16 * n2 + 0.10 * n1 if ripple <= 0 else 1 + 0.05 * n2 * max(0.0, 1 - foot * 8)
            for k in range(3):
                a = palette[0, k] * (1 - tone) + palette[1, k] * tone
                if ripple <= 0:
                    a += (palette[1, k] * (1.25 if k == 0 else 1.05) - a) * patch
                a += (palette[4, k] - a) * floor
                a += (palette[3, k] - a) * sandy
                a += (palette[2, k] * (0.55 + 0.9 * layer) - a) * rock
                c[k] = a * grain
            snow = (h - snowline) / 140.0 + 0.55 * n0 - max(0.0, slope - 0.55) * 2.0 + 0.25 * n1
            if numbers[8] > 0:
                snow = max(snow, numbers[8] * 3.0 - max(0.0, slope - 0.75) * 4.0 + 0.35 * n0)
            if snow > 0:
                snow = min(snow * 2.0, 1.0)
                white = 0.80 + 0.03 * n2
                for k in range(3):
                    c[k] += (white * (1 + 0.015 * k) - c[k]) * snow
                # Light goes into snow and comes out elsewhere: shaded slopes stay bright.
                soft_facing = 0.4 * facing + 0.6 * (ny * sun[1] + nx * sun[0] * 0.5 + nz * sun[2] * 0.5)
                facing = facing * (1 - 0.35 * snow) + 0.35 * snow * max(0.0, soft_facing)
            sky = open_sky * (0.55 + 0.45 * ny)
            back = 0.10 * max(0.0, 1 - ny) * max(sun[1], 0.0)
            thick = haze * math.exp(-max(h, 0.0) / haze_height)
            for k in range(3):
                light = colour[k] * (facing * lit + back * (1 - 0.1 * k)) + ambient[k] * sky
                through = math.exp(-z * (rayleigh[k] * 1.6 + thick))
                out[j, i, k] = c[k] * light * through + air[i, k] * (1 - through)


def shade(
    plan: LandPlan, camera: Camera, seen: Float, labels: Byte, ground: Ground, sun: AnyArray, colour: AnyArray,
    ambient: AnyArray, air: AnyArray, out: Float,
) -> None:  # fmt: skip
    """Paint the land of a view into `out` (h, w, 3), linear. About .2 s at 768 px."""
    g = plan.grid
    _shade(
        camera.focal, camera.middle, camera.horizon, seen, labels, plan.far, g.cell, g.left, plan.near, NEAR_CELL,
        plan.near_left, NEAR_DEPTH, ground.slope_x, ground.slope_z, ground.near_x, ground.near_z, ground.sun_share,
        ground.sky_share, ground.near_shade, sun, colour, ambient, np.asarray(air, np.float64), ground.numbers,
        ground.colours, ground.haze, ground.haze_height, RAYLEIGH, soft_texture(), fine_texture(), out,
    )  # fmt: skip
