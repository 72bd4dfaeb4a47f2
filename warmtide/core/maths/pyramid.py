"""Laplacian pyramids in the layout of the sampler: a list of C-contiguous float32 bands (3, h_b, w_b).

Planes come first: a trailing axis of three was the main cost of the loop.

Sources
-------
1. P. Burt, E. Adelson, "The Laplacian pyramid as a compact image code", 1983.
"""

import math

import cv2
import numpy as np

from .arrays import Bands, Float, f32


def levels_for(height: int, width: int) -> int:
    """Number of detail bands, so that the coarsest residue is four to eight pixels on the short side."""
    return max(3, int(math.log2(min(height, width))) - 2)


def planes(image: Float) -> Float:
    """(h, w, 3) to (3, h, w)."""
    return np.ascontiguousarray(np.moveaxis(image, 2, 0))


def image_of(stack: Float) -> Float:
    """(3, h, w) to (h, w, 3)."""
    merged: Float = cv2.merge(list(stack))
    return merged


def band_shapes(height: int, width: int, levels: int) -> list[tuple[int, int]]:
    """Sizes of the bands, finest first; `levels` detail bands and the residue."""
    shapes = [(height, width)]
    for _ in range(levels):
        height, width = (height + 1) // 2, (width + 1) // 2
        shapes.append((height, width))
    return shapes


def build(stack: Float, levels: int) -> Bands:
    """Bands of a planar image (c, h, w): `levels` detail bands, finest first, then the residue."""
    bands: Bands = []
    current = stack
    for _ in range(levels):
        count, height, width = current.shape
        down = np.empty((count, (height + 1) // 2, (width + 1) // 2), f32)
        detail = np.empty_like(current)
        for k in range(count):
            cv2.pyrDown(current[k], dst=down[k], borderType=cv2.BORDER_REFLECT)
            cv2.pyrUp(down[k], dst=detail[k], dstsize=(width, height))
            np.subtract(current[k], detail[k], out=detail[k])
        bands.append(detail)
        current = down
    bands.append(current)
    return bands


def collapse(bands: Bands, first: int = 0) -> Float:
    """Planar image from bands; `first` > 0 stops at that band's size."""
    current = bands[-1]
    for band in bands[-2::-1] if first == 0 else bands[-2 : first - 1 : -1]:
        out = np.empty_like(band)
        for k in range(band.shape[0]):
            cv2.pyrUp(current[k], dst=out[k], dstsize=(band.shape[2], band.shape[1]))
            np.add(out[k], band[k], out=out[k])
        current = out
    return current
