"""A copied part laid elsewhere so that its tones run into those around it.

Sources
-------
1. P. Perez, M. Gangnet, A. Blake, "Poisson image editing", 2003 (the membrane between two borders).
2. W. Briggs, V. Henson, S. McCormick, "A multigrid tutorial", 2000 (coarse to fine relaxation).
"""

import cv2
import numpy as np

from ..maths.arrays import Byte, Float, Mask, f32

_COARSEST, _ROUNDS = 8, 24
# Light is kept as it adds up: a difference of tones in shade and in sun is not one of numbers.
_GAMMA = 2.2


def membrane(values: Float, known: Mask) -> Float:
    """Values (h, w, c) where they are known, and between them the smoothest surface that meets them.

    Parameters
    ----------
    known : (h, w), true at least somewhere. 40 ms at 512 x 512.
    """
    out = values.copy()
    if bool(known.all()) or not bool(known.any()):
        return out
    height, width = known.shape
    if max(height, width) > _COARSEST:
        half = (max(width // 2, 1), max(height // 2, 1))
        share = cv2.resize(known.astype(f32), half, interpolation=cv2.INTER_AREA)
        sums = cv2.resize(values * known[..., None].astype(f32), half, interpolation=cv2.INTER_AREA)
        sums = sums.reshape(half[1], half[0], -1)
        there = share > 1e-3
        coarse = membrane(np.where(there[..., None], sums / np.maximum(share, 1e-3)[..., None], 0).astype(f32), there)
        fine = cv2.resize(coarse, (width, height), interpolation=cv2.INTER_LINEAR).reshape(height, width, -1)
    else:
        fine = np.broadcast_to(values[known].mean(0), values.shape).astype(f32)
    out = np.where(known[..., None], values, fine).astype(f32)
    kernel = np.array([[0, 1, 0], [1, 0, 1], [0, 1, 0]], f32) / 4
    for _ in range(_ROUNDS):
        calm = cv2.filter2D(out, -1, kernel, borderType=cv2.BORDER_REPLICATE).reshape(out.shape)
        out = np.where(known[..., None], values, calm)
    return out


def healed(below: Byte, laid: Byte, mask: Byte) -> Byte:
    """`laid` (h, w, 3) over `below` where the mask (h, w) says, in the tones of what is around it.

    The difference of both along the mask's rim is spread over its inside and taken away; where the mask is soft, both run
    into one another.
    """
    inside = mask > 0
    rim = (cv2.dilate(inside.astype(np.uint8), np.ones((3, 3), np.uint8)) > 0) & ~inside
    if not inside.any():
        return below.copy()
    under, over = ((plane.astype(f32) / 255) ** f32(_GAMMA) for plane in (below, laid))
    offset = membrane(np.where(rim[..., None], under - over, 0).astype(f32), rim) if rim.any() else np.zeros_like(under)
    share = (mask.astype(f32) / 255)[..., None]
    mixed = under * (1 - share) + (over + offset) * share
    out = np.clip(mixed, 0, 1) ** f32(1 / _GAMMA) * 255 + 0.5
    return np.where(inside[..., None], np.clip(out, 0, 255).astype(np.uint8), below)
