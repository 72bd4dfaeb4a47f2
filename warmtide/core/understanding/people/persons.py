"""Where persons are: a small network looks at the picture, and another at what it found, mirrored and cropped.

They answer for persons, and often for animals too; what only one of them sees is not believed.

Sources
-------
1. K. He, J. Sun, X. Tang, "Guided image filtering", 2013 (edges of the mask on those of the picture).
"""

from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Byte, Float, f32
from ...maths.colour import bytes_to_lab
from ...maths.edge_aware import guided_plane
from ...maths.steps import smoothstep
from ...model.face import Face
from ..networks import look
from .features import OVAL
from .outlines import filled

_FINE, _QUICK = "selfie_segmentation/selfie_segmentation", "selfie_segmentation/selfie_segmentation_landscape"
_SIZES = {_FINE: (256, 256), _QUICK: (256, 144)}
# Less of the picture than this is nobody; an island below this share of the largest does not widen the crop.
_LEAST, _ISLAND = 0.002, 0.1
# The crop around a person, wider by this on each side.
_WIDER = 0.22
# A person that covers less than this of the picture is seen better in the crop.
_SMALL = 0.35
# How much the first look counts beside the second, which is finer.
_FIRST = 0.3
# Agreement of the two looks from which a person without a face is believed, and from which wholly.
_BELIEVED, _SURE = 0.5, 0.7
# The picture is looked at anew around a face below this share of the long side.
_SMALL_FACE = 1 / 4.5
# A piece below this share of the largest, on which no face lies, is no person.
_STRAY = 0.12
# The mask's soft edge, as the network's odds.
_EDGE = (0.35, 0.70)


@dataclass(frozen=True, eq=False)
class Persons:
    """`odds` (h, w) that a pixel belongs to a person or an animal; `agreed` 0..1 how alike the two looks are.

    Persons with a face have .75 to .98, an animal .4 to .9, a red cup .7, textures up to .3.
    """

    odds: Float
    agreed: float


def _asked(rgb: Byte, network: str, mirrored: bool = False) -> Float | None:
    height, width = rgb.shape[:2]
    method = cv2.INTER_AREA if max(height, width) > 256 else cv2.INTER_LINEAR
    small = cv2.resize(rgb, _SIZES[network], interpolation=method)
    said = look(network, (small[:, ::-1] if mirrored else small).astype(f32) / f32(255))
    if said is None:
        return None
    odds = np.ascontiguousarray(said[0][0, 0][:, ::-1] if mirrored else said[0][0, 0])
    return cv2.resize(odds, (width, height), interpolation=cv2.INTER_LINEAR)


