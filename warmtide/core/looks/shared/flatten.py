"""Texture flattening and smooth label maps.

Sources
-------
1. L. Xu et al., "Structure extraction from texture via relative total variation", 2012.
2. D. Min et al., "Fast global image smoothing based on weighted least squares", 2014 (separable solver).
3. B. Merriman, J. Bence, S. Osher, "Diffusion generated motion by mean curvature", 1992 (threshold dynamics).
"""

import math

import cv2
import numpy as np

from ...maths.arrays import Float, Int, f32
from ...maths.blur import quick_blur
from ...maths.filters import share_around
from ...maths.jit import kernel
from ...maths.nearest import from_nearest
from .flow import bilinear

_CHANNELS: Float = np.array([1, 1.8, 1.8], f32)


@kernel
def _solve_rows(values, weights, strength):  # type: ignore[no-untyped-def]
    """Rows of (I + strength * L) u = values (rows, columns, 3), tridiagonal, in place."""
    rows, columns, _ = values.shape
    carry = np.empty(columns, np.float32)
    for i in range(rows):
        right = strength * weights[i, 0]
        pivot = f32(1) + right
        last = carry[0] = -right / pivot
        # The three channels are written out: what one step hands to the next then stays in registers.
        a, b, c = values[i, 0, 0] / pivot, values[i, 0, 1] / pivot, values[i, 0, 2] / pivot
        values[i, 0, 0], values[i, 0, 1], values[i, 0, 2] = a, b, c
        for j in range(1, columns):
            left = right
            right = strength * weights[i, j] if j < columns - 1 else f32(0)
            scale = f32(1) / (f32(1) + left + right + left * last)
            last = carry[j] = -right * scale
            a = (values[i, j, 0] + left * a) * scale
            b = (values[i, j, 1] + left * b) * scale
            c = (values[i, j, 2] + left * c) * scale
            values[i, j, 0], values[i, j, 1], values[i, j, 2] = a, b, c
        for j in range(columns - 2, -1, -1):
            last = carry[j]
            a, b, c = values[i, j, 0] - last * a, values[i, j, 1] - last * b, values[i, j, 2] - last * c
            values[i, j, 0], values[i, j, 1], values[i, j, 2] = a, b, c


@kernel
def _solve_columns(values, weights, strength):  # type: ignore[no-untyped-def]
    """The same down the columns, a row at a time so that memory is read in order."""
    rows, columns, _ = values.shape
    carry, scales = np.empty((rows, columns), np.float32), np.empty(columns, np.float32)
    for i in range(columns):
        below = strength * weights[0, i]
        pivot = f32(1) + below
        carry[0, i] = -below / pivot
        for k in range(3):
            values[0, i, k] /= pivot
    for j in range(1, rows):
        ends = f32(1) if j < rows - 1 else f32(0)
        for i in range(columns):
            above, below = strength * weights[j - 1, i], strength * weights[j, i] * ends
            scales[i] = f32(1) / (f32(1) + above + below + above * carry[j - 1, i])
            carry[j, i] = -below * scales[i]
        for i in range(columns):
            above, scale = strength * weights[j - 1, i], scales[i]
            values[j, i, 0] = (values[j, i, 0] + above * values[j - 1, i, 0]) * scale
            values[j, i, 1] = (values[j, i, 1] + above * values[j - 1, i, 1]) * scale
            values[j, i, 2] = (values[j, i, 2] + above * values[j - 1, i, 2]) * scale
    for j in range(rows - 2, -1, -1):
        for i in range(columns):
            passed = carry[j, i]
            values[j, i, 0] -= passed * values[j + 1, i, 0]
            values[j, i, 1] -= passed * values[j + 1, i, 1]
            values[j, i, 2] -= passed * values[j + 1, i, 2]


