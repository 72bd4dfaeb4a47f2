"""Fields that materials are made of: grain with a direction, weaves, cells.

All sizes are in grid points. A field's features lie at the same place of the picture at every size.
"""

import math

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, f32
from ...maths.blur import blur
from ...maths.noise import lattice


def grain(
    height: int, width: int, along: float, random: np.random.Generator, across: float | None = None, angle: float = 0.0
) -> Float:
    """Smooth noise (h, w) of unit variance.

    Parameters
    ----------
    along, across : size of features along the grain's direction and across it. angle : of the direction, radians.
    """
    across = along if across is None else across
    rows, columns = (height, width) if angle == 0 else (int(math.hypot(height, width)) + 2,) * 2
    step_x, step_y = max(along / 2, 1.0), max(across / 2, 1.0)
    white = lattice(int(random.integers(1 << 62)), int(rows / step_y) + 5, int(columns / step_x) + 5)
    white = blur(white, 1.0 if min(along, across) >= 1.5 else 0.5)
    field = cv2.resize(
        white, (int(white.shape[1] * step_x), int(white.shape[0] * step_y)), interpolation=cv2.INTER_CUBIC
    )[:rows, :columns]
    if angle:
        turn = cv2.getRotationMatrix2D((columns / 2, rows / 2), -math.degrees(angle), 1)
        turn[:, 2] += [(width - columns) / 2, (height - rows) / 2]
        field = cv2.warpAffine(field, turn, (width, height), borderMode=cv2.BORDER_REFLECT)
    return np.ascontiguousarray((field - field.mean()) / (field.std() + 1e-6), dtype=f32)


def clouded(
    height: int, width: int, along: float, random: np.random.Generator, octaves: int = 4, gain: float = 0.55,
    across: float | None = None, angle: float = 0.0,
) -> Float:  # fmt: skip
    """Sum of grains, each half as large and `gain` times as strong, of unit variance."""
    across = along if across is None else across
    total = np.zeros((height, width), f32)
    for k in range(octaves):
        share = 2.0**k
        total += f32(gain**k) * grain(height, width, max(along / share, 1), random, max(across / share, 1), angle)
    return (total / max(float(total.std()), 1e-6)).astype(f32)


def moved(field: Float, dx: AnyArray, dy: AnyArray) -> Float:
    """A field looked up (dx, dy) points away, mirrored at its border."""
    height, width = field.shape[:2]
    xs, ys = np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32))
    found = cv2.remap(
        field, (xs + dx).astype(f32), (ys + dy).astype(f32), cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT
    )
    return np.asarray(found, f32)


def over(under: AnyArray, top: AnyArray, share: AnyArray) -> Float:
    """Colours `top` over colours `under`, (h, w, 3), by a share (h, w)."""
    return np.asarray(under + (top - under) * share[..., None], f32)


def between(a: AnyArray | float, b: AnyArray | float, share: AnyArray | float) -> AnyArray:
    """`a` where the share is 0, `b` where it is 1."""
    return np.asarray(a + (b - a) * share)
