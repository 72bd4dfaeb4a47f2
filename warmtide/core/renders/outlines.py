"""Outlines of a render's areas, and which of their edges are upright or run one of the two level ways."""

import math

import cv2
import numpy as np

from ..arrays import AnyArray
from .perspective import Perspective

_TURN = math.radians(4.0)


def polygon(mask: AnyArray, unit: float) -> AnyArray:
    """Corners (n, 2) of a mask's outline."""
    lines, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not lines:
        return np.zeros((0, 2))
    line = max(lines, key=cv2.contourArea)
    return np.asarray(cv2.approxPolyDP(line, max(2.2 * unit, 1.6), True)[:, 0].astype(float))


def _off(a: AnyArray, b: AnyArray, x: float, y: float) -> float:
    """Angle between the line through two points and the direction from its middle to a third."""
    middle = (a + b) / 2
    own, toward = math.atan2(b[1] - a[1], b[0] - a[0]), math.atan2(y - middle[1], x - middle[0])
    return abs((own - toward + math.pi / 2) % math.pi - math.pi / 2)


def edge_runs(
    corners: AnyArray, view: Perspective, unit: float
) -> tuple[dict[str, float], list[tuple[float, AnyArray]]]:
    """Length of an outline that is upright, runs the first or second way, or neither; and what runs neither way."""
    total = {"up": 0.0, "first": 0.0, "second": 0.0, "other": 0.0}
    slopes = []
    for a, b in zip(corners, np.roll(corners, -1, 0), strict=True):
        long = float(np.hypot(*(b - a)))
        if long < 6 * unit:
            continue
        slack = _TURN + 1.2 / long
        lean = abs(abs(math.atan2(b[1] - a[1], b[0] - a[0])) - math.pi / 2)
        off = {
            "up": lean,
            "first": _off(a, b, view.first, view.horizon),
            "second": _off(a, b, view.second, view.horizon),
        }
        kind = min(off, key=lambda k: off[k])
        if off[kind] < slack:
            total[kind] += long
        else:
            total["other"] += long
            slopes.append((long, np.stack([a, b])))
    return total, sorted(slopes, key=lambda s: -s[0])


def ray_of(point: AnyArray, view: Perspective) -> AnyArray:
    return np.array([(point[0] - view.middle) / view.focal, -(point[1] - view.horizon) / view.focal, 1.0])