@kernel
def _edge_weights(u, smooth, across, down):  # type: ignore[no-untyped-def]
    """How firmly neighbours are tied: little across what stays an edge when smoothed."""
    rows, columns, _ = u.shape
    third = f32(1 / 3)
    for y in range(rows):
        below = min(y + 1, rows - 1)
        for x in range(columns):
            right = min(x + 1, columns - 1)
            fx = fy = bx = by = f32(0)
            for k in range(3):
                fx += abs(u[y, right, k] - u[y, x, k])
                fy += abs(u[below, x, k] - u[y, x, k])
                bx += abs(smooth[y, right, k] - smooth[y, x, k])
                by += abs(smooth[below, x, k] - smooth[y, x, k])
            across[y, x] = f32(1) / (max(bx * third, f32(0.003)) * max(fx * third, f32(0.02)))
            down[y, x] = f32(1) / (max(by * third, f32(0.003)) * max(fy * third, f32(0.02)))


def flatten(lab: Float, reach: float, strength: float, rounds: int = 4) -> Float:
    """Take texture away and keep structure. About 25 ms a round at 512 px.

    Parameters
    ----------
    reach : size of texture in pixels. strength : .0002 (slight) to .001 (broad planes).
    """
    u = np.ascontiguousarray(lab * _CHANNELS, dtype=f32)
    across, down = np.empty(u.shape[:2], f32), np.empty(u.shape[:2], f32)
    for k in range(rounds):
        _edge_weights(u, quick_blur(u, max(reach * 0.72**k, 0.6)), across, down)
        # Two passes over rows and columns, the second with a quarter of the weight.
        for share in (0.4, 0.1):
            _solve_rows(u, across, f32(strength * share))
            _solve_columns(u, down, f32(strength * share))
    return (u / _CHANNELS).astype(f32)


def smooth_within(lab: Float, across: Float, down: Float, strength: float) -> Float:
    """Smooth a picture (h, w, 3) as far as neighbours are tied (h, w each, 0..1); `strength` in square pixels."""
    out = np.ascontiguousarray(lab, dtype=f32).copy()
    for share in (0.762, 0.190, 0.048):
        _solve_rows(out, across, f32(1.5 * strength * share))
        _solve_columns(out, down, f32(1.5 * strength * share))
    return out


@kernel
def _between(plane, x, y):  # type: ignore[no-untyped-def]
    """Value between pixels, that of the rim outside."""
    rows, columns = plane.shape
    x = min(max(x, f32(0)), f32(columns - 1.001))
    y = min(max(y, f32(0)), f32(rows - 1.001))
    return bilinear(plane, x, y)


@kernel
def _steepest(across, down, weights, gx, gy, most):  # type: ignore[no-untyped-def]
    """Of gradients of three channels (h, w, 3), weighed, that of the steepest at each pixel."""
    rows, columns, _ = across.shape
    for y in range(rows):
        for x in range(columns):
            a, b = across[y, x, 0] * weights[0], down[y, x, 0] * weights[0]
            steepest = a * a + b * b
            for k in range(1, 3):
                c, d = across[y, x, k] * weights[k], down[y, x, k] * weights[k]
                squared = c * c + d * d
                more = squared > steepest
                a, b, steepest = c if more else a, d if more else b, squared if more else steepest
            gx[y, x], gy[y, x], most[y, x] = a, b, math.sqrt(steepest)


