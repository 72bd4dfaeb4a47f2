"""Outlines of a render's areas, and which of their edges are upright or run one of the two level ways."""

import math
from typing import TYPE_CHECKING

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Int

if TYPE_CHECKING:
    from .perspective import Perspective

_TURN = math.radians(4.0)


def polygon(mask: AnyArray, unit: float) -> AnyArray:
    """Corners (n, 2) of a mask's outline."""
    lines, _ = cv2.findContours(mask.astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not lines:
        return np.zeros((0, 2))
    line = max(lines, key=cv2.contourArea)
    return np.asarray(cv2.approxPolyDP(line, max(2.2 * unit, 1.6), True)[:, 0].astype(float))


def sides_of(ids: Int, numbers: AnyArray, unit: float, least: float) -> AnyArray:
    """Ends (n, 4) px of the straight sides of areas, at least so long, fitted to their outlines; none along the picture's edge."""
    found = []
    height, width = ids.shape
    for k in numbers:
        lines, _ = cv2.findContours((ids == k).astype(np.uint8), cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
        if not lines:
            continue
        line = max(lines, key=cv2.contourArea)
        corners = cv2.approxPolyDP(line, max(2.2 * unit, 1.6), True)[:, 0]
        points = line[:, 0]
        at = [int(np.flatnonzero((points == corner).all(1))[0]) for corner in corners]
        for start, end in zip(at, at[1:] + at[:1], strict=True):
            side = points[start : end + 1] if end >= start else np.concatenate([points[start:], points[: end + 1]])
            # Corners are round: the ends say less than what lies between.
            inner = side[2:-2].astype(float)
            off = (inner < 2) | (inner > (width - 3, height - 3))
            if len(inner) < 4 or off.any() or np.hypot(*(inner[-1] - inner[0])) < least:
                continue
            middle = inner.mean(0)
            way = np.linalg.svd(inner - middle, full_matrices=False)[2][0]
            reach = (inner - middle) @ way
            found.append(np.concatenate([middle + way * reach.min(), middle + way * reach.max()]) + 0.5)
    return np.array(found).reshape(-1, 4)


def _off(a: AnyArray, b: AnyArray, x: float, y: float) -> float:
    """Angle between the line through two points and the direction from its middle to a third."""
    middle = (a + b) / 2
    own, toward = math.atan2(b[1] - a[1], b[0] - a[0]), math.atan2(y - middle[1], x - middle[0])
    return abs((own - toward + math.pi / 2) % math.pi - math.pi / 2)


def edge_runs(
    corners: AnyArray, view: "Perspective", unit: float
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


def ray_of(point: AnyArray, view: "Perspective") -> AnyArray:
    return np.array([(point[0] - view.middle) / view.focal, -(point[1] - view.horizon) / view.focal, 1.0])
