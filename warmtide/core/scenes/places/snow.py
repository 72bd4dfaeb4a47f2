"""A field of snow with firs."""

import numpy as np

from ...maths.arrays import f32
from ...maths.noise import ridged
from ..land import Outlook, draw_land
from ..terrain import Forest, Grid, LandPlan, Surface, near_patch, rise
from ..view import SKY, Task
from .base import Place


def _plan(random: np.random.Generator, _: Task) -> LandPlan:
    grid = Grid(3000.0)
    z = grid.z
    heights = grid.noise(700, random, 4, 0.36) * 30 * rise(10, 500, z)
    ridges = 0.7 + 0.5 * ridged(grid.x.shape[0], grid.x.shape[1], 700 / grid.cell, random, 5)
    heights = heights + rise(700, 2800, z) * random.uniform(30, 300) * ridges
    heights = heights + grid.noise(90, random, 4) * 2.2 * rise(5, 80, z)
    forest = Forest("conifer", (6, 13), 2200, (50, 1200), 0.7, 0.75)
    return LandPlan(
        grid, np.ascontiguousarray(heights, dtype=f32), near_patch(random, 0.16),
        Surface("snow", rock_slope=0.9, snow=1.0), int(random.choice([-1, 1])), random.uniform(2.5, 6), 1.5e-4,
        (0.42, 0.62), forest=forest, shape_from=120, shape_to=1100, sun_side=(0.75, 1.15), sun_height=0.3, mist=3e-3,
        exposure=0.33,
    )  # fmt: skip


def _kept(seen: Outlook) -> bool:
    return 0.1 <= seen.share(SKY) <= 0.75


PLACES = (
    Place(
        "snow", "snow field", ("snow", "snow field", "snowfield", "winter landscape", "arctic", "tundra", "ice", "snowy field"),
        lambda task: draw_land(task, _plan, 11, _kept),
    ),
)  # fmt: skip
