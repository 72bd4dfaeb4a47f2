"""Drafts: the same take without its finest octaves, small and quick, and still the same seed's picture.

A draft is rendered from the source's own pyramid at a level where its long side is at most 256 px, a glimpse (for
a hand that moves a control) 128 px. Noise,
bends, priors and trust are tied to octaves of the picture, so the draft is the full take with its finest bands
left out, not another seed.
"""

import cv2
import numpy as np

from ..maths.arrays import Byte
from ..maths.pyramid import levels_for
from ..model.sampling import SIDES

_LEAST_SHORT = 48


def octaves_left_out(height: int, width: int, quality: str) -> int:
    """How many of the finest octaves a draft of a take (height, width) leaves out."""
    count, side = 0, SIDES.get(quality)
    while side and max(height, width) > side and min(height, width) >= 2 * _LEAST_SHORT:
        height, width = (height + 1) // 2, (width + 1) // 2
        count += 1
    return count


def drafted_shape(height: int, width: int, quality: str) -> tuple[int, int]:
    """Size of the draft of a take (height, width)."""
    for _ in range(octaves_left_out(height, width, quality)):
        height, width = (height + 1) // 2, (width + 1) // 2
    return height, width


def drafted(source: Byte, quality: str) -> tuple[Byte, int]:
    """The source of a draft, and the number of pyramid levels that keeps its octaves those of the full take.

    Parameters
    ----------
    source : (h, w, 3) uint8, framed at the size of the full take. quality : full, draft or glimpse.
    """
    height, width = source.shape[:2]
    count = octaves_left_out(height, width, quality)
    if not count:
        return source, levels_for(height, width)
    rows, columns = drafted_shape(height, width, quality)
    small = cv2.resize(source, (columns, rows), interpolation=cv2.INTER_AREA)
    return np.ascontiguousarray(small), max(levels_for(height, width) - count, 2)
