"""468 points of a face in depth: a small network looks at an upright crop of it, twice.

Sources
-------
1. Y. Kartynnik et al., "Real-time facial surface geometry from monocular video on mobile GPUs", 2019 (the network and
   its points).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import AnyArray, Byte, Float, f32
from ..networks import look
from .detector import Window

_NETWORK = "face_landmark/face_landmark"
_INPUT, _POINTS = 192, 468
# Sides of the two crops, in widths of the window and of what the first look found.
_FIRST, _SECOND = 1.5, 1.45
# The second look is taken unless it is surely worse.
_WORSE = 0.1
_EYE_LEFT, _EYE_RIGHT = 33, 263


@dataclass(frozen=True)
class Mesh:
    """`points` (468, 3) in pixels of the picture, smaller z nearer; `sure` 0..1 that it is a face."""

    points: Float
    sure: float


def _looked(rgb: Byte, centre: AnyArray, side: float, turn: float) -> Mesh | None:
    cos, sin = np.cos(turn), np.sin(turn)
    matrix = np.array([[cos, -sin], [sin, cos]]) * side / _INPUT
    shift = centre - matrix @ (_INPUT / 2, _INPUT / 2)
    reach = int(side) + 2
    left, top = max(int(centre[0]) - reach, 0), max(int(centre[1]) - reach, 0)
    near = rgb[top : int(centre[1]) + reach, left : int(centre[0]) + reach]
    if min(near.shape[:2]) < 2:
        return None
    if side > 1.6 * _INPUT:
        near = cv2.GaussianBlur(near, (0, 0), 0.4 * side / _INPUT)
    flags = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    crop = cv2.warpAffine(near, np.c_[matrix, shift - (left, top)], (_INPUT, _INPUT), flags=flags)
    said = look(_NETWORK, crop.astype(f32) / f32(255))
    if said is None:
        return None
    flat = next(plane for plane in said if plane.size == 3 * _POINTS).reshape(_POINTS, 3)
    logit = float(next(plane for plane in said if plane.size == 1).ravel()[0])
    xy = flat[:, :2] @ matrix.T + shift
    points = np.column_stack([xy, flat[:, 2] * (side / _INPUT)]).astype(f32)
    return Mesh(points, float(1 / (1 + np.exp(-np.clip(logit, -50, 50)))))


def meshed(rgb: Byte, window: Window) -> Mesh | None:
    """The points of the face in a window of a picture (h, w, 3); None where the network is not installed. About 12 ms."""
    first = _looked(rgb, np.array([window.x, window.y]), _FIRST * window.width, window.turn)
    if first is None:
        return None
    xy = first.points[:, :2]
    across = xy[_EYE_RIGHT] - xy[_EYE_LEFT]
    low, high = xy.min(0), xy.max(0)
    side = _SECOND * float((high - low).max())
    if not 2 < side < 8 * window.width:
        return first
    second = _looked(rgb, (low + high) / 2, side, float(np.arctan2(across[1], across[0])))
    return second if second is not None and second.sure >= first.sure - _WORSE else first
