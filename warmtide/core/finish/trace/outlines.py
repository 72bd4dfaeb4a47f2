"""Ink as the outlines of what is drawn, holes and all."""

from collections import defaultdict

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float
from .between_lines import areas_between
from .curves import Curve, smooth_curve
from .drawing import Drawing, Group, Shape
from .ink import EDGE, FINER, ink_of

# How far a curve may run from where the ink is half, in fine points; rings shorter than this are none.
_WITHIN, _SHORTEST, _CALM = 0.3, 6, 1


def _inside(ring: AnyArray, ids: AnyArray) -> int:
    """The patch that a ring (n, 2) of rows and columns runs around, or is a hole of."""
    rows, columns = ring[:, 0], ring[:, 1]
    found = np.zeros(len(ring), ids.dtype)
    for r in (np.floor(rows), np.ceil(rows)):
        for c in (np.floor(columns), np.ceil(columns)):
            found = np.maximum(found, ids[r.astype(int), c.astype(int)])
    return int(np.bincount(found).argmax())


def outlined(share: Float, scale: float) -> tuple[Shape, ...]:
    """Every connected patch in which a field (h, w) is more than a half as a shape, `scale` picture pixels a point."""
    from skimage.measure import find_contours

    # A rim without ink, so that what runs out of the picture is closed.
    field = np.pad(share, 1, constant_values=0)
    _, ids = cv2.connectedComponents((field > EDGE).astype(np.uint8), connectivity=8)
    rings: dict[int, list[tuple[Curve, ...]]] = defaultdict(list)
    for ring in find_contours(field, EDGE):
        if len(ring) < _SHORTEST:
            continue
        points = np.clip(ring[:-1, ::-1] - 0.5, 0, (share.shape[1], share.shape[0]))
        curve = smooth_curve(points, True, _WITHIN, _CALM)
        rings[_inside(ring, ids)].append((Curve(curve.pieces * scale, curve.straight),))
    return tuple(Shape(tuple(found)) for found in rings.values())


def traced_outlines(rgb: Byte, title: str = "") -> Drawing:
    """A drawing's ink as filled outlines; `rgb` (h, w, 3) uint8 sRGB. About .6 s at 1024 px."""
    ink = ink_of(rgb)
    height, width = rgb.shape[:2]
    shapes = outlined(ink.share, 1 / FINER)
    groups = (areas_between(ink), Group("ink", ink.colour, shapes)) if shapes else ()
    return Drawing(width, height, groups, title)
