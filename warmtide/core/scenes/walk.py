"""What of a land is seen: every column of the picture walks outward over the heights and keeps what rises above.

Sources
-------
1. J. Wright, J. Hsieh, "A voxel-based forward projection algorithm for rendering surface and volumetric data", 1992.
"""

import math
from typing import NamedTuple

import numpy as np

from ..maths.arrays import AnyArray, Byte, Float, f32
from ..maths.jit import kernel
from ..maths.sampling import bounded
from .given import eye_of
from .terrain import NEAR_CELL, NEAR_DEPTH, LandPlan
from .view import LAND, WATER, Camera


class Heights(NamedTuple):
    """A land's heights as kernels have them.

    Attributes
    ----------
    far : the whole map, its cells `cell` m wide from `left` on. near : what the patch before one's feet adds up to
    `near_depth` m, fading out; its cells `near_cell` m wide from `near_left` on.
    """

    far: AnyArray
    cell: float
    left: float
    near: AnyArray
    near_cell: float
    near_left: float
    near_depth: float


def heights_of(plan: LandPlan) -> Heights:
    g = plan.grid
    return Heights(plan.far, float(g.cell), float(g.left), plan.near, NEAR_CELL, float(plan.near_left), NEAR_DEPTH)


@kernel
def height_at(land, x, z):  # type: ignore[no-untyped-def]
    """Height of the ground at (x, z): the far map, and what the near patch adds, fading out."""
    h = bounded(land.far, (x - land.left) / land.cell, z / land.cell)
    if z < land.near_depth:
        share = min(1.0, (land.near_depth - z) / (land.near_depth * 0.3))
        h += share * bounded(land.near, (x - land.near_left) / land.near_cell, z / land.near_cell)
    return h


@kernel
def _walk(eye, land, depth, water, mirrored, stride, first, seen, labels):  # type: ignore[no-untyped-def]
    rows, columns = seen.shape
    for i in range(columns):
        dx = (i + 0.5 - eye.middle) / eye.focal
        top = rows
        if mirrored:
            top = min(rows, int(eye.horizon) + 1)
        z = max(0.9, first[i])
        before = z
        y_before = 1e9
        while z < depth and top > 0:
            h = height_at(land, dx * z, z)
            wet = h <= water
            if wet:
                h = water
            if not (wet and mirrored):
                y = (
                    eye.horizon - eye.focal * (h - eye.y) / z
                    if not mirrored
                    else eye.horizon - eye.focal * (h - 2 * water + eye.y) / z
                )
                row = int(math.ceil(y - 0.5))
                if row < top:
                    start = max(row, 0)
                    for j in range(start, top):
                        if wet and j + 0.5 > eye.horizon + 0.2:
                            seen[j, i] = eye.focal * (eye.y - water) / (j + 0.5 - eye.horizon)
                        else:
                            t = (j + 0.5 - y) / max(y_before - y, 1e-3)
                            seen[j, i] = z + (before - z) * min(max(t, 0.0), 1.0)
                        labels[j, i] = WATER if wet else LAND
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
    land, seat = heights_of(plan), eye_of(camera, eye)
    _walk(seat, land, plan.grid.depth, plan.water, mirrored, stride, start, seen, labels)
    return seen, labels
