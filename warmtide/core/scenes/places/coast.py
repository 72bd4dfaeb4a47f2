"""Where land meets the sea: a cliff, a beach, and the open sea."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.noise import fractal
from ...maths.steps import smoothstep
from ..land import Outlook, draw_land
from ..terrain import NEAR_CELL, Forest, Grid, LandPlan, Surface, near_grid, near_patch, rise
from ..view import LAND, SKY, WATER, Task
from .base import Place


def _cliff(random: np.random.Generator, _: Task) -> LandPlan:
    grid = Grid(5200.0)
    x, z = grid.x, grid.z
    side = int(random.choice([-1, 1]))
    tall, begin, curve = random.uniform(28, 60), random.uniform(9, 15), side * random.uniform(0.1, 0.5) * 0.6
    out = side * x
    head = rise(-60, 60, out - (60 + 0.30 * z) + grid.noise(420, random, 3) * 75 + grid.noise(90, random, 3) * 10)
    heights = tall * head * (1 + 0.16 * grid.noise(700, random, 3)) * rise(3600, 2500, z) - 12 * (1 - head)
    across = rise(-20, 20, -out - (900 + 0.35 * z) + grid.noise(500, random, 4) * 130)
    across = across * rise(1500, 1800, z) * rise(4300, 3600, z)
    far = np.ascontiguousarray(np.maximum(heights, -12 + across * (tall * 0.9 + 12)), dtype=f32)
    near = _rim(random, grid, far, tall, begin, curve)
    return LandPlan(
        grid, far, near, Surface("coast", rock_slope=0.85, strata=0.55, sand=1.2), side, 2.3, 3e-5, (0.36, 0.50), 0.0,
        grass=0.9, blade=0.16, flowers=0.10, waves=0.11, wave_size=75.0, deep="0c4468", stand=tall + 0.6, mist=1.4e-3,
    )  # fmt: skip


def _rim(random: np.random.Generator, grid: Grid, far: Float, tall: float, begin: float, curve: float) -> Float:
    """The grassy edge one stands on, as what it adds to the far map."""
    x, z = near_grid()
    rows, columns = x.shape
    bumps = near_patch(random, 0.15)
    edge = begin + curve * x + fractal(rows, columns, 7 / NEAR_CELL, random, 5, 0.55) * 1.2
    top = 1 - smoothstep(-0.9, 0.9, z - edge)
    base = cv2.remap(far, ((x - grid.left) / grid.cell).astype(f32), (z / grid.cell).astype(f32), cv2.INTER_LINEAR)
    level = (bumps + tall + 0.6 + fractal(rows, columns, 9 / NEAR_CELL, random, 3) * 0.25) * top
    patch = np.where(top > 0.002, level - base * top, 0)
    stones = np.clip(fractal(rows, columns, 1.6 / NEAR_CELL, random, 3) - 0.1, 0, 2)
    patch = patch + np.exp(-((z - edge + 1.2) ** 2)) * stones * 0.35 * top
    return np.ascontiguousarray(patch, dtype=f32)


def _sea(random: np.random.Generator, _: Task) -> LandPlan:
    grid = Grid(9000.0)
    x, z = grid.x, grid.z
    heights = np.full_like(x, -30)
    for _k in range(int(random.integers(0, 3))):
        where, depth = random.uniform(-0.4, 0.4), random.uniform(2500, 6500)
        form = np.exp(-(((x - where * depth) / random.uniform(300, 1000)) ** 2) - ((z - depth) / 500) ** 2)
        island = -30 + (30 + random.uniform(60, 260)) * form * (1 + 0.35 * grid.noise(500, random, 5))
        heights = np.maximum(heights, island)
    return LandPlan(
        grid, np.ascontiguousarray(heights, dtype=f32), near_patch(random, 0.1), Surface("coast", rock_slope=0.5),
        int(random.choice([-1, 1])), random.uniform(2.5, 7), 4e-5, (0.45, 0.66), 0.0, waves=0.16, wave_size=60.0,
        deep="0d3a52", mist=2.2e-3,
    )  # fmt: skip


def _beach(random: np.random.Generator, _: Task) -> LandPlan:
    grid = Grid(4200.0)
    x, z = grid.x, grid.z
    side = int(random.choice([-1, 1]))
    out = side * x
    heights = (out - 0.12 * z + grid.noise(220, random, 3) * 16 * rise(0, 200, z) + random.uniform(-1, 5)) * 0.05
    heights = heights + rise(14, 0, z)
    heights = np.minimum(heights, 1.8 + 0.02 * np.maximum(out - 40, 0))
    # Behind the sand the land rises to low dunes and trees, and a far headland closes the bay.
    behind = rise(0, 500, out - (160 + 0.30 * z) + grid.noise(500, random, 3) * 90)
    heights = heights + behind * 60 * (1 + 0.4 * grid.noise(450, random, 4)) * rise(100, 600, z)
    headland = rise(1900, 2500, z + grid.noise(700, random, 3) * 150) * random.uniform(0.3, 1)
    heights = np.where(
        headland > 0.3, np.maximum(heights, headland * 150 * (0.4 + 0.4 * grid.noise(600, random, 4)) - 10), heights
    )
    far = np.ascontiguousarray(np.maximum(heights, -7), dtype=f32)
    forest = Forest("broad", (5, 9), 1200, (120, 1800), 0.8, 0.2, low=6, high=200)
    return LandPlan(
        grid, far, near_patch(random, 0.06), Surface("coast", rock_slope=0.9, sand=3.2), side, 2.0, 4e-5, (0.42, 0.55), 0.0,
        forest, waves=0.16, wave_size=40.0, deep="1a6a74", mist=1.6e-3,
    )  # fmt: skip


def _cliff_kept(seen: Outlook) -> bool:
    return seen.share(WATER) >= 0.12 and seen.share(SKY) >= 0.2 and seen.share(SKY, (0.9, 1)) < 0.02


def _sea_kept(seen: Outlook) -> bool:
    return seen.share(WATER) >= 0.25


def _beach_kept(seen: Outlook) -> bool:
    return seen.share(WATER) >= 0.08 and seen.share(LAND, (0.6, 1)) >= 0.25


PLACES = (
    Place(
        "cliff", "cliff above the sea", ("cliff", "cliff edge", "headland", "precipice", "cliffs", "overlook", "cliff top"),
        lambda task: draw_land(task, _cliff, 12, _cliff_kept)
    ),
    Place(
        "sea", "open sea", ("sea", "ocean", "open sea", "waves", "open water", "horizon at sea", "seascape", "high seas"),
        lambda task: draw_land(task, _sea, 13, _sea_kept)
    ),
    Place(
        "beach", "beach", ("beach", "shore", "coast", "seaside", "sandy beach", "tropical beach", "bay", "sand and sea"),
        lambda task: draw_land(task, _beach, 14, _beach_kept)
    ),
)  # fmt: skip
