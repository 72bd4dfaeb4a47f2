"""Gaussian blurs."""

import math

import cv2
import numpy as np

from .arrays import AnyArray, Float, f32

# Above this short side blurs from 3 px on go through a smaller picture; below, that saves nothing.
_LARGE = 600


def blur(field: AnyArray, sigma: float) -> Float:
    """Gaussian blur that leaves fields below a fifth of a pixel alone."""
    if sigma <= 0.2:
        return np.ascontiguousarray(field, dtype=f32)
    return cv2.GaussianBlur(np.ascontiguousarray(field, dtype=f32), (0, 0), sigma, borderType=cv2.BORDER_REFLECT)


def quick_blur(x: Float, sigma: float) -> Float:
    """Gaussian blur of (h, w) or (h, w, c); large ones through a smaller picture."""
    if sigma <= 0.2:
        return x
    short = min(x.shape[:2])
    if sigma < (5 if short < _LARGE else 3) or short < 64:
        plain: Float = cv2.GaussianBlur(x, (0, 0), sigma, borderType=cv2.BORDER_REFLECT)
        return plain
    factor = 2 if sigma < 9 else 4 if sigma < 20 else 8
    height, width = x.shape[:2]
    rows, columns = -(-height // factor), -(-width // factor)
    sides = (0, rows * factor - height, 0, columns * factor - width)
    padded = cv2.copyMakeBorder(x, *sides, cv2.BORDER_REFLECT) if any(sides) else x
    small = cv2.resize(padded, (columns, rows), interpolation=cv2.INTER_AREA)
    rest = max((sigma / factor) ** 2 - 0.25, 0.25)
    small = cv2.GaussianBlur(small, (0, 0), math.sqrt(rest), borderType=cv2.BORDER_REFLECT)
    full = cv2.resize(small, (columns * factor, rows * factor), interpolation=cv2.INTER_LINEAR)
    return np.ascontiguousarray(full[:height, :width])
