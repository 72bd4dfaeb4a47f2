"""Composition kept: how many of the source's edges a take still has, beyond chance.

An overlap of edges within a few pixels happens by chance too, and more often in a busy take; so the recall
is measured against the share of the picture that the take's edges cover. This first reading knows nothing
of moved or redrawn shapes and reads pure line art of soft pictures too low.

Sources
-------
1. D. Martin, C. Fowlkes, J. Malik, "Learning to detect natural image boundaries", 2004 (edge recall).
2. J. Cohen, "A coefficient of agreement for nominal scales", 1960 (agreement beyond chance).
"""

import cv2
import numpy as np

from ..arrays import Byte, Float, f32
from ..colour import bytes_to_lab

_SIDE = 256
# Blur, share of pixels taken as edges, tolerance in pixels, weight of the scale.
_SCALES = ((1.2, 0.10, 1, 0.30), (2.4, 0.12, 2, 0.38), (4.8, 0.14, 3, 0.32))
_NAMES = ("fine", "mid", "coarse")
_FLAT = 0.004


def reading_size(rgb: Byte) -> Byte:
    """The picture at the size all readings use: long side 256."""
    height, width = rgb.shape[:2]
    scale = _SIDE / max(height, width)
    size = (max(16, round(width * scale)), max(16, round(height * scale)))
    small: Byte = cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
    return small


def _strength_of_edges(lab: Float, sigma: float) -> Float:
    total = np.zeros(lab.shape[:2], f32)
    for channel, weight in ((0, 1.0), (1, 2.0), (2, 2.0)):
        plane = cv2.GaussianBlur(np.ascontiguousarray(lab[..., channel]), (0, 0), sigma)
        gx = cv2.Sobel(plane, cv2.CV_32F, 1, 0) / 8
        gy = cv2.Sobel(plane, cv2.CV_32F, 0, 1) / 8
        total += f32(weight) * (gx * gx + gy * gy)
    magnitude: Float = np.sqrt(total)
    # Even out contrast, so that the edges of a pale region count among themselves.
    local = np.sqrt(cv2.GaussianBlur(total, (0, 0), 8 * sigma) + f32(0.25) * total.mean() + f32(1e-8))
    return np.where(magnitude > _FLAT / sigma, magnitude / (magnitude + 0.7 * local), 0).astype(f32)


def _strongest(edges: Float, share: float) -> "np.ndarray[tuple[int, ...], np.dtype[np.bool_]]":
    """The strongest `share` of the picture's pixels, at most, and none where nothing rises."""
    threshold = max(float(np.quantile(edges, 1 - share)), 1e-3)
    return edges > threshold


def composition_kept(source: Byte, take: Byte) -> tuple[float, dict[str, float]]:
    """Share 0..100 of the source's edges that the take keeps beyond chance, and its parts by scale.

    Parameters
    ----------
    source, take : (h, w, 3) uint8 of the same size.
    """
    first, second = bytes_to_lab(reading_size(source)), bytes_to_lab(reading_size(take))
    parts: dict[str, float] = {}
    whole = weight_sum = 0.0
    for name, (sigma, share, tolerance, weight) in zip(_NAMES, _SCALES, strict=True):
        edges = _strength_of_edges(first, sigma)
        wanted = _strongest(edges, share)
        if not wanted.any():
            continue
        found = _strongest(_strength_of_edges(second, sigma), share)
        disc = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * tolerance + 1, 2 * tolerance + 1))
        near = cv2.dilate(found.astype(np.uint8), disc) > 0
        recall = float(edges[wanted & near].sum() / edges[wanted].sum())
        chance = float(near.mean())
        kept = max(0.0, (recall - chance) / max(1 - chance, 1e-6))
        parts[name] = round(100 * kept, 1)
        whole += weight * kept
        weight_sum += weight
    if not weight_sum:
        return 100.0, {}
    return round(100 * whole / weight_sum, 1), parts
