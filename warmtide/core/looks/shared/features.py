"""What a draughtsman draws of a face: brows, lashes, nostrils, the line between the lips; no borders of light.

Sources
-------
1. H. Winnemoeller, J. Kyprianidis, S. Olsen, "XDoG: an extended difference-of-Gaussians compendium", 2012 (ink as a
   soft step of the difference).
2. L. Farkas, "Anthropometry of the head and face", 1994 (where features lie in a frontal face).
"""

import math
from dataclasses import dataclass

import cv2
import numpy as np

from ...maths.arrays import Float, f32
from ...maths.blur import quick_blur
from ...maths.steps import smoothstep
from ...model.face import Face
from ...understanding.people.features import BROWS, EYES, LIPS, NOSTRILS

# Everything below is in widths of the face, from its middle, across and down.
_FINE, _BROAD = 0.012, 0.050
# Each eye with its brow, the foot of the nose, the mouth: middle, reach across and down, and how readily ink is laid there.
_PLACES = (
    (-0.21, -0.15, 0.18, 0.155, 1.25),
    (0.21, -0.15, 0.18, 0.155, 1.25),
    (0.0, 0.12, 0.20, 0.09, 1.0),
    (0.0, 0.27, 0.30, 0.12, 1.0),
)
_ELSEWHERE = 0.32
# Skin from the brows to the chin: middle, and half of its extent.
_CORE = (0.0, 0.17, 0.44, 0.46)
# Darker than what is around it by this share of the face's own contrast is ink, and how softly that is cut.
_INK, _SOFT = 0.13, 0.03


@dataclass(frozen=True)
class Features:
    """A face's drawn features.

    Attributes
    ----------
    ink : (h, w) 0..1. core : (h, w) 1 on the skin between brows and chin, where nothing else is to be drawn, soft
    at its rim.
    """

    ink: Float
    core: Float


def _places_of(face: Face) -> tuple[tuple[float, float, float, float, float], ...]:
    """Where ink is laid in a face: around its own features where they are known, else where a frontal face has them."""
    if face.points is None:
        return _PLACES
    lean = math.radians(face.angle)
    away = (face.points.places[:, :2] - (face.x, face.y)) / face.width
    own = np.column_stack([away @ (math.cos(lean), math.sin(lean)), away @ (-math.sin(lean), math.cos(lean))])
    groups = [(*EYES[i][0], *EYES[i][1], *BROWS[i][0], *BROWS[i][1]) for i in range(2)] + [
        NOSTRILS,
        (*LIPS[0], *LIPS[1]),
    ]
    found = []
    for group, (_, _, across, down, most) in zip(groups, _PLACES, strict=True):
        x, y = own[list(group)].mean(0)
        found.append((float(x), float(y), across, down, most))
    return tuple(found)


def features(lab: Float, face: Face, size: tuple[int, int] | None = None) -> Features:
    """The drawn features of one face of an OKLab picture (h, w, 3). About 27 ms at 512 px, 65 with ink three times as large.

    Parameters
    ----------
    face : as it lies in this picture. size : (width, height) at which ink is wanted, by default the picture's.
    """
    height, width = lab.shape[:2]
    long_side = max(height, width)
    wide, lean = face.width * long_side, math.radians(face.angle)
    ys, xs = np.mgrid[0:height, 0:width].astype(f32)
    dx, dy = (xs - f32(face.x * long_side)) / f32(wide), (ys - f32(face.y * long_side)) / f32(wide)
    u, v = dx * math.cos(lean) + dy * math.sin(lean), dy * math.cos(lean) - dx * math.sin(lean)
    x, y, across, down = _CORE
    within = np.hypot((u - x) / across, (v - y) / down).astype(f32)
    light = np.ascontiguousarray(lab[..., 0])
    fine = quick_blur(light, _FINE * wide)
    inside = fine[within < 1]
    if inside.size < 16:
        nothing = np.zeros((size[1], size[0]) if size else (height, width), f32)
        return Features(nothing, nothing.copy())
    low, high = np.percentile(inside, (5, 95))
    darker = (quick_blur(light, _BROAD * wide) - fine) / f32(max(high - low, 0.02))
    ready = np.full((height, width), _ELSEWHERE, f32)
    for a, b, c, d, most in _places_of(face):
        near = np.exp(-((((u - a) / c) ** 2 + ((v - b) / d) ** 2) ** 2))
        np.maximum(ready, _ELSEWHERE + (most - _ELSEWHERE) * near, out=ready)
    drawn = (darker * ready).astype(f32)
    core = (1 - smoothstep(0.85, 1.15, within)).astype(f32)
    half = _SOFT
    if size:
        # Ink is cut after enlarging, and the harder, so that it is as sharp as the sheet is large.
        drawn, core = (cv2.resize(plane, size, interpolation=cv2.INTER_CUBIC) for plane in (drawn, core))
        half = _SOFT * width / size[0]
    return Features(smoothstep(_INK - half, _INK + half, drawn).astype(f32), np.clip(core, 0, 1))
