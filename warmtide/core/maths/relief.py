"""Heights: what is blown up, how steep it is, what lies in its own shade.

Sources
-------
1. M. Young, "Iterative methods for solving partial difference equations", 1954 (successive over-relaxation).
2. J. Blinn, "Simulation of wrinkled surfaces", 1978 (normals of a height field).
"""

import cv2
import numpy as np

from .arrays import Float, Mask, f32
from .blur import blur
from .jit import kernel

_COARSEST = 48


@kernel
def _relax(u, inside, rounds, weight):  # type: ignore[no-untyped-def]
    """Rounds of relaxation of lap u = -1 with u = 0 outside, red and black points in turn."""
    h, w = u.shape
    for _ in range(rounds):
        for parity in range(2):
            for y in range(1, h - 1):
                for x in range(1 + (y + parity) % 2, w - 1, 2):
                    if inside[y, x]:
                        mean = f32(0.25) * (u[y - 1, x] + u[y + 1, x] + u[y, x - 1] + u[y, x + 1] + f32(1))
                        u[y, x] += weight * (mean - u[y, x])


def swollen(mask: Mask) -> Float:
    """Height of a mask (h, w) blown up: 2 sqrt(u) with lap u = -1, so that a disc becomes half a ball. .1 s at 1 MP."""
    sizes = [mask.astype(f32)]
    while min(sizes[-1].shape) > _COARSEST:
        h, w = sizes[-1].shape
        sizes.append(cv2.resize(sizes[-1], ((w + 1) // 2, (h + 1) // 2), interpolation=cv2.INTER_AREA))
    u = np.zeros(sizes[-1].shape, f32)
    for share in sizes[::-1]:
        h, w = share.shape
        if share is not sizes[-1]:
            u = np.asarray(cv2.resize(u, (w, h), interpolation=cv2.INTER_LINEAR) * f32(4), f32)
        inside = share > 0.5
        u = np.where(inside, u, f32(0)).astype(f32)
        small = h < 300
        _relax(u, inside, 60 if small else 24, f32(1.8 if small else 1.5))
    return (f32(2) * np.sqrt(np.maximum(u, 0))).astype(f32)


def rounded(distance: Float, width: float) -> Float:
    """A quarter round of height 1 over the first `width` of a distance."""
    t = f32(1) - np.clip(distance / f32(width), 0, 1)
    return np.sqrt(np.clip(1 - t * t, 0, 1)).astype(f32)


def normals(height: Float) -> tuple[Float, Float, Float]:
    """Unit normals (x right, y down, z toward the eye) of a height field (h, w), heights in its own points."""
    dx = cv2.Sobel(height, cv2.CV_32F, 1, 0, scale=0.125)
    dy = cv2.Sobel(height, cv2.CV_32F, 0, 1, scale=0.125)
    length = 1 / np.sqrt(dx * dx + dy * dy + 1)
    return (-dx * length).astype(f32), (-dy * length).astype(f32), length.astype(f32)


def broad(field: Float, sigma: float) -> Float:
    """A wide blur, made on a small copy."""
    if sigma < 6:
        return blur(field, sigma)
    by = sigma / 3
    h, w = field.shape[:2]
    small = max(int(w / by), 4), max(int(h / by), 4)
    soft = blur(cv2.resize(field, small, interpolation=cv2.INTER_AREA), 3)
    return np.asarray(cv2.resize(soft, (w, h), interpolation=cv2.INTER_CUBIC), f32)


def openness(height: Float, unit: float, amount: float = 1.0, scales: tuple[float, ...] = (3, 8, 20, 48)) -> Float:
    """How much of the sky a point sees, 0..1: less where what is around it lies higher."""
    seen = np.ones_like(height)
    for scale in scales:
        above = np.clip(broad(height, scale * unit) - height, 0, None) / f32(scale * unit)
        seen *= 1 - np.clip(f32(0.55 * amount) * above, 0, 0.6)
    return seen


def curvature(height: Float, unit: float) -> Float:
    """Positive on ridges, negative in grooves, about -3..3."""
    return np.clip((blur(height, 1.2 * unit) - blur(height, 5 * unit)) / f32(unit), -3, 3).astype(f32)
