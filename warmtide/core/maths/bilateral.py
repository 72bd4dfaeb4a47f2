"""An edge-keeping smoother for three planes: the piecewise-smooth part of the prior.

Sources
-------
1. C. Tomasi, R. Manduchi, "Bilateral filtering for gray and color images", 1998. Taps are dilated, and the
   exponential of the range weight is replaced by (1 - d^2 / 8 s^2)^4, which needs no transcendental.
"""

import math

import cv2
import numpy as np

from .arrays import Float, f32
from .jit import kernel


@kernel
def _tap_row(c0, c1, c2, r0, r1, r2, a0, a1, a2, total, near, inverse, w):  # type: ignore[no-untyped-def]
    for x in range(w):
        d = abs(r0[x] - c0[x]) + abs(r1[x] - c1[x]) + abs(r2[x] - c2[x])
        t = max(f32(1) - d * d * inverse, f32(0))
        t = t * t
        t = t * t * near
        a0[x] += t * r0[x]
        a1[x] += t * r1[x]
        a2[x] += t * r2[x]
        total[x] += t


@kernel
def _bilateral(padded, out, radius, dilation, spread, reach):  # type: ignore[no-untyped-def]
    border = radius * dilation
    h, w = padded.shape[1] - 2 * border, padded.shape[2] - 2 * border
    a0, a1, a2 = np.empty(w, np.float32), np.empty(w, np.float32), np.empty(w, np.float32)
    total = np.empty(w, np.float32)
    inverse = f32(1) / (f32(8) * spread * spread)
    for y in range(h):
        a0[:] = 0
        a1[:] = 0
        a2[:] = 0
        total[:] = 0
        c0, c1, c2 = padded[0, y + border], padded[1, y + border], padded[2, y + border]
        for j in range(-radius, radius + 1):
            row = y + border + j * dilation
            r0, r1, r2 = padded[0, row], padded[1, row], padded[2, row]
            for i in range(-radius, radius + 1):
                squared = f32(i * i + j * j)
                if squared > f32(radius * radius + 0.5):
                    continue
                near = f32(math.exp(-squared * f32(dilation * dilation) / (f32(2) * reach * reach)))
                shift = border + i * dilation
                _tap_row(
                    c0[border:], c1[border:], c2[border:], r0[shift:], r1[shift:], r2[shift:],
                    a0, a1, a2, total, near, inverse, w,
                )  # fmt: skip
        for x in range(w):
            scale = f32(1) / total[x]
            out[0, y, x] = a0[x] * scale
            out[1, y, x] = a1[x] * scale
            out[2, y, x] = a2[x] * scale


def bilateral(stack: Float, radius: int, dilation: int, spread: float, reach: float) -> Float:
    """Edge-keeping mean of a planar image (3, h, w).

    Parameters
    ----------
    radius, dilation : taps on a disc of `radius`, `dilation` pixels apart.
    spread : colour distance (sum of absolute differences) that still counts as the same surface.
    reach : standard deviation of the spatial weight in pixels.
    """
    border = radius * dilation
    sides = (border, border, border, border, cv2.BORDER_REFLECT)
    padded = np.stack([cv2.copyMakeBorder(plane, *sides) for plane in stack])
    out = np.empty((3, *stack.shape[1:]), f32)
    _bilateral(padded, out, radius, dilation, f32(spread), f32(reach))
    return out
