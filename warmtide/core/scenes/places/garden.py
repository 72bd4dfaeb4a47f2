"""A garden: lawn and beds of flowers, shrubs, a few trees, a hedge behind."""

import numpy as np

from ...maths.arrays import f32
from ..land import draw_land
from ..terrain import Forest, Grid, LandPlan, Surface, near_patch, rise
from ..view import TREE, Drawn, Task, share_of
from .base import Place


def _plan(random: np.random.Generator, _: Task) -> LandPlan:
    grid = Grid(500.0)
    z = grid.z
    heights = grid.noise(120, random, 3) * 1.2 * rise(5, 60, z) + rise(120, 500, z) * random.uniform(8, 40)
    shrubs = Forest("bush", (0.7, 1.9), 260, (8, 60), 1.0, 0.15, slope=2.0, edge=random.uniform(9, 15))
    return LandPlan(
        grid, np.ascontiguousarray(heights, dtype=f32), near_patch(random, 0.07),
        Surface("lawn", rock_slope=1.5, bare=0.1), int(random.choice([-1, 1])), 1.65, 1.5e-4, (0.42, 0.52),
        forest=shrubs, grass=1.0, blade=0.22, flowers=0.55, flower_spread=0.25, framing=0.9, frame_kind="broad",
        shape_from=40, shape_to=200, mist=6e-3, behind=Forest("mixed", (5, 9), 260, (34, 160), 1.2, -0.3, slope=2.0),
    )  # fmt: skip


def _kept(drawn: Drawn) -> bool:
    return share_of(drawn, TREE) >= 0.15


PLACES = (
    Place(
        "garden", "garden", ("garden", "cottage garden", "flower garden", "backyard", "flower beds", "rose garden"),
        lambda task: draw_land(task, _plan, 15), _kept,
    ),
)  # fmt: skip
