"""Depth of flat art, which has none."""

import cv2
import numpy as np

from ...maths.arrays import Float, f32


def inflated_depth(labels: "np.ndarray[tuple[int, int], np.dtype[np.int32]]", ground: "np.ndarray") -> Float:  # type: ignore[type-arg]
    """Depth (h, w) 0..1 of flat art, as if its parts were blown up: the subject first, each part on it.

    Parameters
    ----------
    labels : (h, w) colour part of every pixel. ground : (h, w) bool, pixels of the ground, which stay at 0.
    """
    subject = _dome(~ground)
    parts = np.zeros_like(subject)
    for k in np.unique(labels[~ground]):
        parts = np.maximum(parts, _dome((labels == k) & ~ground))
    depth: Float = (f32(0.6) * subject + f32(0.4) * parts).astype(f32)
    return depth


def _dome(mask: "np.ndarray") -> Float:  # type: ignore[type-arg]
    """A rounded height over a mask: 0 at its rim, 1 at its innermost point, steep at the rim."""
    inside = np.pad(mask.astype(np.uint8), 1)
    distance = cv2.distanceTransform(inside, cv2.DIST_L2, 5)[1:-1, 1:-1]
    most = float(distance.max())
    if most <= 0:
        return np.zeros(mask.shape, f32)
    level = distance / most
    height: Float = np.sqrt(level * (2 - level)).astype(f32)
    return height
