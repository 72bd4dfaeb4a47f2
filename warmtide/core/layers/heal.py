"""A copied part laid elsewhere so that its tones run into those around it.

Sources
-------
1. P. Perez, M. Gangnet, A. Blake, "Poisson image editing", 2003 (the membrane between two borders).
"""

import cv2
import numpy as np

from ..maths.arrays import Byte, f32
from ..maths.membrane import membrane

# Light is kept as it adds up: a difference of tones in shade and in sun is not one of numbers.
_GAMMA = 2.2


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