@kernel
def _take_calmer(image, gx, gy, most, reach, least, out):  # type: ignore[no-untyped-def]
    """Each pixel on an edge takes the colour `reach` pixels along the gradient, on the side that is calmer."""
    rows, columns, _ = image.shape
    for y in range(rows):
        for x in range(columns):
            steep = most[y, x]
            way = f32(0)
            nx = ny = f32(0)
            if steep > least:
                nx, ny = gx[y, x] / (steep + f32(1e-6)) * reach, gy[y, x] / (steep + f32(1e-6)) * reach
                ahead = _between(most, f32(x) + nx, f32(y) + ny)
                behind = _between(most, f32(x) - nx, f32(y) - ny)
                if ahead < steep and ahead <= behind:
                    way = f32(1)
                elif behind < steep:
                    way = f32(-1)
            if way == 0:
                for k in range(3):
                    out[y, x, k] = image[y, x, k]
                continue
            px = min(max(f32(x) + nx * way, f32(0)), f32(columns - 1.001))
            py = min(max(f32(y) + ny * way, f32(0)), f32(rows - 1.001))
            i, j = int(px), int(py)
            a, b = px - i, py - j
            for k in range(3):
                top = image[j, i, k] * (f32(1) - a) + image[j, i + 1, k] * a
                bottom = image[j + 1, i, k] * (f32(1) - a) + image[j + 1, i + 1, k] * a
                out[y, x, k] = top * (f32(1) - b) + bottom * b


def _slope(image: Float, across: int, down: int) -> Float:
    return cv2.Sobel(image, cv2.CV_32F, across, down, borderType=cv2.BORDER_REPLICATE)


def steepest(image: Float) -> tuple[Float, Float, Float]:
    """Gradient across and down of the channel that is steepest at each pixel of a picture (h, w, 3), and its size."""
    gx, gy, most = (np.empty(image.shape[:2], f32) for _ in range(3))
    _steepest(_slope(image, 1, 0), _slope(image, 0, 1), _CHANNELS / f32(8), gx, gy, most)
    return gx, gy, most


def crisp(lab: Float, reach: float, rounds: int = 2) -> Float:
    """Pixels on a soft edge take the colour of the calmer side, up to `reach` pixels along the gradient.

    About 4 ms a round at 512 px.
    """
    out = np.ascontiguousarray(lab, dtype=f32)
    for _ in range(rounds):
        following = np.empty_like(out)
        _take_calmer(out, *steepest(quick_blur(out, 0.6)), f32(reach), f32(0.008), following)
        out = following
    return out


def tone_steps(light: Float, count: int, reach: float, rounds: int = 7) -> Int:
    """Label map of `count` tones with smooth outlines: blurred indicators minus tone cost, rounds of argmax."""
    centres = (np.arange(count) + 0.5) / count
    cost = (np.clip(light, 0, 1)[None] - centres[:, None, None].astype(f32)) ** 2
    labels = cost.argmin(0)
    cost = np.minimum(cost / f32(0.02), 3) * f32(0.5)
    for i in range(rounds):
        sigma = reach * (1.25 if i < rounds // 2 else 1.0)
        scores = np.stack([share_around(labels == k, sigma) - cost[k] for k in range(count)])
        following = scores.argmax(0)
        settled = float((following != labels).mean()) < 2e-4
        labels = following
        if settled:
            break
    return labels.astype(np.int32)


def without_islands(labels: Int, count: int, area: float) -> Int:
    """Connected parts smaller than `area` pixels take the label around them."""
    for _ in range(3):
        small = np.zeros(labels.shape, np.uint8)
        for k in range(count):
            parts, ids, stats, _ = cv2.connectedComponentsWithStats((labels == k).astype(np.uint8), connectivity=4)
            tiny = stats[:, cv2.CC_STAT_AREA] < area
            tiny[0] = False
            if parts > 1 and tiny.any():
                small |= tiny[ids].astype(np.uint8)
        if not small.any() or small.all():
            return labels
        labels = from_nearest(labels, small == 0)[0].astype(np.int32)
    return labels


def soft_labels(labels: Int, count: int, sigma: float, sharp: float = 9.0) -> Float:
    """Anti-aliased weight of each label, (count, h, w), summing to 1."""
    weights = np.stack([np.exp(f32(sharp) * share_around(labels == k, sigma)) for k in range(count)])
    present = np.array([bool((labels == k).any()) for k in range(count)])
    weights[~present] = 0
    return (weights / weights.sum(0)).astype(f32)