def _square_around(found: Float) -> tuple[int, int, int, int] | None:
    """Left, top, right and bottom of a crop around what was found, square where the picture allows it."""
    height, width = found.shape
    likely = found > 0.5
    _, parts, sizes, _ = cv2.connectedComponentsWithStats(likely.astype(np.uint8))
    large = sizes[:, 4] >= _ISLAND * sizes[1:, 4].max()
    likely = large[parts] & likely
    columns, rows = np.flatnonzero(likely.sum(0) > 0.01 * height), np.flatnonzero(likely.sum(1) > 0.01 * width)
    if not len(columns) or not len(rows):
        return None
    more_x, more_y = _WIDER * (columns[-1] - columns[0] + 1), _WIDER * (rows[-1] - rows[0] + 1)
    left, right = max(0, int(columns[0] - more_x)), min(width, int(columns[-1] + more_x + 1))
    top, bottom = max(0, int(rows[0] - more_y)), min(height, int(rows[-1] + more_y + 1))
    side = max(right - left, bottom - top)
    if right - left < side:
        left = int(np.clip((left + right - side) // 2, 0, max(0, width - side)))
        right = min(width, left + side)
    if bottom - top < side:
        top = int(np.clip((top + bottom - side) // 2, 0, max(0, height - side)))
        bottom = min(height, top + side)
    return left, top, right, bottom


def find_persons(rgb: Byte, quick: bool = False) -> Persons | None:
    """Where persons are in a picture (h, w, 3), or None where the networks are not installed.

    55 ms; where there is nobody, 20. `quick` looks twice with the coarser network, where a face says that there is
    somebody: 38 ms.
    """
    first = _asked(rgb, _QUICK)
    if first is None:
        return None
    nobody = Persons(np.zeros(rgb.shape[:2], f32), 0.0)
    crop = _square_around(first) if float((first > 0.5).mean()) >= _LEAST else None
    if crop is None:
        return nobody
    left, top, right, bottom = crop
    near = rgb[top:bottom, left:right]
    side = max(near.shape[:2])
    square = np.zeros((side, side, 3), np.uint8)
    y, x = (side - near.shape[0]) // 2, (side - near.shape[1]) // 2
    square[y : y + near.shape[0], x : x + near.shape[1]] = near
    again = _asked(square, _QUICK if quick else _FINE, mirrored=True)
    second = np.zeros_like(first)
    if again is not None:
        second[top:bottom, left:right] = again[y : y + near.shape[0], x : x + near.shape[1]]
    agreed = float(np.minimum(first, second).sum() / max(float(np.maximum(first, second).sum()), 1e-6))
    if (right - left) * (bottom - top) < _SMALL * first.size:
        odds = second * np.clip(cv2.blur(first, (15, 15)) * 4, 0, 1)
    else:
        odds = _FIRST * first + (1 - _FIRST) * second
    return Persons(odds.astype(f32), agreed)


def _around_faces(rgb: Byte, faces: tuple[Face, ...], odds: Float) -> None:
    """Look again around each small face, whose person the whole picture showed too small to see."""
    height, width = odds.shape
    long_side = max(height, width)
    for face in faces:
        size = face.width * long_side
        if face.width > _SMALL_FACE:
            continue
        lean = np.deg2rad(face.angle)
        cx, cy = face.x * long_side - 0.9 * size * np.sin(lean), face.y * long_side + 0.9 * size * np.cos(lean)
        left, right = (int(np.clip(cx + s * 2 * size, 0, width)) for s in (-1, 1))
        top, bottom = (int(np.clip(cy + s * 2 * size, 0, height)) for s in (-1, 1))
        if min(right - left, bottom - top) < 16:
            continue
        seen = _asked(rgb[top:bottom, left:right], _FINE)
        if seen is None:
            continue
        ys, xs = np.mgrid[top:bottom, left:right].astype(f32)
        near = np.exp(-((np.hypot(xs - f32(cx), ys - f32(cy)) / f32(1.5 * size)) ** 4))
        part = odds[top:bottom, left:right]
        np.maximum(part, seen * near, out=part)


def person_mask(rgb: Byte, faces: tuple[Face, ...] = (), known: Persons | None = None) -> Float:
    """How much of each pixel belongs to a person, (h, w) 0..1, edges on the picture's edges. .1 s at 512 px.

    Parameters
    ----------
    faces : where faces are, which are persons in any case. known : what `find_persons` found, if it is known.
    """
    height, width = rgb.shape[:2]
    persons = known or find_persons(rgb)
    odds = np.zeros((height, width), f32)
    trust = 0.0 if persons is None else 1.0 if faces else float(smoothstep(_BELIEVED, _SURE, persons.agreed))
    if persons is not None and trust > 0:
        odds = persons.odds * f32(trust)
        _around_faces(rgb, faces, odds)
    for face in faces:
        if face.points is not None:
            ring = face.points.places[list(OVAL), :2] * max(height, width)
            np.maximum(odds, filled((height, width), [ring]), out=odds)
    if not odds.any():
        return odds
    light = np.ascontiguousarray(bytes_to_lab(rgb)[..., 0])
    radius = max(2, max(height, width) // 100)
    return _without_strays(smoothstep(*_EDGE, guided_plane(light, odds, radius, 4e-4)).astype(f32), faces)


def _without_strays(mask: Float, faces: tuple[Face, ...]) -> Float:
    """A mask without small pieces that no face lies on: lanterns, fruit, reflections."""
    count, parts, sizes, _ = cv2.connectedComponentsWithStats((mask > 0.5).astype(np.uint8))
    if count < 3:
        return mask
    kept = sizes[:, 4] >= _STRAY * sizes[1:, 4].max()
    height, width = mask.shape
    for face in faces:
        x, y = face.x * max(mask.shape), face.y * max(mask.shape)
        kept[parts[min(max(int(y), 0), height - 1), min(max(int(x), 0), width - 1)]] = True
    kept[0] = False
    near = cv2.dilate(kept[parts].astype(np.uint8), np.ones((7, 7), np.uint8)) > 0
    return np.where(near, mask, 0).astype(f32)
