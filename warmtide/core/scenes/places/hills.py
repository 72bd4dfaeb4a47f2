"""Rolling hills, a meadow, a plain."""

import numpy as np

from ...maths.arrays import f32
from ..land import Outlook, draw_land
from ..terrain import Forest, Grid, LandPlan, Surface, near_patch, rise
from ..view import SKY, Task
from .base import Place

# Height of the waves of the land in metres.
_SWELL = {"hills": 150.0, "meadow": 34.0, "plain": 9.0}


def _plan(random: np.random.Generator, kind: str) -> LandPlan:
    grid = Grid(2600.0 if kind == "meadow" else 3200.0)
    x, z = grid.x, grid.z
    side, swell, hilly = int(random.choice([-1, 1])), _SWELL[kind], kind == "hills"
    heights = grid.noise(620 if hilly else 900, random, 4, 0.34) * swell * (0.5 if hilly else 1) * rise(-150, 1100, z)
    heights = heights + grid.noise(2300, random, 2) * swell * 0.9 * rise(0, 1800, z)
    heights = heights + rise(900, 3000, z) * swell * random.uniform(0.2, 1.1)
    heights = heights + np.clip(x * side / 700, -1, 1) * swell * 0.35 * rise(80, 700, z)
    heights = heights * (rise(0, 90, z) * 0.93 + 0.07)
    palette = str(random.choice(["dry", "summer"] if kind == "plain" else ["spring", "summer", "autumn"]))
    forest = Forest(
        "mixed", (7, 14), 3000 if hilly else 2600, (170 if hilly else 70, 2600), 0.5, 1.25 if hilly else 1.0,
        slope=0.9, bushes=kind != "plain",
    )  # fmt: skip
    return LandPlan(
        grid, np.ascontiguousarray(heights, dtype=f32), near_patch(random, 0.10),
        Surface(palette, rock_slope=1.2, bare=0.1), side, random.uniform(8, 26) if hilly else random.uniform(1.7, 3),
        1.1e-4, (0.42, 0.62), forest=forest, grass=0.9 if hilly else 1.0,
        blade={"hills": 0.25, "meadow": 0.38, "plain": 0.5}[kind],
        flowers={"hills": 0.12, "meadow": 0.30, "plain": 0.10}[kind], framing=0.6 if kind == "meadow" else 0.0,
        frame_kind="broad", shape_from=110 if hilly else 150, shape_to=800,
    )  # fmt: skip


def _kept(seen: Outlook) -> bool:
    return 0.12 <= seen.share(SKY) <= 0.8


def _place(kind: str, title: str, words: tuple[str, ...], stream: int) -> Place:
    def planned(random: np.random.Generator, _: Task) -> LandPlan:
        return _plan(random, kind)

    return Place(kind, title, words, lambda task: draw_land(task, planned, stream, _kept), with_water="lake")


PLACES = (
    _place(
        "hills", "rolling hills",
        ("hills", "hill", "rolling hills", "countryside", "farmland", "downland", "green hills"), 4,
    ),
    _place("meadow", "meadow", ("meadow", "meadows", "pasture", "grassland"), 5),
    _place("plain", "plain", ("plain", "plains", "steppe", "savanna", "prairie", "wheat field", "open field"), 6),
)  # fmt: skip
