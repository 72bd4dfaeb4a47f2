"""Colour kept: how near the colours of a take lie to the source's, place by place, in OKLab.

Sources
-------
1. B. Ottosson, 2020 (OKLab): Euclidean distance follows seen difference.
"""

import cv2
import numpy as np

from ..arrays import Byte
from ..colour import bytes_to_lab

_GRID = 32
# A mean difference at which two pictures share no colours any more.
_UNRELATED = 0.25


def colour_kept(source: Byte, take: Byte) -> tuple[float, float]:
    """Figure 0..100, and the mean OKLab difference it comes from, on a coarse grid.

    Parameters
    ----------
    source, take : (h, w, 3) uint8 of the same size.
    """
    means = []
    for picture in (source, take):
        height, width = picture.shape[:2]
        scale = _GRID / max(height, width)
        size = (max(4, round(width * scale)), max(4, round(height * scale)))
        means.append(bytes_to_lab(cv2.resize(picture, size, interpolation=cv2.INTER_AREA)))
    difference = float(np.sqrt(((means[0] - means[1]) ** 2).sum(-1)).mean())
    return round(100 * max(0.0, 1 - difference / _UNRELATED), 1), round(difference, 4)
