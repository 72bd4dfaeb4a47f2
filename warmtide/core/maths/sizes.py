"""Pictures at other sizes."""

import cv2

from .arrays import Byte

_LEAST = 8


def smaller(rgb: Byte, side: int) -> Byte:
    """A picture (h, w, 3) with a long side of at most `side` px, its short one at least 8 where it is that large; itself where it is
    small enough."""
    height, width = rgb.shape[:2]
    scale = side / max(height, width)
    if scale >= 1:
        return rgb
    size = (max(round(width * scale), min(_LEAST, width)), max(round(height * scale), min(_LEAST, height)))
    return cv2.resize(rgb, size, interpolation=cv2.INTER_AREA)
