"""Among trees: a forest, a clearing, a park."""

import numpy as np

from ...maths.arrays import f32
from ..land import draw_land
from ..terrain import Forest, Grid, LandPlan, Surface, near_patch, rise
from ..view import TREE, Drawn, Task, share_of
from .base import Place

_DEPTH = {"forest": 2200.0, "clearing": 900.0, "park": 700.0}


def _plan(random: np.random.Generator, kind: str) -> LandPlan:
    grid = Grid(_DEPTH[kind])
    z = grid.z
    park, forest = kind == "park", kind == "forest"
    heights = grid.noise(260, random, 4) * 3.5 * rise(6, 160, z)
    heights = heights + rise(250, 2000, z) * random.uniform(20, 150) * (1 + 0.3 * grid.noise(800, random, 3))
    palette = "lawn" if park else "moor" if forest else "spring"
    edge = random.uniform(45, 80) if park else random.uniform(46, 74) if forest else random.uniform(24, 44)
    trees = Forest(
        "conifer" if forest else "mixed", (8, 14) if park else (11, 20), 700 if park else 1500, (edge, 420),
        0.9 if park else 1.2, -0.2, slope=2.0, edge=edge, bushes=True,
    )  # fmt: skip
    return LandPlan(
        grid, np.ascontiguousarray(heights, dtype=f32), near_patch(random, 0.09),
        Surface(palette, rock_slope=1.3, bare=0.45 if forest else 0.12), int(random.choice([-1, 1])), 1.7,
        2e-4 if forest else 1.5e-4, (0.50, 0.62) if forest else (0.44, 0.58), forest=trees,
        grass={"forest": 0.45, "clearing": 1.0, "park": 0.85}[kind], blade={"forest": 0.2, "clearing": 0.3, "park": 0.07}[kind],
        flowers=0.15 if kind == "clearing" else 0.015, framing=0.0 if forest else 0.75, frame_kind="broad",
        shape_from=60 if not park else 80, shape_to=400, mist={"forest": 4e-3, "clearing": 7e-3, "park": 6e-3}[kind],
    )  # fmt: skip


def _kept(drawn: Drawn) -> bool:
    return share_of(drawn, TREE) >= 0.10


def _place(kind: str, title: str, words: tuple[str, ...], stream: int) -> Place:
    def planned(random: np.random.Generator, _: Task) -> LandPlan:
        return _plan(random, kind)

    return Place(kind, title, words, lambda task: draw_land(task, planned, stream), _kept)


PLACES = (
    _place(
        "forest", "forest",
        ("forest", "woods", "woodland", "pine forest", "fir forest", "spruce forest", "jungle"), 7,
    ),
    _place("clearing", "clearing", ("clearing", "glade", "forest clearing", "edge of the woods"), 8),
    _place("park", "park", ("park", "lawn", "orchard", "city park", "trees on a lawn"), 9),
)  # fmt: skip
