"""What of a land is seen: every column of the picture walks outward over the heights and keeps what rises above.

Sources
-------
1. J. Wright, J. Hsieh, "A voxel-based forward projection algorithm for rendering surface and volumetric data", 1992.
"""

import math

import numpy as np

from ..maths.arrays import Byte, Float, f32
from ..maths.jit import kernel
from ..maths.sampling import bounded
from .terrain import NEAR_CELL, NEAR_DEPTH, LandPlan
from .view import Camera


@kernel
def height_at(far, cell, left, near, near_cell, near_left, near_depth, x, z):  # type: ignore[no-untyped-def]
    """Height of the ground at (x, z): the far map, and what the near patch adds, fading out."""
    h = bounded(far, (x - left) / cell, z / cell)
    if z < near_depth:
        share = min(1.0, (near_depth - z) / (near_depth * 0.3))
        h += share * bounded(near, (x - near_left) / near_cell, z / near_cell)
    return h


@kernel
def _walk(  # type: ignore[no-untyped-def]
    focal, middle, horizon, eye, far, cell, left, near, near_cell, near_left, near_depth, depth, water, mirrored,
    stride, first, seen, labels,
):  # fmt: skip
    rows, columns = seen.shape
    for i in range(columns):
        dx = (i + 0.5 - middle) / focal
        top = rows
        if mirrored:
            top = min(rows, int(horizon) + 1)
        z = max(0.9, first[i])
        before = z
        y_before = 1e9
        while z < depth and top > 0:
            h = height_at(far, cell, left, near, near_cell, near_left, near_depth, dx * z, z)
            wet = h <= water
            if wet:
                h = water
            if not (wet and mirrored):
                y = horizon - focal * (h - eye) / z if not mirrored else horizon - focal * (h - 2 * water + eye) / z
                row = int(math.ceil(y - 0.5))
                if row < top:
                    start = max(row, 0)
                    for j in range(start, top):
                        if wet and j + 0.5 > horizon + 0.2:
                            seen[j, i] = focal * (eye - water) / (j + 0.5 - horizon)
                        else:
                            t = (j + 0.5 - y) / max(y_before - y, 1e-3)
                            seen[j, i] = z + (before - z) * min(max(t, 0.0), 1.0)
                        labels[j, i] = 1 if wet else 2
                    top = start
                y_before = y
            before = z
            z += max(0.06, z * stride)


def walked(
    plan: LandPlan,
    camera: Camera,
    eye: float,
    mirrored: bool = False,
    stride: float = 0.0045,
    first: Float | None = None,
) -> tuple[Float, Byte]:
    """Depth in metres and labels (0 sky, 1 water, 2 land) of what a camera sees; `eye` is its height on the map.

    Mirrored: what the water's surface shows, above the horizon only. first : (w,) where each column begins.
    """
    seen = np.full((camera.height, camera.width), 1e9, f32)
    labels = np.zeros((camera.height, camera.width), np.uint8)
    start = np.zeros(camera.width, f32) if first is None else first
    g = plan.grid
    _walk(
        camera.focal, camera.middle, camera.horizon, eye, plan.far, g.cell, g.left, plan.near, NEAR_CELL,
        plan.near_left, NEAR_DEPTH, g.depth, plan.water, mirrored, stride, start, seen, labels,
    )  # fmt: skip
    return seen, labels
