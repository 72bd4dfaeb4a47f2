"""What a picture is about is painted a second time with finer tools, and its faces a third; each is laid in with a soft rim."""

from collections.abc import Callable
from typing import TYPE_CHECKING

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.steps import smoothstep
from ...model.face import Face
from ...understanding.faces import face_mask

if TYPE_CHECKING:
    from ...model.sitting import Sitting

    Painter = Callable[[Float, Sitting], Float]

# The square around a face: at least this many of its widths, and this share of the short side.
_WIDTHS, _SHARE = 1.9, 0.36
_LEAST_WIDTH = 0.05
# Features are brought out before painting: local contrast, and a little chroma.
_CONTRAST, _CHROMA = 0.55, 0.2


# Marks on what a picture is about, as a share of those on the rest; where the map is laid in, from and wholly.
_FINER = 0.58
_RIM = (0.25, 0.65)
_THERE, _MARGIN = 0.2, 0.04
# A subject that covers more than this of the picture is the picture.
_ALL = 0.85


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


def painted_by_parts(paint: "Painter", lab: Float, sitting: "Sitting", tone: float) -> Float:
    """Paint a picture, what it is about again with finer marks, and its faces with the finest.

    Parameters
    ----------
    tone : how far the broad tone of the first painting wins inside a face, 0..1.
    """
    out = paint(lab, sitting)
    if sitting.subject is not None:
        _with_subject(paint, lab, sitting, out)
    if sitting.faces:
        _with_faces(paint, lab, sitting, tone, out)
    return out


def _box_of(plane: Float, margin: int) -> tuple[slice, slice] | None:
    """Rows and columns around all that is more than a little of a plane; None where that is nothing."""
    rows, columns = np.flatnonzero(plane.max(1) > _THERE), np.flatnonzero(plane.max(0) > _THERE)
    if not len(rows) or not len(columns):
        return None
    height, width = plane.shape
    return (
        slice(max(int(rows[0]) - margin, 0), min(int(rows[-1]) + margin + 1, height)),
        slice(max(int(columns[0]) - margin, 0), min(int(columns[-1]) + margin + 1, width)),
    )


def _with_subject(paint: "Painter", lab: Float, sitting: "Sitting", out: Float) -> None:
    """What the picture is about, painted again with finer marks, into `out`."""
    plane = sitting.subject
    if plane is None or float(plane.mean()) > _ALL:
        return
    box = _box_of(plane, round(_MARGIN * min(plane.shape)))
    if box is None:
        return
    rows, columns = box
    near = np.ascontiguousarray(lab[rows, columns])
    share = smoothstep(*_RIM, plane[rows, columns])[..., None]
    painted = paint(near, sitting.finer(_FINER, rows, columns))
    part = out[rows, columns]
    part += share * (painted - part)


def _with_faces(paint: "Painter", lab: Float, sitting: "Sitting", tone: float, out: Float) -> None:
    """Faces painted again at a larger size, into `out`; `tone` as in `painted_by_parts`."""
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
        within = face.within(left / long_side, top / long_side, side / long_side)
        painted = paint(np.ascontiguousarray(enlarged), sitting.closer(larger, within))
        painted = cv2.resize(painted, (side, side), interpolation=cv2.INTER_AREA)
        below = np.ascontiguousarray(out[rows, columns])
        if tone:
            reach = 0.35 * size
            painted = painted + f32(tone) * (quick_blur(below, reach) - quick_blur(painted, reach))
        out[rows, columns] = below + mask[..., None] * (painted - below)
