"""Transparency made larger with its picture."""

import numpy as np

from ...maths.arrays import Byte
from .kind import Job
from .registry import enlarged, way_named


def with_alpha(large: Byte, alpha: Byte, way: str) -> Byte:
    """A picture made larger (h, w, 3) with the transparency (any size) of the one that it came from: (h, w, 4) uint8.

    A plain way takes alpha as it takes colours; those that look for detail take it along edges.
    """
    height, width = large.shape[:2]
    how = "edges" if way_named(way).again or way == "detail" else way
    planes = np.ascontiguousarray(np.repeat(alpha[..., None], 3, axis=2))
    return np.dstack([large, enlarged(Job(planes, height, width), how)[..., 0]])
