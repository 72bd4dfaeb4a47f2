"""Texture flattening and smooth label maps.

Sources
-------
1. L. Xu et al., "Structure extraction from texture via relative total variation", 2012.
2. D. Min et al., "Fast global image smoothing based on weighted least squares", 2014 (separable solver).
3. B. Merriman, J. Bence, S. Osher, "Diffusion generated motion by mean curvature", 1992 (threshold dynamics).
"""

import cv2
import numpy as np

from ...arrays import Float, Int, f32
from ...jit import kernel
from .filters import blur

_CHANNELS = np.array([1, 1.8, 1.8], f32)


@kernel
def _solve_rows(values, weights, strength):  # type: ignore[no-untyped-def]
    """Rows of (I + strength * L) u = values, tridiagonal, in place."""
    rows, columns, channels = values.shape
    carry = np.empty(columns, np.float32)
    for i in range(rows):
        right = strength * weights[i, 0]
        pivot = f32(1) + right
        carry[0] = -right / pivot
        for k in range(channels):
            values[i, 0, k] /= pivot
        for j in range(1, columns):
            left = strength * weights[i, j - 1]
            right = strength * weights[i, j] if j < columns - 1 else f32(0)
            scale = f32(1) / (f32(1) + left + right + left * carry[j - 1])
            carry[j] = -right * scale
            for k in range(channels):
                values[i, j, k] = (values[i, j, k] + left * values[i, j - 1, k]) * scale
        for j in range(columns - 2, -1, -1):
            for k in range(channels):
                values[i, j, k] -= carry[j] * values[i, j + 1, k]


@kernel
def _solve_columns(values, weights, strength):  # type: ignore[no-untyped-def]
    """The same down the columns, a row at a time so that memory is read in order."""
    rows, columns, channels = values.shape
    carry = np.empty((rows, columns), np.float32)
    for i in range(columns):
        below = strength * weights[0, i]
        pivot = f32(1) + below
        carry[0, i] = -below / pivot
        for k in range(channels):
            values[0, i, k] /= pivot
    for j in range(1, rows):
        for i in range(columns):
            above = strength * weights[j - 1, i]
            below = strength * weights[j, i] if j < rows - 1 else f32(0)
            scale = f32(1) / (f32(1) + above + below + above * carry[j - 1, i])
            carry[j, i] = -below * scale
            for k in range(channels):
                values[j, i, k] = (values[j, i, k] + above * values[j - 1, i, k]) * scale
    for j in range(rows - 2, -1, -1):
        for i in range(columns):
            for k in range(channels):
                values[j, i, k] -= carry[j, i] * values[j + 1, i, k]


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
        _edge_weights(u, blur(u, max(reach * 0.72**k, 0.6)), across, down)
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


def crisp(lab: Float, reach: float, rounds: int = 2) -> Float:
    """Pixels on a soft edge take the colour of the calmer side, up to `reach` pixels along the gradient."""
    height, width = lab.shape[:2]
    xs, ys = np.meshgrid(np.arange(width, dtype=f32), np.arange(height, dtype=f32))
    out = lab
    for _ in range(rounds):
        smooth = blur(out, 0.6)
        gx, gy, most = (np.zeros((height, width), f32) for _ in range(3))
        for k in range(3):
            plane = np.ascontiguousarray(smooth[..., k] * _CHANNELS[k])
            a = cv2.Sobel(plane, cv2.CV_32F, 1, 0) / 8
            b = cv2.Sobel(plane, cv2.CV_32F, 0, 1) / 8
            steep = np.hypot(a, b)
            stronger = steep > most
            gx, gy, most = np.where(stronger, a, gx), np.where(stronger, b, gy), np.maximum(most, steep)
        nx, ny = gx / (most + f32(1e-6)) * f32(reach), gy / (most + f32(1e-6)) * f32(reach)
        ahead = cv2.remap(most, xs + nx, ys + ny, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        behind = cv2.remap(most, xs - nx, ys - ny, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
        way = np.where((ahead < most) & (ahead <= behind), 1, np.where(behind < most, -1, 0)) * (most > 0.008)
        way = way.astype(f32)
        out = cv2.remap(out, xs + nx * way, ys + ny * way, cv2.INTER_LINEAR, borderMode=cv2.BORDER_REFLECT)
    return np.ascontiguousarray(out, dtype=f32)


def tone_steps(light: Float, count: int, reach: float, rounds: int = 7) -> Int:
    """Label map of `count` tones with smooth outlines: blurred indicators minus tone cost, rounds of argmax."""
    centres = (np.arange(count) + 0.5) / count
    cost = (np.clip(light, 0, 1)[None] - centres[:, None, None].astype(f32)) ** 2
    labels = cost.argmin(0)
    cost = np.minimum(cost / f32(0.02), 3) * f32(0.5)
    for i in range(rounds):
        sigma = reach * (1.25 if i < rounds // 2 else 1.0)
        scores = np.stack([blur((labels == k).astype(f32), sigma) - cost[k] for k in range(count)])
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
        _, nearest = cv2.distanceTransformWithLabels(small, cv2.DIST_L2, 5, labelType=cv2.DIST_LABEL_PIXEL)
        values = np.zeros(int(nearest.max()) + 1, np.int32)
        kept = small == 0
        values[nearest[kept]] = labels[kept]
        labels = np.where(kept, labels, values[nearest]).astype(np.int32)
    return labels


def soft_labels(labels: Int, count: int, sigma: float, sharp: float = 9.0) -> Float:
    """Anti-aliased weight of each label, (count, h, w), summing to 1."""
    weights = np.stack([np.exp(f32(sharp) * blur((labels == k).astype(f32), sigma)) for k in range(count)])
    present = np.array([bool((labels == k).any()) for k in range(count)])
    weights[~present] = 0
    return (weights / weights.sum(0)).astype(f32)
