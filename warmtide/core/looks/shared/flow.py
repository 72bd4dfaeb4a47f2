"""Local direction of a picture, and lines along it.

Sources
-------
1. J. Bigun, G. Granlund, "Optimal orientation detection of linear symmetry", 1987 (structure tensor).
2. H. Kang, S. Lee, C. Chui, "Coherent line drawing", 2007 (difference of Gaussians along a flow).
"""

import math

import cv2
import numpy as np

from ...maths.arrays import Byte, Float, f32
from ...maths.blur import quick_blur
from ...maths.jit import kernel


def directions(lab: Float, reach: float) -> tuple[Float, Float, Float]:
    """Tangent angle, coherence 0..1 and gradient magnitude of a picture, smoothed over `reach` pixels."""
    xx = np.zeros(lab.shape[:2], f32)
    yy, xy = xx.copy(), xx.copy()
    for channel, weight in ((0, 1.0), (1, 2.0), (2, 2.0)):
        plane = quick_blur(np.ascontiguousarray(lab[..., channel]), 1.0)
        gx = cv2.Scharr(plane, cv2.CV_32F, 1, 0) / 32
        gy = cv2.Scharr(plane, cv2.CV_32F, 0, 1) / 32
        xx += f32(weight) * gx * gx
        yy += f32(weight) * gy * gy
        xy += f32(weight) * gx * gy
    magnitude = np.sqrt(xx + yy)
    xx, yy, xy = quick_blur(xx, reach), quick_blur(yy, reach), quick_blur(xy, reach)
    tangent = 0.5 * np.arctan2(2 * xy, xx - yy) + np.pi / 2
    coherence = np.sqrt((xx - yy) ** 2 + 4 * xy**2) / (xx + yy + f32(1e-6))
    return tangent.astype(f32), coherence.astype(f32), magnitude.astype(f32)


def turned_toward(angles: Float, other: Float, share: Float) -> Float:
    """Angles of lines turned toward others by a share 0..1; a line has no front, so angles are doubled."""
    cosine = (1 - share) * np.cos(2 * angles) + share * np.cos(2 * other)
    sine = (1 - share) * np.sin(2 * angles) + share * np.sin(2 * other)
    return (0.5 * np.arctan2(sine, cosine)).astype(f32)


# Pixels of width that one step along or across a line may pass.
_STRIDE = 1.15


@kernel
def bilinear(image, x, y):  # type: ignore[no-untyped-def]
    """Value between pixels; the caller keeps x, y inside."""
    i, j = int(x), int(y)
    a, b = x - i, y - j
    one = f32(1)
    return (image[j, i] * (one - a) + image[j, i + 1] * a) * (one - b) + (
        image[j + 1, i] * (one - a) + image[j + 1, i + 1] * a
    ) * b


@kernel
def _across(padded, nx, ny, weights, reach, pace, out, pad):  # type: ignore[no-untyped-def]
    h, w = out.shape
    for y in range(h):
        for x in range(w):
            out[y, x] = weights[reach] * padded[y + pad, x + pad]
        for k in range(-reach, reach + 1):
            if k == 0:
                continue
            for x in range(w):
                px = f32(x + pad) + nx[y, x] * (f32(k) * pace)
                py = f32(y + pad) + ny[y, x] * (f32(k) * pace)
                out[y, x] += weights[k + reach] * bilinear(padded, px, py)


@kernel
def _along(difference, active, tx, ty, weights, reach, pace, out):  # type: ignore[no-untyped-def]
    h, w = difference.shape
    for y in range(h):
        for x in range(w):
            if active[y, x] == 0:
                out[y, x] = f32(1)
                continue
            total, weight = difference[y, x], f32(1)
            for side in range(2):
                sign = f32(1) if side == 0 else f32(-1)
                px, py = f32(x), f32(y)
                dx, dy = tx[y, x] * sign, ty[y, x] * sign
                for k in range(1, reach + 1):
                    px += dx * pace
                    py += dy * pace
                    if px < f32(0) or py < f32(0) or px > f32(w - 1) or py > f32(h - 1):
                        break
                    qx, qy = min(px, f32(w) - f32(1.001)), min(py, f32(h) - f32(1.001))
                    total += bilinear(difference, qx, qy) * weights[k]
                    weight += weights[k]
                    ex, ey = tx[int(py + f32(0.5)), int(px + f32(0.5))], ty[int(py + f32(0.5)), int(px + f32(0.5))]
                    if ex * dx + ey * dy < f32(0):
                        ex, ey = -ex, -ey
                    dx, dy = ex, ey
            out[y, x] = total / weight


def ink_lines(
    lab: Float, width: float, length: float, balance: float, reach: float, gain: float, threshold: float
) -> Float:
    """Dark lines of a picture along its flow: 1 is paper, 0 is ink.

    Parameters
    ----------
    width, length : standard deviations across and along the line, pixels. balance : weight of the outer
    Gaussian; below 1 only dark sides of edges ink. reach : smoothing of the flow. gain : steepness of the
    step to ink. threshold : response below which ink begins.
    """
    tangent, _, _ = directions(lab, reach)
    light = np.ascontiguousarray(lab[..., 0])
    outer = width * 1.6
    # Wide lines are followed in longer steps, or a large picture would cost the third power of its side.
    pace = max(1.0, width / _STRIDE)
    count = math.ceil(outer * 2.5 / pace)
    radius = math.ceil(count * pace)
    taps = np.arange(-count, count + 1) * pace
    inner_weights = np.exp(-(taps**2) / (2 * width**2))
    outer_weights = np.exp(-(taps**2) / (2 * outer**2))
    weights = (inner_weights / inner_weights.sum() - balance * outer_weights / outer_weights.sum()).astype(f32)
    tx, ty = np.cos(tangent).astype(f32), np.sin(tangent).astype(f32)
    pad = radius + 2
    padded = cv2.copyMakeBorder(light, pad, pad, pad, pad, cv2.BORDER_REPLICATE)
    difference = np.empty_like(light)
    _across(padded, -ty, tx, weights, count, f32(pace), difference, pad)
    steps = int(length * 2 / pace)
    along = np.exp(-((np.arange(steps + 1) * pace) ** 2) / (2 * length**2)).astype(f32)
    around = int(length * 2)
    # A mean of values above the threshold is above it: skip where the whole neighbourhood is.
    least = cv2.erode(difference, np.ones((2 * around + 3, 1), np.uint8))
    active: Byte = (cv2.erode(least, np.ones((1, 2 * around + 3), np.uint8)) <= threshold).astype(np.uint8)
    response = np.empty_like(difference)
    _along(difference, active, tx, ty, along, steps, f32(pace), response)
    ink = 1 + np.tanh(f32(gain) * (response - f32(threshold)))
    return np.where(response > threshold, f32(1), ink).astype(f32)
