"""Desert dunes: wind-blown waves of sand with a gentle and a steep side."""

import math

import cv2
import numpy as np

from ...maths.arrays import f32
from ..land import Outlook, draw_land
from ..terrain import Grid, LandPlan, Surface, near_patch, rise
from ..view import SKY, Task
from .base import Place


def _plan(random: np.random.Generator, _: Task) -> LandPlan:
    grid = Grid(2200.0)
    x, z = grid.x, grid.z
    side = int(random.choice([-1, 1]))
    turn, length = -side * random.uniform(0.7, 1.25), random.uniform(100, 190)
    along = (x * math.sin(turn) + z * math.cos(turn)) / length
    along = along + 0.42 * grid.noise(420, random, 3) + 0.25 * grid.noise(900, random, 2)
    t = along - np.floor(along)
    gentle = np.clip(t / 0.74, 0, 1) ** 1.35
    profile = np.where(t < 0.74, gentle, 1 - np.clip((t - 0.74) / 0.26, 0, 1) ** 0.85)
    tall = np.clip(0.75 + 0.5 * grid.noise(500, random, 2), 0.15, 1.6)
    heights = profile * length * 0.15 * tall * rise(-20, 150, z) + grid.noise(1200, random, 2) * 16 * rise(20, 800, z)
    heights = heights + rise(600, 2200, z) * random.uniform(5, 45)
    far = cv2.GaussianBlur(heights.astype(f32), (0, 0), 0.8)
    way = math.sin(turn + 0.3), math.cos(turn + 0.3)
    return LandPlan(
        grid, np.ascontiguousarray(far), near_patch(random, 0.05),
        Surface("desert", rock_slope=3.0, ripple=0.22, ripple_way=way), side, random.uniform(7, 18), 5e-5, (0.38, 0.50),
        shape_from=50, shape_to=500, sun_side=(1.0, 1.5), sun_height=0.3,
    )  # fmt: skip


def _kept(seen: Outlook) -> bool:
    # One flat slope says nothing; a crest must cross the picture and some sky be left.
    return 0.15 <= seen.share(SKY) <= 0.75 and float(np.ptp(seen.skyline)) >= 0.09


PLACES = (
    Place(
        "dunes", "desert dunes", ("dunes", "dune", "desert", "sand dunes", "desert dunes", "sahara"),
        lambda task: draw_land(task, _plan, 10, _kept),
    ),
)  # fmt: skip
