"""Outlines between grid points: where they run, and exact distances to them.

Sources
-------
1. S. Gustavson, R. Strand, "Anti-aliased Euclidean distance transform", 2011.
2. P. Felzenszwalb, D. Huttenlocher, "Distance transforms of sampled functions", 2012 (what `cv2` computes).
"""

import cv2
import numpy as np

from .arrays import Float, Int, Mask, f32
from .nearest import from_nearest


def borders(parts: Int) -> Mask:
    """Points that lie beside a point of another part."""
    found = np.zeros(parts.shape, bool)
    across, down = parts[:, 1:] != parts[:, :-1], parts[1:] != parts[:-1]
    found[:, 1:] |= across
    found[:, :-1] |= across
    found[1:] |= down
    found[:-1] |= down
    return found


def distance_in(mask: Mask) -> Float:
    """Distance of every point of a mask to what is not in it."""
    # Where nothing is outside the distance has no end.
    return np.minimum(cv2.distanceTransform(mask.astype(np.uint8), cv2.DIST_L2, 5), f32(1e4))


def exact_distance(border: Mask, crossing: Float) -> Float:
    """Distance to outlines whose place between grid points is known [1]."""
    if not border.any():
        return np.full(border.shape, 1e4, f32)
    beyond, steps = from_nearest(crossing.astype(f32), border)
    return np.asarray(steps + beyond, f32)


def followed(height: Float, exact: Float, steps: Float) -> Float:
    """A blown-up height that follows the exact outline and not the steps of the grid."""
    ratio = np.sqrt(np.clip(exact / np.maximum(steps, 0.5), 0.2, 2))
    return np.asarray(height * np.where(steps < 8, ratio, 1), f32)


def crossings(parts: Int, encoded: Float, colours: Float, cover: Float | None) -> Float:
    """How far from a border point's middle the outline runs.

    Between two neighbours of other colours it runs where the blend of the two is half of each.

    Parameters
    ----------
    parts : -1 on the ground. encoded : (h, w, 3) the picture. colours : (n + 1, 3) by part, the ground first.
    """
    axes = []
    for axis in (0, 1):
        nearest = np.full(parts.shape, 9, f32)
        for a, b in ((np.s_[:-1], np.s_[1:]), (np.s_[1:], np.s_[:-1])):
            here = (a, slice(None)) if axis == 0 else (slice(None), a)
            there = (b, slice(None)) if axis == 0 else (slice(None), b)
            rows, columns = np.nonzero(parts[here] != parts[there])
            own, other = parts[here][rows, columns], parts[there][rows, columns]
            low, high = colours[own + 1], colours[other + 1]
            toward = (high - low) / np.maximum(((high - low) ** 2).sum(-1), 1e-4)[:, None]
            p = ((encoded[here][rows, columns] - low) * toward).sum(-1)
            q = ((encoded[there][rows, columns] - low) * toward).sum(-1)
            if cover is not None:
                edge = (own < 0) | (other < 0)
                sign = np.where(own < 0, 1, -1)
                p = np.where(edge, 0.5 + sign * (cover[here][rows, columns] - 0.5), p)
                q = np.where(edge, 0.5 + sign * (cover[there][rows, columns] - 0.5), q)
            share = np.where(np.abs(q - p) > 0.02, (0.5 - p) / np.where(np.abs(q - p) > 0.02, q - p, 1), 0.5)
            view = nearest[here]
            view[rows, columns] = np.minimum(view[rows, columns], np.clip(share, 0, 1))
        axes.append(nearest)
    down, across = axes
    both = down * across / np.maximum(np.hypot(down, across), 1e-3)
    found = np.where((down < 9) & (across < 9), both, np.minimum(down, across))
    return np.clip(found, 0, 1).astype(f32)
