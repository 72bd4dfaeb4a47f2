"""Mountains, the high mountains, and a lake between them."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.noise import ridged
from ...maths.steps import smoothstep
from ..erosion import eroded
from ..land import Outlook, draw_land
from ..terrain import NO_WATER, Forest, Grid, LandPlan, Surface, near_patch, rise
from ..view import LAND, SKY, WATER, Task
from .base import Place


def _massif(grid: Grid, random: np.random.Generator, side: int, high: bool) -> tuple[Float, Float]:
    """Heights of ranges on both sides of a valley that winds away, and how far a point lies from its floor."""
    x, z = grid.x, grid.z
    winding = smoothstep(0, 1600, z) * random.uniform(150, 420)
    valley = random.uniform(-0.14, 0.14) * z + winding * np.sin(z / random.uniform(900, 1700) + random.uniform(0, 6))
    off = np.abs(x - valley + grid.noise(900, random, 3) * 120) / (170 + random.uniform(0.13, 0.30) * z)
    walls = rise(0.45, 2.0, off)
    behind = rise(random.uniform(2300, 3400), 8200, z + grid.noise(1500, random, 3) * 600)
    walls = np.maximum(walls * rise(250, 2600, z), behind)
    rows, columns = x.shape
    warp = grid.noise(1800, random, 3) * 12, grid.noise(1800, random, 3) * 11
    crests = ridged(rows, columns, random.uniform(2300, 3600) / grid.cell, random, 7)
    at_x, at_y = np.meshgrid(np.arange(columns, dtype=f32), np.arange(rows, dtype=f32))
    crests = cv2.remap(
        crests,
        (at_x + warp[0]).astype(f32),
        (at_y + warp[1]).astype(f32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REFLECT,
    )
    crests = crests / np.percentile(crests, 97)
    crests = np.where(crests > 0.9, 0.9 + 0.45 * (crests - 0.9), crests)
    where, depth = random.uniform(-0.55, 0.55), random.uniform(5200, 6800)
    peak = np.exp(-(((x - where * z) / (900 + 0.05 * z)) ** 2) - ((z - depth) / 1300) ** 2) * random.uniform(0.2, 0.75)
    tall = random.uniform(620, 980) * (1.25 if high else 1.0)
    heights = walls * (60 + crests**1.35 * tall * (0.75 + 0.6 * walls) + peak * tall * (0.3 + 1.1 * crests))
    heights *= 1 + 0.35 * side * np.clip(x / (0.35 * z + 300), -1, 1) * 0.6
    return heights.astype(f32), off


def _finished(grid: Grid, heights: Float, random: np.random.Generator) -> Float:
    far = eroded(heights, grid.cell, int(random.integers(1 << 30)))
    rough = ridged(grid.x.shape[0], grid.x.shape[1], 420 / grid.cell, random, 5) - 0.7
    return np.ascontiguousarray(far + rough * 75 * np.clip(far / 350, 0, 1), dtype=f32)


def _plan(random: np.random.Generator, task: Task, lake: bool, high: bool) -> LandPlan:
    grid = Grid(9000.0)
    x, z = grid.x, grid.z
    side = int(random.choice([-1, 1]))
    heights, off = _massif(grid, random, side, high)
    walls_free = 1 - 0.6 * np.clip(heights / 400, 0, 1)
    heights = (heights + grid.noise(420, random, 4) * (16 if lake else 26) * rise(20, 500, z) * walls_free).astype(f32)
    water, eye = NO_WATER, random.uniform(3, 16)
    if lake:
        water, eye = 0.0, random.uniform(5, 14)
        begin, end, wide = random.uniform(5, 26), random.uniform(1500, 3400), random.uniform(0.8, 2.0)
        basin = rise(1.35 * wide, 0.55 * wide, off + grid.noise(260, random, 4) * 0.12)
        basin = (
            basin * rise(begin * 0.4, begin * 2.3, z + grid.noise(120, random, 3) * 10) * rise(end * 1.3, end * 0.8, z)
        )
        middle = np.abs(x - 0.1 * side * z) / (60 + 0.34 * z) + grid.noise(200, random, 4) * 0.10
        basin = np.maximum(
            basin, rise(1.15, 0.65, middle) * rise(begin, begin * 2.6, z) * rise(end * 1.25, end * 0.8, z)
        )
        heights = (heights + 9) * (1 - basin) - 9 * basin
        heights = np.where(z < begin * 1.2, np.minimum(heights, 1.0) + 0.8, heights).astype(f32)
    else:
        heights = heights + 5
    snowline = random.uniform(60, 200) if high else random.uniform(330, 560)
    palette = str(random.choice(["summer", "spring", "autumn", "moor"]))
    forest = Forest(
        "conifer",
        (13, 24),
        6500,
        (200 if lake else 330, 5200),
        clump=0.25,
        low=4,
        high=max(snowline * 0.62, 90),
        slope=0.85,
    )
    return LandPlan(
        grid, _finished(grid, heights.astype(f32), random), near_patch(random, 0.12),
        Surface(palette, snowline=snowline, rock_slope=0.80, bare=0.35), side, eye, 2.6e-5,
        (0.46, 0.60) if lake else (0.55, 0.70) if high else (0.50, 0.66), water, forest, grass=0.8, blade=0.3,
        wave_size=26.0, deep="0f3c40", framing=0.75 if lake else 0.0, frame_kind="conifer",
        shape_from=1400 if lake else 600, shape_to=4200, mist=9e-4 if lake else 7e-4, mist_height=120 if lake else 160,
    )  # fmt: skip


def _lake_kept(seen: Outlook) -> bool:
    return seen.share(WATER) >= 0.15 and seen.share(LAND) >= 0.08


def _peaks_kept(seen: Outlook) -> bool:
    above = int(max(seen.horizon - 0.06 * len(seen.labels), 1))
    return float((seen.labels[:above] != SKY).mean()) >= 0.12 and seen.share(SKY) >= 0.15


PLACES = (
    Place(
        "lake", "lake with mountains", ("lake", "mountain lake", "fjord", "tarn", "loch", "reservoir", "lakeside"),
        lambda task: draw_land(task, lambda r, t: _plan(r, t, True, False), 1, _lake_kept)
    ),
    Place(
        "mountains", "mountains", ("mountains", "mountain", "valley", "ridge", "crags", "highlands", "mountain valley"),
        lambda task: draw_land(task, lambda r, t: _plan(r, t, False, False), 2, _peaks_kept), with_water="lake",
    ),
    Place(
        "alps", "high snowy mountains",
        ("alps", "alpine", "snowy mountains", "snowy alps", "peaks", "snow capped peaks", "glacier", "high mountains"),
        lambda task: draw_land(task, lambda r, t: _plan(r, t, False, True), 3, _peaks_kept), with_water="lake",
    ),
)  # fmt: skip
