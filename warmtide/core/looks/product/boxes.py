"""Boxes among products: which parts are their flat faces, and how each of them faces.

Two upright faces that meet at a corner stand square to each other, so the slopes of their lower (or upper) edges tell how
both are turned; what lies on them is level.

Sources
-------
1. A. Criminisi, I. Reid, A. Zisserman, "Single view metrology", 2000 (planes from two directions).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Float, Int, Mask, f32
from ...understanding.building.frames import filled

# Least share of the picture, and how much of its quad a face fills.
_LEAST, _FILLED = 0.002, 0.88
# What is thinner than this share of a part's greatest thickness hangs on it as a thread.
_THREAD = 0.7
# An upright side leans by less than this in each pixel of its height; corners of two faces so near, in shares of their height, meet.
_LEAN, _MEETS, _OVERLAP = 0.12, 0.06, 0.6
# Slopes whose product is smaller say nothing of the turn; then both faces are turned alike.
_TELLS = 0.004
# Least share of the picture of a face without a neighbour, how much lightness may change across it, and tangent of the
# angle below the eye at which the foot of a product is usually seen.
_ALONE, _EVEN, _USUAL = 0.015, 0.02, 0.22
# A level top is seen foreshortened: height over width.
_LEVEL = 0.5
# How much of a cushion is left on a flat face, so that its edges catch the light.
_SOFT = 0.05


@dataclass(frozen=True)
class _Face:
    """An upright face: left and right columns, rows of its four corners, px."""

    left: float
    right: float
    tops: tuple[float, float]
    feet: tuple[float, float]

    @property
    def height(self) -> float:
        return (self.feet[0] + self.feet[1] - self.tops[0] - self.tops[1]) / 2

    def slope(self, ends: tuple[float, float]) -> float:
        return (ends[1] - ends[0]) / max(self.right - self.left, 1.0)


def _quad(mask: Mask) -> AnyArray | None:
    """Corners (4, 2) of a part that is a quad, upper left first, clockwise; holes and threads don't matter."""
    whole = filled(mask)
    thick = float(cv2.distanceTransform(np.pad(whole, 1), cv2.DIST_L2, 3).max())
    size = max(round(_THREAD * thick), 1)
    opened = cv2.morphologyEx(whole, cv2.MORPH_OPEN, np.ones((size, size), np.uint8))
    lines, _ = cv2.findContours(opened, cv2.RETR_EXTERNAL, cv2.CHAIN_APPROX_NONE)
    if not lines:
        return None
    line = max(lines, key=cv2.contourArea)
    area = cv2.contourArea(line)
    if area < _LEAST * mask.size:
        return None
    hull = cv2.convexHull(line)
    for share in (0.02, 0.03, 0.04, 0.055, 0.07, 0.09):
        corners = cv2.approxPolyDP(hull, share * cv2.arcLength(hull, True), True)[:, 0].astype(float)
        if len(corners) <= 4:
            break
    if len(corners) != 4 or area < _FILLED * max(cv2.contourArea(hull), cv2.contourArea(corners.astype(f32))):
        return None
    left = corners[np.argsort(corners[:, 0])]
    one, other = (side[np.argsort(side[:, 1])] for side in (left[:2], left[2:]))
    return np.array([one[0], other[0], other[1], one[1]])


def _upright(quad: AnyArray) -> _Face | None:
    """A quad as an upright face, or None."""
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = quad
    if abs(ax - dx) > _LEAN * abs(dy - ay) or abs(bx - cx) > _LEAN * abs(cy - by) or min(dy - ay, cy - by) < 4:
        return None
    return _Face((ax + dx) / 2, (bx + cx) / 2, (ay, by), (dy, cy))


def _meet(one: _Face, other: _Face) -> bool:
    """Whether the right side of one is the left side of another."""
    height = min(one.height, other.height)
    shared = min(one.feet[1], other.feet[0]) - max(one.tops[1], other.tops[0])
    return abs(one.right - other.left) < _MEETS * height + 3 and shared > _OVERLAP * max(one.height, other.height)


def _turns(one: _Face, other: _Face) -> tuple[float, float]:
    """How far two faces are turned to the right, radians, from the slopes of the edges that tell most."""
    pairs = [(one.slope(one.feet), other.slope(other.feet)), (one.slope(one.tops), other.slope(other.tops))]
    left, right = min(pairs, key=lambda pair: pair[0] * pair[1])
    if left * right > -_TELLS:
        return -math.pi / 4, math.pi / 4
    # Seen level, an edge below the eye by T slopes by -T tan(turn); both are square, so T squared is the product.
    below = math.copysign(math.sqrt(-left * right), left)
    turn = math.atan(-left / below)
    return turn, turn + math.pi / 2


def _flat(light: Float, mask: Mask) -> bool:
    """Whether lightness stays the same across a part: a body of revolution turns into shade."""
    inner = cv2.erode(mask.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    columns = np.flatnonzero(np.count_nonzero(inner, axis=0) > 5)
    if mask.mean() < _ALONE or len(columns) < 8:
        return False
    across = [float(np.median(light[inner[:, x], x])) for x in columns]
    return float(np.ptp(np.percentile(across, (5, 95)))) < _EVEN


def box_normals(parts: Int, light: Float, count: int) -> dict[int, Float]:
    """Normals (3,) of the parts that are flat faces of boxes, by part; x right, y down, z toward the eye. About 20 ms.

    Parameters
    ----------
    parts : (h, w) number of the part, negative elsewhere. light : (h, w) lightness 0..1. count : how many parts there are.
    """
    quads = {k: quad for k in range(count) if (quad := _quad(parts == k)) is not None}
    faces = {k: face for k, quad in quads.items() if (face := _upright(quad)) is not None}
    found: dict[int, Float] = {}
    for k, one in faces.items():
        for m, other in faces.items():
            if k != m and _meet(one, other):
                for part, turn in zip((k, m), _turns(one, other), strict=True):
                    found[part] = np.array([math.sin(turn), 0, math.cos(turn)], f32)
    for k in set(faces) - set(found):
        if _flat(light, parts == k):
            # Without its neighbour a face tells its turn only for eyes as high above it as is usual.
            turn = math.atan(-faces[k].slope(faces[k].feet) / _USUAL)
            found[k] = np.array([math.sin(turn), 0, math.cos(turn)], f32)
    upright = list(found)
    for k in set(range(count)) - set(faces):
        ys, xs = np.nonzero(parts == k)
        if not len(ys) or np.ptp(ys) > _LEVEL * np.ptp(xs):
            continue
        # What lies on top of upright faces is level.
        under = parts[np.minimum(ys + 5, len(parts) - 1), xs]
        on = under[under != k]
        faced = [m for m in upright if (on == m).any() and ys.mean() < min(faces[m].tops) + 2]
        if len(on) and np.isin(on, faced).mean() > 0.5:
            found[k] = np.array([0, -1, 0.0], f32)
    return found


def flattened(normal: Float, mask: Mask, face: Float) -> None:
    """Make the normals (h, w, 3) of a part those of a flat face, but for its soft edges."""
    normal[mask] = (1 - _SOFT) * face + f32(_SOFT) * normal[mask]
    normal[mask] /= np.linalg.norm(normal[mask], axis=1, keepdims=True)
