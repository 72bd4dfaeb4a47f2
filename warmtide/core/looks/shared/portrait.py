"""A face is painted a second time with finer tools, and laid into the picture through a soft oval."""

from collections.abc import Callable
from dataclasses import replace
from typing import TYPE_CHECKING

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...model.face import Face
from ...understanding.faces import face_mask

if TYPE_CHECKING:
    from ...model.sitting import Sitting

# The square around a face: at least this many of its widths, and this share of the short side.
_WIDTHS, _SHARE = 1.9, 0.36
_LEAST_WIDTH = 0.05
# Features are brought out before painting: local contrast, and a little chroma.
_CONTRAST, _CHROMA = 0.55, 0.2


def square_around(face: Face, height: int, width: int) -> tuple[int, int, int] | None:
    """Left, top and side of the square around a face that is painted again, or None where it would be the whole
    picture."""
    short, long_side = min(height, width), max(height, width)
    size = face.width * long_side
    side = int(max(_WIDTHS * size, _SHARE * short))
    if side >= 0.92 * short or size < _LEAST_WIDTH * short:
        return None
    left = int(np.clip(face.x * long_side - side / 2, 0, width - side))
    top = int(np.clip(face.y * long_side - side / 2, 0, height - side))
    return left, top, side


def with_faces(paint: "Callable[[Float, Sitting], Float]", lab: Float, sitting: "Sitting", tone: float) -> Float:
    """Paint a picture, and its faces again at a larger size.

    Parameters
    ----------
    tone : how far the broad tone of the first painting wins inside a face, 0..1.
    """
    out = paint(lab, sitting)
    height, width = lab.shape[:2]
    short, long_side = min(height, width), max(height, width)
    for face in sitting.faces:
        square = square_around(face, height, width)
        if square is None:
            continue
        left, top, side = square
        rows, columns = slice(top, top + side), slice(left, left + side)
        mask = face_mask((face,), height, width)[rows, columns]
        near = lab[rows, columns].copy()
        size = face.width * long_side
        light = np.ascontiguousarray(near[..., 0])
        near[..., 0] = np.clip(light + f32(_CONTRAST) * mask * (light - quick_blur(light, 0.085 * size)), 0, 1)
        near[..., 1:] *= (1 + f32(_CHROMA) * mask)[..., None]
        larger = min(short, round(2.6 * side))
        enlarged = cv2.resize(near, (larger, larger), interpolation=cv2.INTER_CUBIC)
        within = replace(
            face, x=(face.x * long_side - left) / side, y=(face.y * long_side - top) / side, width=size / side
        )
        painted = paint(np.ascontiguousarray(enlarged), sitting.closer(larger, within))
        painted = cv2.resize(painted, (side, side), interpolation=cv2.INTER_AREA)
        below = np.ascontiguousarray(out[rows, columns])
        if tone:
            reach = 0.35 * size
            painted = painted + f32(tone) * (quick_blur(below, reach) - quick_blur(painted, reach))
        out[rows, columns] = below + mask[..., None] * (painted - below)
    return out
